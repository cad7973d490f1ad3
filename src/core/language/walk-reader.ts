import { parseUrl } from '../http/address.js';
import { parseNetwork } from '../http/client-address.js';
import type { Action, Expectations, Step, Wait, Walk } from '../walks/walk.js';
import { reportIssues } from './issues.js';
import { addressFault, checkName, type Scope } from './name-reader.js';
import type { Policy } from './policy.js';
import { problem, type Report } from './problems.js';
import { nearest } from './suggestions.js';
import {
  EXPECTATIONS,
  VERBS,
  stepSchema,
  walkFileSchema,
  walksSchema,
  type StepText,
} from './walk-schema.js';
import type { Path, YamlText } from './yaml-text.js';

type Verb = keyof typeof VERBS;
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
function lookIntoSteps(walks: unknown, given: Omit<WalkScope, 'signedUp'>): void {
  if (!Array.isArray(walks)) return;
  for (const [index, walk] of (walks as readonly unknown[]).entries()) {
    const steps = typeof walk === 'object' ? (walk as { steps?: unknown } | null)?.steps : null;
    if (!Array.isArray(steps)) continue;
    const scope = { ...given, signedUp: new Map<string, string>() };
    for (const [number, step] of (steps as readonly unknown[]).entries()) {
      const read = stepSchema.safeParse(step);
      if (read.success) readStep(read.data, ['walks', index, 'steps', number], scope);
    }
  }
}

interface WalkScope extends Scope {
  readonly policy: Policy | null;
  /** Accounts that earlier steps of the walk made, with their passwords. */
  readonly signedUp: Map<string, string>;
}

