import { pathOf } from '../app/endpoints.js';
import { Router } from '../app/router.js';
import type { Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { stepWords } from '../steps/all-steps.js';
import type { Walk } from '../steps/walk.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { StepResult } from '../walks/runner.js';
import {
  CLASS_ORDER,
  compareStep,
  expectedSeenAs,
  type DifferenceClass,
  type StepDifference,
} from './compare-step.js';
import { targetIn } from './divergence.js';
import type { Driver } from './drivers.js';
import type { Observed } from './observation.js';
import { menuWords, partAt, partsWords } from './shown-otherwise.js';
import { hasTrait, isPause, requestOf } from '../steps/asking.js';

/** A step as the policy has it, beside what the app did. */
export interface LiveStep {
  readonly result: StepResult;
  readonly seen: Observed;
}

/** A walk as it was played against the app. */
export interface LiveWalk {
  readonly walk: Walk;
  readonly driver: Driver;
  readonly steps: readonly LiveStep[];
  /** Why the rest of the walk was not played; null where all of it was. */
  readonly cut: string | null;
}

/** One place at which a difference shows. */
export interface Showing {
  readonly walk: LiveWalk;
  /** The index of the step. */
  readonly step: number;
  readonly difference: StepDifference;
  /** Later steps of the walk that may follow from it. */
  readonly follow: readonly number[];
}

/** A cause for which the app differs from the policy, with all places at which it shows. */
export interface LiveFinding {
  readonly class: DifferenceClass;
  /** What `accepted` names it by; the same in every run. */
  readonly title: string;
  /** The place of the policy that decides; null where none does. */
  readonly at: Path | null;
  readonly first: Showing;
  readonly also: readonly Showing[];
}

/** Finds why an app differs from its policy: one finding for each cause, what opens more first. */
export function findingsOf(policy: Policy, walks: readonly LiveWalk[]): LiveFinding[] {
  const router = new Router(policy);
  const causes = new Map<string, { readonly cause: Cause; readonly showings: Showing[] }>();
  for (const walk of walks) {
    for (const showing of showingsIn(policy, walk)) {
      const cause = causeOf(policy, router, showing);
      const known = causes.get(cause.title);
      if (known === undefined) causes.set(cause.title, { cause, showings: [showing] });
      else known.showings.push(showing);
    }
  }
  const findings = [...causes.values()].flatMap(({ cause, showings }): LiveFinding[] => {
    const [first, ...also] = showings;
    return first === undefined ? [] : [{ class: cause.class, title: cause.title, at: cause.at, first, also }];
  });
  const rank = ({ class: name }: LiveFinding) => CLASS_ORDER.indexOf(name);
  return findings.sort((a, b) => rank(a) - rank(b) || b.also.length - a.also.length);
}

/** A difference on its way to being told, with what follows from it. */
interface Growing {
  readonly showing: Showing;
  readonly follow: number[];
  readonly browser: string;
}

/** The steps of a walk at which something new differs, each with those that follow from it. */
function showingsIn(policy: Policy, walk: LiveWalk): Showing[] {
  const showings: Growing[] = [];
  let ofState: Growing | null = null;
  const ofPage = new Map<string, Growing>();
  for (const [step, { result, seen }] of walk.steps.entries()) {
    const difference = compareStep(policy, result, seen);
    const { browser, action } = result.step;
    const isQuiet = result.played.exchanges.length === 0;
    if (difference === null) {
      if (ofState?.browser === browser && isTelling(seen, result)) ofState = null;
      if (!isQuiet) ofPage.delete(browser);
      continue;
    }
    const before: Growing | null =
      ofState ?? (isQuiet || hasTrait(action, 'on-page') ? (ofPage.get(browser) ?? null) : null);
    if (before !== null) {
      before.follow.push(step);
      continue;
    }
    const follow: number[] = [];
    const fresh = { showing: { walk, step, difference, follow }, follow, browser };
    showings.push(fresh);
    if (difference.changesState) ofState = fresh;
    if (difference.changesPage) ofPage.set(browser, fresh);
  }
  return showings.map(({ showing }) => withWorst(policy, showing));
}

/** Whether a step that came out as it should tells that app and policy agree again. */
function isTelling(seen: Observed, result: StepResult): boolean {
  const isAsked = result.played.exchanges.length > 0 && !seen.unjudged.has('holds');
  return isAsked && seen.seenAs !== null && expectedSeenAs(result, seen) !== null;
}

/** Where what follows is worse than the first difference, that is what it comes to. */
function withWorst(policy: Policy, showing: Showing): Showing {
  const classes = showing.follow.map((index) => {
    const { result, seen } = showing.walk.steps[index] ?? {};
    return result === undefined || seen === undefined ? null : compareStep(policy, result, seen);
  });
  const opens = classes.some((each) => each?.class === 'opens');
  const isEnd = showing.difference.class === 'holds';
  return opens && isEnd ? { ...showing, difference: { ...showing.difference, class: 'opens' } } : showing;
}

interface Cause {
  readonly class: DifferenceClass;
  readonly title: string;
  readonly at: Path | null;
}

/** Reasons that come with time. */
const OF_TIME: ReadonlySet<string> = new Set([
  'idle-expired',
  'absolute-expired',
  'access-expired',
  'refresh-expired',
]);
/** Reasons that lie with what a visitor holds or gives, and not with the page. */
const OF_CREDENTIALS: ReadonlySet<string> = new Set([
  ...[
    'signed-out',
    'session-lost',
    'refresh-reused',
    'refresh-revoked',
    'wrong-password',
    'locked-out',
    'suspended',
  ],
  ...[
    'unconfirmed',
    'account-gone',
    'code-needed',
    'code-wrong',
    'code-expired',
    'stale-login',
    'csrf-refused',
  ],
]);

/** What a difference comes of. */
function causeOf(policy: Policy, router: Router, { walk, step, difference }: Showing): Cause {
  const { result, seen } = walk.steps[step] ?? {};
  if (result === undefined || seen === undefined) {
    throw new Error('a difference in a step that was not played');
  }
  const { outcome } = result;
  const { class: name, divergence } = difference;
  const reason = divergence?.exchange.explanation.reason ?? outcome.why ?? 'served';
  const at = divergence?.exchange.explanation.decidedBy ?? outcome.decidedBy;
  const asked =
    divergence === null ? askedWords(router, result) : requestWords(router, divergence.exchange.request);
  const has = (aspect: string) => difference.aspects.some((each) => each.aspect === aspect);
  const cause = (title: string, place: Path | null = at): Cause => ({ class: name, title, at: place });
  switch (name) {
    case 'opens': {
      const isLeft =
        divergence === null || (reason === 'guest' && seen.seenAs !== null && seen.seenAs !== 'guest');
      if (OF_TIME.has(reason) || (isLeft && eventBefore(walk, step) === 'a wait')) {
        return cause('a login lasts longer than it should');
      }
      if (OF_CREDENTIALS.has(reason)) return cause(`lets through what is refused as ${reason}`);
      if (isLeft) return cause(`a login outlives ${eventBefore(walk, step)}`, null);
      return cause(`${asked} is open`);
    }
    case 'holds':
      if (divergence !== null || has('seen-as') || has('lands')) {
        return cause(`a login ends with ${eventBefore(walk, step)}`, sectionOf(outcome.holds[0]));
      }
      return cause(heldWords(result, seen), sectionOf(differingIn(result, seen)));
    case 'refuses': {
      if (seen.hindrance !== null) return cause(`${verbOf(result)}: ${seen.hindrance}`);
      const { status = seen.status, location = null } = divergence?.message ?? {};
      return cause(
        `${asked} is refused ${location === null ? `with ${status ?? 'nothing'}` : `by a way to ${shapeOf(router, location, policy)}`}`,
      );
    }
    case 'lands': {
      const [to, expected] =
        divergence === null || divergence.exchange.response.location === null
          ? [seen.lands, outcome.lands]
          : [divergence.message.location, divergence.exchange.response.location];
      const landing = policy.landing.find((entry) => pathOf(entry.to) === pathIn(expected ?? null));
      const [one, other] = [shapeOf(router, to, policy), shapeOf(router, expected, policy)];
      const title =
        one === other
          ? `${verbOf(result)} leads to another address of ${one}`
          : `${verbOf(result)} leads to ${one}, not to ${other}`;
      return {
        class: name,
        title,
        at: landing !== undefined && reason !== 'unsafe-return' ? landing.at : at,
      };
    }
    case 'way': {
      if (has('status')) {
        const about = reason === 'served' ? asked : `what is refused as ${reason}`;
        const [app, own] =
          divergence === null
            ? [seen.status, outcome.status]
            : [divergence.message.status, divergence.exchange.response.status];
        return cause(`${about} is answered with ${app ?? 'nothing'}, not with ${own ?? 'nothing'}`);
      }
      if (has('menu')) return cause(menuWords(result, seen), ['menu']);
      if (has('parts')) return cause(partsWords(result, seen), partAt(policy, result, seen));
      if (has('refreshes')) return cause('tokens are renewed at other times');
      return cause(`${asked} goes another way`);
    }
  }
}

/** The first credential that only one of the two sides has. */
function differingIn({ outcome }: StepResult, { holds }: Observed): Credential | undefined {
  return [...outcome.holds, ...holds].find((what) => !(outcome.holds.includes(what) && holds.includes(what)));
}

/** The section of a policy that says how long a credential is good. */
function sectionOf(what: Credential | undefined): Path | null {
  if (what === undefined) return null;
  return what === 'access' || what === 'refresh' ? ['tokens', what] : [what];
}

/** A step by its kind: what it does and, where it asks for an address, for which. */
function verbOf({ step: { action } }: StepResult): string {
  return requestOf(action) !== null ? stepWords(action).replace(/\?\S*$/, '') : action.verb;
}

/** What a step asks for, by the pattern of its page. */
function askedWords(router: Router, { played: { exchanges }, step }: StepResult): string {
  const telling =
    exchanges.find(({ explanation: { reason } }) => reason !== 'served' && reason !== 'forwarded') ??
    exchanges.at(-1);
  return telling === undefined ? step.action.verb : requestWords(router, telling.request);
}

function requestWords(
  router: Router,
  { method, path }: { readonly method: Method; readonly path: string },
): string {
  const page = router.find(method, path)?.page?.pattern.text ?? path;
  return `${method === 'HEAD' ? 'GET' : method} ${page}`;
}

/** An address by the pattern of its page; another site is one whatever its address. */
function shapeOf(router: Router, address: string | null, { origin }: Policy): string {
  if (address === null) return 'nothing';
  const target = targetIn(address, origin);
  if (!/^\/(?![/\\])/.test(target)) return 'another site';
  const path = pathIn(target) ?? '/';
  return router.find('GET', path)?.page?.pattern.text ?? path;
}

function pathIn(address: string | null): string | null {
  return address === null ? null : (address.split('?', 1)[0] ?? null);
}

/** The last thing before a step that can end or leave a login: time, a logout, what an administrator did. */
function eventBefore({ steps }: LiveWalk, step: number): string {
  const before = steps.slice(0, step + 1).reverse();
  for (const { result } of before) {
    const { action } = result.step;
    if (isPause(action)) return 'a wait';
    if (!hasTrait(action, 'no-login')) return `a step ${action.verb}`;
  }
  return 'the start';
}

function extraHeld({ outcome }: StepResult, seen: Observed): string {
  return seen.holds.filter((what) => !outcome.holds.includes(what)).join(' and ');
}

function heldWords(result: StepResult, seen: Observed): string {
  const more = extraHeld(result, seen);
  const less = result.outcome.holds.filter((what) => !seen.holds.includes(what)).join(' and ');
  const said = [more === '' ? '' : `${more} is held`, less === '' ? '' : `${less} is missing`].filter(
    (each) => each !== '',
  );
  return `${said.join(', ')} after ${verbOf(result)}`;
}
