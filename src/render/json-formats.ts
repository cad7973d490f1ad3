import * as z from 'zod';

/** Where something stands, counted from 1; null for what stands in no file. */
const place = z.strictObject({ file: z.string(), line: z.int(), column: z.int() });

/** A diagnostic, as `cavrin check` and bad input give it. */
const finding = z.strictObject({
  code: z.string(),
  severity: z.enum(['error', 'warning', 'advice']),
  message: z.string(),
  place: place.extend({ endLine: z.int(), endColumn: z.int() }).nullable(),
  related: z.array(place.extend({ message: z.string() })),
  hint: z.string().nullable(),
  /** For what a check found: its law, why it matters, and the weakness it is an instance of. */
  check: z.strictObject({ title: z.string(), why: z.string(), cwe: z.string().nullable() }).nullable(),
});

/** `cavrin check --format json`. */
export const findingsFormat = z.strictObject({
  format: z.literal('cavrin/findings'),
  version: z.literal(1),
  findings: z.array(finding),
  totals: z.strictObject({ errors: z.int(), warnings: z.int(), advice: z.int() }),
});
export type FindingsJson = z.infer<typeof findingsFormat>;

const exchange = z.strictObject({
  /** navigate, login, call or refresh. */
  purpose: z.string(),
  method: z.string(),
  target: z.string(),
  status: z.int(),
  location: z.string().nullable(),
  seenAs: z.string(),
  why: z.string(),
});

const step = z.strictObject({
  ...place.shape,
  named: z.string().nullable(),
  browser: z.string(),
  action: z.string(),
  /** Seconds on the virtual clock after the step. */
  time: z.int(),
  lands: z.string().nullable(),
  status: z.int().nullable(),
  seenAs: z.string().nullable(),
  why: z.string().nullable(),
  decidedBy: place.nullable(),
  via: z.array(z.string()),
  session: z.enum(['live', 'none']),
  refreshes: z.int(),
  exchanges: z.array(exchange),
  differences: z.array(z.strictObject({ key: z.string(), expected: z.string(), actual: z.string() })),
  /** Why the step could not be played; null where it could. */
  impossible: z.string().nullable(),
});

/** `cavrin walk --format json`. */
export const walksFormat = z.strictObject({
  format: z.literal('cavrin/walks'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  walks: z.array(
    z.strictObject({ ...place.shape, name: z.string(), passed: z.boolean(), steps: z.array(step) }),
  ),
  totals: z.strictObject({ walks: z.int(), steps: z.int(), failed: z.int() }),
});
export type WalksJson = z.infer<typeof walksFormat>;
