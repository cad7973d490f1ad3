import { indexOf, type AppState } from '../app/app.js';
import { pickedRoles } from '../app/identify.js';
import { landingEntry } from '../app/landing.js';
import { passedOn } from '../browser/forms.js';
import type { BrowserState } from '../browser/state.js';
import type { Clock } from '../clock.js';
import type { Account } from '../language/policy.js';
import { heldCounting } from '../laws/counts.js';
import { letsIn } from '../laws/entries.js';
import { sameAddress, type Difference } from './expectations.js';
import { handleOf } from './holdings.js';
import type { Outcome } from './outcome.js';
import type { Exchange, Played, Stage } from './stage.js';
import type { Step } from './walk.js';

/** A step as it was played, with what was there before it. */
export interface PlayedStep {
  readonly stage: Stage;
  readonly before: AppState;
  readonly from: BrowserState;
  readonly step: Step;
  readonly played: Played;
  readonly outcome: Outcome;
  readonly clock: Clock;
}

/**
 * What a step says by itself and did not do: a login that signed nobody in, a code that nobody asked for, a logout of a guest.
 * Null where it did, or where the step's expectations say that it does not.
 */
export function unsaid(all: PlayedStep): Difference | null {
  const said = sayingOf(all);
  if (said === null || isExpected(all, said.success)) return null;
  const { seenAs, why } = all.outcome;
  const who = seenAs === null || seenAs === 'guest' ? '' : `, seen as ${seenAs}`;
  const actual = said.actual ?? `${why ?? 'nothing was asked of the app'}${who}`;
  return { key: 'step', expected: said.what, actual };
}

interface Saying {
  /** What the step says, as `that ines logs in`. */
  readonly what: string;
  /** Where it would land; an expectation of somewhere else says that it fails. */
  readonly success: readonly string[];
  /** What was so instead, where the outcome does not tell. */
  readonly actual?: string;
}

/** What a step says that it did not do; null where it did. */
function sayingOf(all: PlayedStep): Saying | null {
  const { step, stage, played, before } = all;
  const { policy } = stage.app;
  const { action } = step;
  const { exchanges } = played;
  switch (action.verb) {
    case 'login': {
      const account = before.accounts.get(action.account);
      // A password that is written out may be meant to be wrong.
      if (action.passwordGiven && action.password !== account?.password) return null;
      const isDone = exchanges.some(
        (each) =>
          (letsIn(each) && each.explanation.seenAs === action.account) ||
          (each.route?.task === 'login' && each.explanation.reason === 'code-needed'),
      );
      if (isDone && hasAnything(stage, played.state, played.browser, all.clock)) return null;
      return { what: `that ${action.account} logs in`, success: landingsOf(all, account, action.role) };
    }
    case 'code': {
      const isTaken = ({ route, explanation: { reason } }: Exchange) =>
        route?.task === 'code' && (reason === 'code-wrong' || reason === 'code-expired');
      if (exchanges.some(action.given === 'right' ? letsIn : isTaken)) return null;
      const owner =
        before.sessions[indexOf('session', handleOf(stage, all.from, 'session', all.clock) ?? '')];
      const account = before.accounts.get(owner?.account ?? '');
      return { what: 'that the app takes a code', success: landingsOf(all, account, null) };
    }
    case 'sign-up': {
      if (!before.accounts.has(action.account) && played.state.accounts.has(action.account)) return null;
      const lands = policy.signUp?.lands ?? 'landing';
      return { what: `that ${action.account} signs up`, success: lands === 'landing' ? [] : [lands.path] };
    }
    case 'confirm': {
      const isDone = exchanges.some(
        ({ route, explanation }) => route?.task === 'confirm' && explanation.reason === 'served',
      );
      return isDone
        ? null
        : { what: `that the link of ${action.account} is taken`, success: [policy.login?.page ?? '/'] };
    }
    case 'logout': {
      const wasIn = hasAnything(stage, before, all.from, all.clock);
      const isDone = exchanges.some(
        ({ route, explanation }) => route?.task === 'logout' && explanation.reason === 'served',
      );
      if (wasIn && isDone) return null;
      const success = policy.logout?.lands.map(({ to }) => to) ?? [];
      return {
        what: 'that somebody logs out',
        success,
        ...(wasIn ? {} : { actual: 'nobody was signed in' }),
      };
    }
    case 'follow': {
      const isRefused = exchanges.some(
        ({ explanation: { reason }, response }) =>
          response.status >= 400 || (reason !== 'served' && reason !== 'forwarded'),
      );
      return isRefused ? { what: `that the link leads to ${action.to}`, success: [action.to] } : null;
    }
    default:
      return null;
  }
}

/** Whether a step says itself that it does not do what it says. */
function isExpected({ step }: PlayedStep, success: readonly string[]): boolean {
  const { expects, expectBroken, action } = step;
  const { seenAs, why, status, lands, session } = expects;
  if (seenAs !== null || why !== null || session === 'none') return true;
  // A form that is shown again has a status of 200 too; a guest's logout is answered like any other.
  if (status !== null && (status >= 400 || action.verb === 'logout')) return true;
  if (expectBroken.some((law) => law === 'way-in' || law === 'way-through')) return true;
  return lands !== null && !success.some((address) => sameAddress(pathOf(lands), pathOf(address)));
}

function pathOf(address: string): string {
  return address.split('?', 1)[0] ?? address;
}

/** Where somebody may land who gets in: where they were going, or the landing. */
function landingsOf(
  { stage, from, before, clock }: PlayedStep,
  account: Account | undefined,
  role: string | null,
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
      : landingEntry(app.policy, { facts: account.facts, roles: pickedRoles(app, role, account.roles) });
  return [asked, lander?.to].filter((each) => each !== null && each !== undefined);
}

/** Whether a browser has something that the app takes, a login that waits for its code among it. */
function hasAnything(stage: Stage, state: AppState, browser: BrowserState, clock: Clock): boolean {
  if (heldCounting(stage, state, browser, clock) !== null) return true;
  return isHalf(state, handleOf(stage, browser, 'session', clock) ?? '');
}

function isHalf({ sessions }: AppState, handle: string): boolean {
  const record = sessions[indexOf('session', handle)];
  return record?.half === true && record.ended === null;
}
