import { wordList } from '../language/text/schema-parts.js';
import { keysOf } from '../vocabulary/tables.js';
import { entriesOf, valueUnder } from '../language/text/plain.js';
import { encodedReference } from '../http/address.js';
import type { Expectations, Step, Walk } from '../steps/walk.js';
import { ANY_STEPS, type Action, type AnyStep } from '../steps/all-steps.js';
import { reportIssues } from '../language/text/issues.js';
import type { Policy } from '../language/policy.js';
import { nearest } from '../language/text/suggestions.js';
import { problem, type Report } from '../language/text/problems.js';
import {
  checkAccount,
  checkPage,
  newMemory,
  readClient,
  readFrom,
  type WalkMemory,
  type WalkScope,
} from '../steps/walk-scope.js';
import {
  EXPECTATIONS,
  stepSchema,
  walkFileSchema,
  walksSchema,
  type StepText,
  type WalkText,
} from './walk-schema.js';
import type { Path, YamlText } from '../language/text/yaml-text.js';

const VERBS = ANY_STEPS.map(({ verb }) => verb);
const SENT_ON = wordList(
  ANY_STEPS.filter(({ takesFrom }) => takesFrom === true).map(({ verb }) => verb),
  'and',
);

/** Reads the walks that stand in a policy under `walks:`. */
export function readPolicyWalks(input: YamlText, policy: Policy | null, report: Report): Walk[] {
  const value = valueUnder(input.value, 'walks');
  if (value === undefined) return [];
  const read = walksSchema.safeParse(value);
  if (read.success) return resolveWalks(read.data, { input, policy, report });
  const inside = read.error.issues.map((issue) => ({ ...issue, path: ['walks', ...issue.path] }));
  reportIssues(inside, input, report);
  lookIntoSteps(value, { input, policy, report });
  return [];
}

/**
 * Reads a file of walks. Without a policy only their form can be judged, not the names in them.
 *
 * @param begin what the steps of each walk may speak of besides; what they make is added to it
 */
export function readWalkFile(
  input: YamlText,
  policy: Policy | null,
  report: Report,
  begin: () => WalkMemory = newMemory,
): Walk[] {
  if (input.value === null) {
    report(problem('empty-file', { expects: 'walks: and a list of walks' }, input.placeOf([])));
    return [];
  }
  const read = walkFileSchema.safeParse(input.value);
  if (read.success) return resolveWalks(read.data.walks, { input, policy, report }, begin);
  reportIssues(read.error.issues, input, report);
  lookIntoSteps(valueUnder(input.value, 'walks'), { input, policy, report });
  return [];
}

/** Reports what is wrong with the names in those steps that have their form, in walks of which others have not. */
function lookIntoSteps(walks: unknown, given: Omit<WalkScope, keyof WalkMemory>): void {
  for (const [index, walk] of entriesOf(walks).entries()) {
    const scope = { ...given, ...newMemory() };
    for (const [number, step] of entriesOf(valueUnder(walk, 'steps')).entries()) {
      const read = stepSchema.safeParse(step);
      if (read.success) readStep(read.data, ['walks', index, 'steps', number], scope);
    }
  }
}

function resolveWalks(
  walks: readonly WalkText[],
  scope: Omit<WalkScope, keyof WalkMemory>,
  begin: () => WalkMemory = newMemory,
): Walk[] {
  return walks.map((walk, index) => {
    const at: Path = ['walks', index];
    const own = { ...scope, ...begin() };
    const steps = walk.steps.map((step, number) => readStep(step, [...at, 'steps', number], own));
    return {
      name: walk.name,
      input: scope.input,
      at,
      steps: steps.filter((step) => step !== null),
      expectBroken: walk['expect-broken'] ?? [],
    };
  });
}