function resolveWalks(
  walks: { name: string; steps: StepText[] }[],
  scope: Omit<WalkScope, 'signedUp'>,
): Walk[] {
  return walks.map((walk, index) => {
    const at: Path = ['walks', index];
    const own = { ...scope, signedUp: new Map<string, string>() };
    const steps = walk.steps.map((step, number) => readStep(step, [...at, 'steps', number], own));
    return { name: walk.name, input: scope.input, at, steps: steps.filter((step) => step !== null) };
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
  };
}

function readAction(verb: Verb, text: StepText, at: Path, scope: WalkScope): Action {
  switch (verb) {
    case 'visit':
      return {
        verb,
        address: checkAddress(text.visit ?? '', [...at, verb], scope),
        from: readFrom(text.from, [...at, 'from'], scope),
      };
    case 'follow':
      return readFollow(text.follow ?? '', [...at, verb], scope);
    case 'code':
      return { verb, given: text.code ?? 'right' };
    case 'sign-up':
      return readSignUpStep(text['sign-up'], [...at, verb], scope);
    case 'confirm':
      checkAccount(text.confirm ?? '', [...at, verb], scope);
      return { verb, account: text.confirm ?? '' };
    case 'send': {
      const { method = 'GET', target = '/' } = text.send ?? {};
      return {
        verb,
        method,
        address: checkAddress(target, [...at, verb], scope),
        from: readFrom(text.from, [...at, 'from'], scope),
      };
    }
    case 'login':
      return readLoginStep(text.login ?? '', [...at, verb], scope);
    case 'wait':
      return { verb, until: readWait(text.wait ?? 0, [...at, verb], scope) };
    case 'clear-cookies':
      return { verb, name: text['clear-cookies'] ?? null };
    case 'copy': {
      const { what = 'session', to = '' } = text.copy ?? {};
      return { verb, what, to };
    }
    case 'suspend':
    case 'delete-account':
      checkAccount(text[verb] ?? '', [...at, verb], scope);
      return { verb, account: text[verb] ?? '' };
    case 'set-roles': {
      const { as: account = '', roles = [] } = text['set-roles'] ?? {};
      checkAccount(account, [...at, verb, 'as'], scope);
      roles.forEach((role, index) => {
        checkRole(role, [...at, verb, 'roles', index], scope);
      });
      return { verb, account, roles };
    }
    case 'set-password': {
      const { as: account = '', password = '' } = text['set-password'] ?? {};
      checkAccount(account, [...at, verb, 'as'], scope);
      return { verb, account, password };
    }
    default:
      return { verb };
  }
}

function readLoginStep(text: NonNullable<StepText['login']>, at: Path, scope: WalkScope): Action {
  const name = typeof text === 'string' ? text : text.as;
  checkAccount(name, typeof text === 'string' ? at : [...at, 'as'], scope);
  const given = typeof text === 'string' ? undefined : text.password;
  const own = scope.signedUp.get(name) ?? scope.policy?.accounts.get(name)?.password ?? '';
  const role = typeof text === 'string' ? null : (text.role ?? null);
  const remember = typeof text !== 'string' && text.remember === true;
  if (remember) requirePart('remember', [...at, 'remember'], scope);
  if (role !== null) checkRole(role, [...at, 'role'], scope);
  return {
    verb: 'login',
    account: name,
    password: given ?? own,
    passwordGiven: given !== undefined,
    role,
    remember,
  };
}

function checkRole(name: string, at: Path, { policy, input, report }: WalkScope): void {
  if (policy === null || policy.roles.has(name)) return;
  report(problem('unknown-role', { name, near: nearest(name, policy.roles.keys()) }, input.placeOf(at)));
}

function readSignUpStep(text: StepText['sign-up'], at: Path, scope: WalkScope): Action {
  const { as: account = '', password = '' } = text ?? {};
  const place = scope.input.placeOf([...at, 'as']);
  checkName(account, 'account', place, scope.report);
  if (scope.policy?.accounts.has(account) === true || scope.signedUp.has(account)) {
    const says = `there is an account called ${account} already; sign up under another name`;
    scope.report(problem('bad-value', { problem: says }, place));
  }
  scope.signedUp.set(account, password);
  return { verb: 'sign-up', account, password };
}

/** A link is named by its address or its text; either way it must be in the policy's menu. */
function readFollow(name: string, at: Path, scope: WalkScope): Action {
  const menu = scope.policy?.menu ?? [];
  const link = menu.find((each) => each.to === name || each.text === name);
  if (scope.policy !== null && link === undefined) {
    const near = nearest(name, [...menu.map((each) => each.to), ...menu.map((each) => each.text)]);
    scope.report(problem('unknown-link', { name, near }, scope.input.placeOf(at)));
  }
  return { verb: 'follow', to: link?.to ?? name, link: name };
}

function readClient(address: string | undefined, at: Path, scope: WalkScope): string | null {
  if (address === undefined) return null;
  if (parseNetwork(address) === null || address.includes('/')) {
    const says = `${address} is no network address; write one like 10.1.2.3 or 2001:db8::7`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return address;
}

function readWait(text: NonNullable<StepText['wait']>, at: Path, scope: WalkScope): Wait {
  if (typeof text === 'number') return { kind: 'duration', seconds: text };
  const kind = text.past === undefined ? 'short-of' : 'past';
  const deadline = text[kind];
  if (deadline === undefined || (text.past !== undefined && text['short-of'] !== undefined)) {
    const form = 'a wait has one of past and short-of';
    scope.report(problem('bad-value', { problem: form }, scope.input.placeOf(at)));
    return { kind: 'duration', seconds: 0 };
  }
  const { policy } = scope;
  const limits = {
    'session-idle': ['session.idle', policy?.session.idle],
    'session-absolute': ['session.absolute', policy?.session.absolute],
    'access-expiry': ['tokens.access', policy?.tokens?.access.life],
    'refresh-expiry': ['tokens.refresh', policy?.tokens?.refresh?.life],
    'code-expiry': ['second-factor.life', policy?.secondFactor?.life],
    'attempts-pause': ['login.attempts', policy?.login?.attempts?.pause],
    'remember-expiry': ['remember', policy?.remember?.life],
  } as const;
  const [key, limit] = limits[deadline];
  if (scope.policy !== null && (limit ?? null) === null) {
    scope.report(problem('no-deadline', { deadline, key }, scope.input.placeOf([...at, kind])));
  }
  return { kind, deadline };
}

function readExpectations(text: StepText, at: Path, scope: WalkScope): Expectations {
  const seenAs = text['seen-as'] ?? null;
  if (seenAs !== null && seenAs !== 'guest') checkAccount(seenAs, [...at, 'seen-as'], scope);
  return {
    lands: text.lands ?? null,
    status: text.status ?? null,
    seenAs,
    why: text.why ?? null,
    via: text.via ?? null,
    session: text.session ?? null,
    refreshes: text.refreshes ?? null,
    shows: text.shows ?? null,
    hides: text.hides ?? null,
    holds: text.holds ?? null,
    lacks: text.lacks ?? null,
    reaches: text.reaches?.map((path, index) => checkPage(path, [...at, 'reaches', index], scope)) ?? null,
  };
}

/** Steps after which nothing was asked of the app, so that only what browser and app hold can be told. */
const ASKS_NOTHING = new Set<Verb>([
  ...(['wait', 'new-tab', 'close-tab', 'close-browser', 'open-browser', 'clear-cookies', 'copy'] as const),
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
  if (text.from === undefined || verb === 'visit' || verb === 'send') return;
  const says = 'only visit and send can start on another site';
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOfKey(at, 'from')));
}

/** The other site on which a link or a form stands. */
function readFrom(site: string | undefined, at: Path, scope: WalkScope): string | null {
  if (site === undefined) return null;
  const url = parseUrl(site);
  if (url === null || !/^https?:$/.test(url.protocol)) {
    const says = `${site} is no site; write one like https://mail.example`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  } else if (url.origin === scope.policy?.origin) {
    const says = `${site} is the app itself: leave from out`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return site;
}

function checkPage(path: string, at: Path, { policy, input, report }: WalkScope): string {
  const pages = policy?.pages.map((page) => page.pattern.text) ?? [path];
  if (!pages.includes(path)) {
    report(problem('unknown-page-path', { name: path, near: nearest(path, pages) }, input.placeOf(at)));
  }
  return path;
}

/** What a policy must have for a step to be possible. */
const NEEDS = {
  login: ['login', 'login', 'this step logs in'],
  logout: ['logout', 'logout', 'this step logs out'],
  'sign-up': ['signUp', 'sign-up', 'this step signs up'],
  confirm: ['confirm', 'confirm', 'this step confirms an account'],
  code: ['secondFactor', 'second-factor', 'this step gives a code'],
} as const;

function requirePart(section: 'remember', at: Path, scope: WalkScope): void {
  if (scope.policy === null || scope.policy[section] !== null) return;
  const because = 'this step asks to be remembered';
  scope.report(problem('missing-section', { section, because }, scope.input.placeOf(at)));
}

function requireSection(verb: Verb, at: Path, scope: WalkScope): void {
  if (!(verb in NEEDS) || scope.policy === null) return;
  const [key, section, because] = NEEDS[verb as keyof typeof NEEDS];
  if (scope.policy[key] !== null) return;
  scope.report(problem('missing-section', { section, because }, scope.input.placeOfKey(at, verb)));
}

function checkAccount(name: string, at: Path, scope: WalkScope): void {
  const { policy, signedUp } = scope;
  if (policy === null || policy.accounts.has(name) || signedUp.has(name)) return;
  const near = nearest(name, [...policy.accounts.keys(), ...signedUp.keys()]);
  scope.report(problem('unknown-account', { name, near }, scope.input.placeOf(at)));
}

/** An address as somebody types it: in the app, or a whole URL. What is odd in between is the app's to refuse. */
function checkAddress(address: string, at: Path, scope: WalkScope): string {
  const whole = /^https?:\/\//i.test(address) && parseUrl(address) !== null;
  const rooted = address.startsWith('/') && parseUrl(address, 'https://a.example') !== null;
  if (!whole && !rooted) {
    const fault = addressFault(address) ?? 'a browser cannot make an address of it';
    scope.report(problem('bad-path', { path: address, problem: fault }, scope.input.placeOf(at)));
  }
  return address;
}
