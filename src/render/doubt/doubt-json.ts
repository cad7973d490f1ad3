import * as z from 'zod';
import { positionOf, writtenWalkStep } from '../../core/internal.js';
import { jsonText } from '../json.js';
import { scoreOf, type ShownDoubt } from './doubt-text.js';

/** `cavrin doubt --format json`. */
export const doubtFormat = z.strictObject({
  format: z.literal('cavrin/doubt'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  mistakes: z.array(
    z.strictObject({
      where: z.string(),
      what: z.string(),
      line: z.int(),
      noticedBy: z.array(z.string()),
      /** A walk that comes out otherwise, its steps as the language writes them; null where none was looked for or found. */
      walk: z
        .strictObject({
          steps: z.array(z.record(z.string(), z.unknown())),
          before: z.string(),
          after: z.string(),
        })
        .nullable(),
    }),
  ),
  totals: z.strictObject({
    walks: z.int(),
    mistakes: z.int(),
    noticed: z.int(),
    same: z.int(),
    left: z.int(),
  }),
});
type DoubtJson = z.infer<typeof doubtFormat>;

/** Every mistake, and who notices it. */
export function doubtJson(shown: ShownDoubt): string {
  const { app, input, judged, walks, same, left } = shown;
  const { noticed, all } = scoreOf(shown);
  const value: DoubtJson = {
    format: 'cavrin/doubt',
    version: 1,
    app,
    policy: input.source.file,
    mistakes: judged.map(({ where, what, at, by, shows }) => ({
      where,
      what,
      line: positionOf(input.source, input.placeOf(at).start).line,
      noticedBy: [...by],
      walk:
        shows === null
          ? null
          : { steps: shows.steps.map(writtenWalkStep), before: shows.before, after: shows.after },
    })),
    totals: { walks, mistakes: all, noticed, same, left },
  };
  return jsonText(value);
}
