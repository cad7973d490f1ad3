import { indexOf, type AppState } from '../app/app.js';
import { pickedRoles } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import type { Task } from '../app/tasks.js';
import { isSafe } from '../http/messages.js';
import { landingEntry } from '../app/landing.js';
import { passedOn } from '../browser/forms.js';
import type { BrowserState } from '../browser/state.js';
import { heldCounting } from '../credentials/counts.js';
import { handleOf } from '../credentials/holdings.js';
import type { Account, Login } from '../language/policy.js';
import type { Played, Stage } from '../play/stage.js';
import type { Clock } from '../time/clock.js';

/** A step as it was played, with what was there before it. */
export interface SaidStep {
  readonly stage: Stage;
  readonly before: AppState;
  readonly from: BrowserState;
  readonly played: Played;
  readonly clock: Clock;
}

/** What a step says by itself, and did not do. */
export interface Saying {
  /** As `that ines logs in`. */
  readonly what: string;
  /** Where it would land; an expectation of somewhere else says that it fails. */
  readonly success: readonly string[];
  /** What was so instead, where the outcome does not tell. */
  readonly actual?: string;
}

/** Where somebody may land who gets in: where they were going, or the landing. */
export function landingsOf(
  { stage, from, before, clock }: SaidStep,
  account: Account | undefined,
  role: string | null,
  by: Login | null,
): string[] {
  const { app, client } = stage;
  const held = handleOf(stage, from, 'session', clock) ?? '';
  const asked =
    app.policy.login?.return?.kept === 'session'
      ? (before.sessions[indexOf('session', held)]?.asked ?? null)
      : passedOn(client, from.tab.page);
  const lander =
    account === undefined
      ? null
      : landingEntry(app.policy, { facts: account.facts, roles: pickedRoles(app, role, account.roles) }, by);
  return [asked, lander?.to].filter((each) => each !== null && each !== undefined);
}

/** Whether a form came to the app, and was not refused before it was looked at: what is in it may be wrong. */
export function isSent({ exchanges }: Played, ...tasks: readonly Task[]): boolean {
  return exchanges.some(
    ({ route, request, explanation }) =>
      tasks.some((task) => task === route?.task) &&
      !isSafe(request.method) &&
      !UNREAD.has(explanation.reason),
  );
}

/** The reasons for which a form is refused whatever is in it. */
const UNREAD: ReadonlySet<Reason> = new Set<Reason>(['guest', 'guests-only', 'role', 'barrier', 'acting']);

/** Whether a browser has something that the app takes, a login that waits for its code among it. */
export function hasAnything(stage: Stage, state: AppState, browser: BrowserState, clock: Clock): boolean {
  if (heldCounting(stage, state, browser, clock) !== null) return true;
  const record = state.sessions[indexOf('session', handleOf(stage, browser, 'session', clock) ?? '')];
  return record?.half === true && record.ended === null;
}
