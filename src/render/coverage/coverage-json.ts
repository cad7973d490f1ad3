import * as z from 'zod';
import { positionOf } from '../../core/internal.js';
import { jsonText } from '../json.js';
import type { ShownCoverage } from './coverage-text.js';

/** `cavrin coverage --format json`. */
export const coverageFormat = z.strictObject({
  format: z.literal('cavrin/coverage'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  groups: z.array(
    z.strictObject({
      group: z.string(),
      items: z.array(
        z.strictObject({
          subject: z.string(),
          aspect: z.string(),
          line: z.int().nullable(),
          times: z.int(),
        }),
      ),
    }),
  ),
  totals: z.strictObject({ walks: z.int(), all: z.int(), touched: z.int() }),
});
type CoverageJson = z.infer<typeof coverageFormat>;

/** What walks touch of a policy. */
export function coverageJson({ coverage, app, input, walks }: ShownCoverage): string {
  const lineOf = (at: Parameters<typeof input.placeOf>[0]) =>
    at.length === 0 ? null : positionOf(input.source, input.placeOf(at).start).line;
  const value: CoverageJson = {
    format: 'cavrin/coverage',
    version: 1,
    app,
    policy: input.source.file,
    groups: coverage.groups.map(({ group, items }) => ({
      group,
      items: items.map(({ subject, aspect, at, times }) => ({ subject, aspect, line: lineOf(at), times })),
    })),
    totals: { walks, all: coverage.all, touched: coverage.touched },
  };
  return jsonText(value);
}
