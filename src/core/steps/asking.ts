// What others ask of a step: each asks its kind, so that a new kind is known to all of them.

import type { Policy } from '../language/policy.js';
import type { BrowserState } from '../browser/state.js';
import type { Seconds } from '../time/duration.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import { stepKind, type Action, type PersonAction } from './all-steps.js';
import type { Asked, Entrant, Given, GivenCode, Newcomer, SentLink } from './step-kind.js';
import type { Calling } from '../play/together.js';
import type { Trait } from './traits.js';
import type { Wait } from './wait.js';

/** Whether something holds of the kind of a step. */
export function hasTrait(action: Action, trait: Trait): boolean {
  return stepKind(action).traits.includes(trait);
}

/** Whether nothing happens in a step but that time passes. */
export function isPause(action: Action): action is Wait {
  return stepKind(action).by === 'time';
}

/** How many seconds a step lets pass by itself; 0 for a wait up to a deadline, of which the step alone does not tell. */
export function pauseSeconds(action: Action): Seconds {
  const until = stepKind(action).pause?.(action);
  return until?.kind === 'duration' ? until.seconds : 0;
}

/** Whether a step is one deed of a person. */
export function isDeed(action: Action): action is PersonAction {
  return 'deed' in stepKind(action);
}

/** What a step hands on to another browser; null where it hands on nothing. */
export function givenBy(action: Action): Given | null {
  return stepKind(action).gives?.(action) ?? null;
}

/** The browser that a step gives something to; null where it gives nothing. */
export function receiverOf(action: Action): string | null {
  return givenBy(action)?.to ?? null;
}

/** The same step with another name for the browser that it gives to. */
export function givenTo(action: Action, named: (browser: string) => string): Action {
  const to = receiverOf(action);
  return to === null ? action : (stepKind(action).givenTo?.(action, named(to)) ?? action);
}

/** The address that a step names to ask for it; null where it names none. */
export function requestOf(action: Action): Asked | null {
  return stepKind(action).request?.(action) ?? null;
}

/** The calls that a step makes at the same time; null for none. */
export function callsOf(action: Action): readonly Calling[] | null {
  return stepKind(action).calls?.(action) ?? null;
}

/** Who tries to log in by a step; null for nobody. */
export function entrantOf(action: Action): Entrant | null {
  return stepKind(action).entrant?.(action) ?? null;
}

/** Which one-time code a step gives; null for none. */
export function codeOf(action: Action): GivenCode | null {
  return stepKind(action).code?.(action) ?? null;
}

/** Whom a step makes an account for; null for nobody. */
export function newcomerOf(action: Action): Newcomer | null {
  return stepKind(action).joins?.(action) ?? null;
}

/** The link that a step opens; null for none. */
export function linkOf(action: Action): SentLink | null {
  return stepKind(action).link?.(action) ?? null;
}

/** The answer of an identity provider that a step has somebody else follow; null for none. */
export function plantedBy(action: Action): { readonly account: string; readonly provider: string } | null {
  return stepKind(action).plants?.(action) ?? null;
}

/** What a step is to whom it happens, as promises know it; null for nothing. */
export function eventOf(action: Action): PromiseEvent | null {
  return stepKind(action).event ?? null;
}

/** Whether a policy has the section without which there is no such step. */
export function isThere(policy: Policy, action: Action): boolean {
  const { needs } = stepKind(action);
  return needs === undefined || policy[needs.part] !== null;
}

/** Whether a step can come to anything in a browser that may have so many tabs. */
export function isWorthTrying(action: Action, browser: BrowserState, tabs: number): boolean {
  return stepKind(action).isWorthTrying?.(action, browser, tabs) ?? true;
}
