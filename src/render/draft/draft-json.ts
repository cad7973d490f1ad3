import * as z from 'zod';
import { positionOf } from '../../core/internal.js';
import { jsonText } from '../json.js';
import { otherwiseIn, type ShownDraft } from './draft-text.js';

/** A recorded step that comes out otherwise. */
export const otherwise = z.strictObject({
  walk: z.string(),
  step: z.int(),
  does: z.string(),
  differences: z.array(z.string()),
});

/** `cavrin draft --format json`. */
export const draftFormat = z.strictObject({
  format: z.literal('cavrin/draft'),
  version: z.literal(1),
  files: z.array(z.string()),
  guesses: z.array(z.strictObject({ line: z.int(), text: z.string() })),
  notes: z.array(z.string()),
  faults: z.array(z.strictObject({ code: z.string(), message: z.string() })),
  otherwise: z.array(otherwise),
  totals: z.strictObject({ pages: z.int(), accounts: z.int(), walks: z.int(), steps: z.int() }),
});

/** What was drafted, for programs. */
export function draftJson({ files, pages, accounts, faults, guesses, notes, results }: ShownDraft): string {
  const value: z.infer<typeof draftFormat> = {
    format: 'cavrin/draft',
    version: 1,
    files: files.map(({ name }) => name),
    guesses: guesses.map(({ text, place }) => ({ line: positionOf(place.source, place.start).line, text })),
    notes: [...notes],
    faults: faults.map(({ code, message }) => ({ code, message })),
    otherwise: otherwiseIn(results).map((each) => ({ ...each, differences: [...each.differences] })),
    totals: {
      pages,
      accounts,
      walks: results.length,
      steps: results.reduce((sum, { steps }) => sum + steps.length, 0),
    },
  };
  return jsonText(value);
}
