import * as z from 'zod';
import {
  positionOf,
  worstOf,
  type OutcomeDiff,
  type Path,
  type Sides,
  type YamlText,
} from '../../core/internal.js';
import { jsonText } from '../json.js';
import { goalWords } from '../proof-words.js';
import { actionWords } from '../step-words.js';
import { lineOf, valueWords, type Compared } from './diff-words.js';

const direction = z.enum(['loosens', 'tightens', 'changes']);
const line = z.int().nullable();
const oneSided = z.array(z.strictObject({ state: z.string(), opens: z.array(z.string()) }));
const verdict = z.enum(['holds', 'broken', 'not-settled']).nullable();
const found = z.array(z.strictObject({ code: z.string(), severity: z.string(), message: z.string(), line }));
/** Seconds; `no-limit`; null where the policy hands out nothing of the kind. */
const bound = z.union([z.int(), z.literal('no-limit')]).nullable();

/** `cavrin diff --format json`. */
export const diffFormat = z.strictObject({
  format: z.literal('cavrin/diff'),
  version: z.literal(2),
  before: z.string(),
  after: z.string(),
  worst: z.enum(['widened', 'loosened', 'changed', 'same']),
  /** Cells that were compared. */
  compared: z.int(),
  onlyBefore: oneSided,
  onlyAfter: oneSided,
  changes: z.array(
    z.strictObject({
      /** null: the same for reading and writing. */
      method: z.string().nullable(),
      page: z.string(),
      state: z.string(),
      before: z.string().nullable(),
      after: z.string().nullable(),
      kind: z.enum(['widened', 'narrowed', 'moved']),
    }),
  ),
  settings: z.array(
    z.strictObject({
      setting: z.string(),
      direction,
      before: z.string(),
      after: z.string(),
      lineBefore: line,
      lineAfter: line,
    }),
  ),
  /** null where laws and promises were not compared. */
  verdicts: z
    .array(
      z.strictObject({
        goal: z.string(),
        direction,
        before: verdict,
        after: verdict,
        /** The walks of each way in which it is broken now and was not. */
        ways: z.array(
          z.strictObject({
            seen: z.string(),
            steps: z.array(z.strictObject({ browser: z.string(), action: z.string() })),
          }),
        ),
      }),
    )
    .nullable(),
  bounds: z
    .array(
      z.strictObject({ credential: z.string(), since: z.string(), direction, before: bound, after: bound }),
    )
    .nullable(),
  findings: z.strictObject({ found, gone: found }),
});
export type DiffJson = z.infer<typeof diffFormat>;

/** How two policies differ, in the format `cavrin/diff`. */
export function diffJson({ names, inputs, diff, outcome }: Compared): string {
  const lineIn = (at: Sides<Path | null>, side: keyof Sides<YamlText>) => {
    const path = at[side];
    return path === null ? null : lineOf(path, inputs[side]);
  };
  const json: DiffJson = {
    format: 'cavrin/diff',
    version: 2,
    before: names.before,
    after: names.after,
    worst: worstOf(diff, outcome),
    compared: diff.compared,
    onlyBefore: diff.onlyBefore.map(({ state, opens }) => ({ state, opens: [...opens] })),
    onlyAfter: diff.onlyAfter.map(({ state, opens }) => ({ state, opens: [...opens] })),
    changes: diff.changes.map((change) => ({ ...change })),
    settings: diff.settings.map(({ name, direction: way, before, after, at }) => ({
      setting: name,
      direction: way,
      before: valueWords(before),
      after: valueWords(after),
      lineBefore: lineIn(at, 'before'),
      lineAfter: lineIn(at, 'after'),
    })),
    verdicts:
      outcome.verdicts?.map(({ goal, direction: way, before, after, ways }) => ({
        goal: goalWords(goal),
        direction: way,
        before: before === 'open' ? 'not-settled' : before,
        after: after === 'open' ? 'not-settled' : after,
        ways: ways.map(({ seen, steps }) => ({
          seen,
          steps: steps.map((step) => ({ browser: step.browser, action: actionWords(step) })),
        })),
      })) ?? null,
    bounds:
      outcome.bounds?.map(({ credential, event, direction: way, before, after }) => ({
        credential,
        since: event,
        direction: way,
        before: before && (before.ends ?? 'no-limit'),
        after: after && (after.ends ?? 'no-limit'),
      })) ?? null,
    findings: { found: outcome.found.map(foundJson), gone: outcome.gone.map(foundJson) },
  };
  return jsonText(json);
}

function foundJson({ code, severity, message, place }: OutcomeDiff['found'][number]) {
  return { code, severity, message, line: place && positionOf(place.source, place.start).line };
}
