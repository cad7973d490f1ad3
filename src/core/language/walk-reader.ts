import { encodedReference } from '../http/address.js';
import type { Expectations, Step, Walk } from '../walks/walk.js';
import { readAction, type Verb } from './action-reader.js';
import { reportIssues } from './issues.js';
import type { Policy } from './policy.js';
import { problem, type Report } from './problems.js';
import {
  checkAccount,
  checkPage,
  newMemory,
  readClient,
  type WalkMemory,
  type WalkScope,
} from './walk-names.js';
import {
  EXPECTATIONS,
  VERBS,
  stepSchema,
  walkFileSchema,
  walksSchema,
  type StepText,
  type WalkText,
} from './walk-schema.js';
import type { Path, YamlText } from './yaml-text.js';

const VERB_NAMES = Object.keys(VERBS) as Verb[];

/** Reads the walks that stand in a policy under `walks:`. */
export function readPolicyWalks(input: YamlText, policy: Policy | null, report: Report): Walk[] {
  const value = (input.value as { walks?: unknown } | null)?.walks;
  if (value === undefined) return [];
  const read = walksSchema.safeParse(value);
  if (read.success) return resolveWalks(read.data, { input, policy, report });
  const inside = read.error.issues.map((issue) => ({ ...issue, path: ['walks', ...issue.path] }));
  reportIssues(inside, input, report);
  lookIntoSteps(value, { input, policy, report });
  return [];
}

/** Reads a file of walks. Without a policy only their form can be judged, not the names in them. */
export function readWalkFile(input: YamlText, policy: Policy | null, report: Report): Walk[] {
  if (input.value === null) {
    report(problem('empty-file', { expects: 'walks: and a list of walks' }, input.placeOf([])));
    return [];
  }
  const read = walkFileSchema.safeParse(input.value);
  if (read.success) return resolveWalks(read.data.walks, { input, policy, report });
  reportIssues(read.error.issues, input, report);
  lookIntoSteps((input.value as { walks?: unknown }).walks, { input, policy, report });
  return [];
}

/** Reports what is wrong with the names in those steps that have their form, in walks of which others have not. */
function lookIntoSteps(walks: unknown, given: Omit<WalkScope, keyof WalkMemory>): void {
  if (!Array.isArray(walks)) return;
  for (const [index, walk] of (walks as readonly unknown[]).entries()) {
    const steps = typeof walk === 'object' ? (walk as { steps?: unknown } | null)?.steps : null;
    if (!Array.isArray(steps)) continue;
    const scope = { ...given, ...newMemory() };
    for (const [number, step] of (steps as readonly unknown[]).entries()) {
      const read = stepSchema.safeParse(step);
      if (read.success) readStep(read.data, ['walks', index, 'steps', number], scope);
    }
  }
}

function resolveWalks(walks: readonly WalkText[], scope: Omit<WalkScope, keyof WalkMemory>): Walk[] {
  return walks.map((walk, index) => {
    const at: Path = ['walks', index];
    const own = { ...scope, ...newMemory() };
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
  const verbs = VERB_NAMES.filter((verb) => text[verb] !== undefined);
  const [verb] = verbs;
  if (verb === undefined || verbs.length > 1) {
    const place = scope.input.placeOf(at);
    scope.report(
      verb === undefined
        ? problem('no-step', { verbs: VERB_NAMES }, place)
        : problem('two-steps', { verbs }, place),
    );
    return null;
  }
  // What the step does comes first: an account that it makes may be expected of it.
  const action = readAction(verb, text, at, scope);
  const expects = readExpectations(text, at, scope);
  if (ASKS_NOTHING.has(verb)) refuseExpectations(verb, text, at, scope);
  refuseFrom(verb, text, at, scope);
  requireSection(verb, at, scope);
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

function readExpectations(text: StepText, at: Path, scope: WalkScope): Expectations {
  const seenAs = text['seen-as'] ?? null;
  if (seenAs !== null && seenAs !== 'guest') checkAccount(seenAs, [...at, 'seen-as'], scope);
  return {
    lands: text.lands === undefined ? null : encodedReference(text.lands),
    status: text.status ?? null,
    seenAs,
    why: text.why ?? null,
    via: text.via?.map(encodedReference) ?? null,
    session: text.session ?? null,
    refreshes: text.refreshes ?? null,
    shows: text.shows?.map(encodedReference) ?? null,
    hides: text.hides?.map(encodedReference) ?? null,
    holds: text.holds ?? null,
    lacks: text.lacks ?? null,
    reaches: text.reaches?.map((path, index) => checkPage(path, [...at, 'reaches', index], scope)) ?? null,
  };
}

/** Steps after which nothing was asked of the app, so that only what browser and app hold can be told. */
const ASKS_NOTHING = new Set<Verb>([
  ...([
    'wait',
    'new-tab',
    'close-tab',
    'close-browser',
    'open-browser',
    'clear-cookies',
    'copy',
    'plant',
  ] as const),
  ...(['restart-app', 'suspend', 'delete-account', 'set-roles', 'set-password'] as const),
]);
const HELD = new Set(['session', 'holds', 'lacks', 'reaches']);

function refuseExpectations(verb: Verb, text: StepText, at: Path, scope: WalkScope): void {
  for (const key of Object.keys(EXPECTATIONS) as (keyof typeof EXPECTATIONS)[]) {
    if (HELD.has(key) || text[key] === undefined) continue;
    scope.report(problem('cannot-be-expected', { key, verb }, scope.input.placeOfKey(at, key)));
  }
}

function refuseFrom(verb: Verb, text: StepText, at: Path, scope: WalkScope): void {
  if (text.from === undefined || verb === 'visit' || verb === 'send' || verb === 'login') return;
  const says = 'only visit, send and login can start on another site';
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOfKey(at, 'from')));
}

/** What a policy must have for a step to be possible. */
const NEEDS = {
  login: ['login', 'login', 'this step logs in'],
  logout: ['logout', 'logout', 'this step logs out'],
  'sign-up': ['signUp', 'sign-up', 'this step signs up'],
  confirm: ['confirm', 'confirm', 'this step confirms an account'],
  code: ['secondFactor', 'second-factor', 'this step gives a code'],
} as const;

function requireSection(verb: Verb, at: Path, scope: WalkScope): void {
  if (!(verb in NEEDS) || scope.policy === null) return;
  const [key, section, because] = NEEDS[verb as keyof typeof NEEDS];
  if (scope.policy[key] !== null) return;
  scope.report(problem('missing-section', { section, because }, scope.input.placeOfKey(at, verb)));
}