function readStep(text: StepText, at: Path, scope: WalkScope): Step | null {
  const kinds = ANY_STEPS.filter(({ verb }) => text[verb] !== undefined);
  const [kind] = kinds;
  if (kind === undefined || kinds.length > 1) {
    const place = scope.input.placeOf(at);
    scope.report(
      kind === undefined
        ? problem('no-step', { verbs: VERBS }, place)
        : problem('two-steps', { verbs: kinds.map(({ verb }) => verb) }, place),
    );
    return null;
  }
  // What the step does comes first: an account that it makes may be expected of it.
  const action = readAction(kind, text, at, scope);
  const expects = readExpectations(text, at, scope);
  if (kind.asksNothing === true) refuseExpectations(kind.verb, text, at, scope);
  requireSection(kind, at, scope);
  return {
    at,
    action,
    browser: text.in ?? 'browser',
    connectsFrom: readClient(text['connects-from'], [...at, 'connects-from'], scope),
    named: text.named ?? null,
    expects,
    expectBroken: text['expect-broken'] ?? [],
  };
}

function readAction(kind: AnyStep, text: StepText, at: Path, scope: WalkScope): Action {
  const { verb, takesFrom } = kind;
  const from = takesFrom === true ? readFrom(text.from, [...at, 'from'], scope) : null;
  if (takesFrom !== true && text.from !== undefined) {
    const says = `only ${SENT_ON} can start on another site`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOfKey(at, 'from')));
  }
  return kind.read(text[verb], [...at, verb], scope, from);
}

function readExpectations(text: StepText, at: Path, scope: WalkScope): Expectations {
  const seenAs = text['seen-as'] ?? null;
  if (seenAs !== null && seenAs !== 'guest') checkAccount(seenAs, [...at, 'seen-as'], scope);
  const actedBy = text['acted-by'] ?? null;
  if (actedBy !== null && actedBy !== 'nobody') checkAccount(actedBy, [...at, 'acted-by'], scope);
  return {
    lands: text.lands === undefined ? null : encodedReference(text.lands),
    status: text.status ?? null,
    seenAs,
    actedBy,
    why: text.why ?? null,
    via: text.via?.map(encodedReference) ?? null,
    session: text.session ?? null,
    refreshes: text.refreshes ?? null,
    shows: text.shows?.map((name) => readShown(name, [...at, 'shows'], scope)) ?? null,
    hides: text.hides?.map((name) => readShown(name, [...at, 'hides'], scope)) ?? null,
    holds: text.holds ?? null,
    lacks: text.lacks ?? null,
    reaches: text.reaches?.map((path, index) => checkPage(path, [...at, 'reaches', index], scope)) ?? null,
  };
}

/** A link of the menu by its address or its text, or a part of a page by its name. */
function readShown(written: string, at: Path, { policy, input, report }: WalkScope): string {
  if (written.startsWith('/')) return encodedReference(written);
  const { pages = [], menu = [] } = policy ?? {};
  const parts = pages.flatMap((page) => page.parts.map(({ name }) => name));
  if (parts.includes(written)) return written;
  const link = menu.find(({ text }) => text === written);
  if (link === undefined && policy !== null) {
    const near = nearest(written, [...parts, ...menu.map(({ text }) => text)]);
    report(problem('unknown-part', { name: written, near }, input.placeOf(at)));
  }
  return link?.to ?? written;
}

const HELD = new Set(['session', 'holds', 'lacks', 'reaches']);

function refuseExpectations(verb: string, text: StepText, at: Path, scope: WalkScope): void {
  for (const key of keysOf(EXPECTATIONS)) {
    if (HELD.has(key) || text[key] === undefined) continue;
    scope.report(problem('cannot-be-expected', { key, verb }, scope.input.placeOfKey(at, key)));
  }
}

/** What a policy must have for a step to be possible. */
function requireSection({ verb, needs }: AnyStep, at: Path, scope: WalkScope): void {
  if (needs === undefined || scope.policy === null || scope.policy[needs.part] !== null) return;
  const { section, because } = needs;
  scope.report(problem('missing-section', { section, because }, scope.input.placeOfKey(at, verb)));
}
