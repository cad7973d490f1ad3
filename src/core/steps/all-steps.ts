import type { AppState } from '../app/app.js';
import type { BrowserState, Deed } from '../browser/state.js';
import type { Policy } from '../language/policy.js';
import type { Stage } from '../play/stage.js';
import type { Clock } from '../time/clock.js';
import {
  deleteAccount,
  restartApp,
  setFacts,
  setFlag,
  setPassword,
  setRoles,
  suspend,
} from './administration.js';
import { back } from './back.js';
import { changePassword } from './change-password.js';
import { clearCookies } from './clear-cookies.js';
import { code } from './code.js';
import { confirm } from './confirm.js';
import { follow } from './follow.js';
import { copy, plant } from './giving.js';
import { askLink, openLink } from './link-login.js';
import { login } from './login.js';
import { logout } from './logout.js';
import { logoutProvider, plantAnswer } from './provider-steps.js';
import { revokeKey, rotateKey } from './keys.js';
import { refresh } from './refresh.js';
import { reload } from './reload.js';
import { askReset, reset } from './reset-password.js';
import { send } from './send.js';
import { signUp } from './sign-up.js';
import type { AdministratorStep, PersonStep, StepKind, Tale } from './step-kind.js';
import {
  closeBrowser,
  closeTab,
  duplicateTab,
  newTab,
  openBrowser,
  restoreBrowser,
} from './tabs-and-browser.js';
import { together } from './together.js';
import { visit } from './visit.js';
import { wait } from './wait.js';

/** Every kind of step, in the order in which messages and docs/language name them. */
export const STEP_KINDS = [
  visit,
  follow,
  send,
  together,
  refresh,
  login,
  code,
  signUp,
  confirm,
  changePassword,
  askReset,
  reset,
  askLink,
  openLink,
  plantAnswer,
  logoutProvider,
  logout,
  reload,
  back,
  newTab,
  duplicateTab,
  closeTab,
  closeBrowser,
  openBrowser,
  restoreBrowser,
  clearCookies,
  copy,
  plant,
  restartApp,
  suspend,
  deleteAccount,
  setRoles,
  setFacts,
  setPassword,
  setFlag,
  rotateKey,
  revokeKey,
  wait,
] as const;

type Kind = (typeof STEP_KINDS)[number];
type ActionOf<Any> = Any extends { words(action: infer Action): string } ? Action : never;

/** What somebody does in a step. */
export type Action = ActionOf<Kind>;
export type Verb = Action['verb'];
/** What a person does with a browser, in one deed. */
export type PersonAction = ActionOf<Extract<Kind, { deed: unknown }>>;
/** What somebody with access to the app itself does to it, between two requests. */
export type Administration = ActionOf<Extract<Kind, { change: unknown }>>;

/** A kind of step as whoever takes all alike sees it. */
export type AnyStep = StepKind<Action, unknown>;

/** The same list. The compiler cannot know that a kind is given only what is its own: the verb sees to it. */
export const ANY_STEPS = STEP_KINDS as readonly unknown[] as readonly AnyStep[];

const BY_VERB: ReadonlyMap<string, AnyStep> = new Map(ANY_STEPS.map((kind) => [kind.verb, kind]));

/** The kind of a step. */
export function stepKind(action: Action): AnyStep {
  const kind = BY_VERB.get(action.verb);
  if (kind === undefined) throw new Error(`no kind of step is called ${action.verb}`);
  return kind;
}

/** What reports call a step: as the language writes it, without passwords. */
export function stepWords(action: Action): string {
  return stepKind(action).words(action);
}

/** What a walk that is written down has after the step's colon. */
export function writtenStep(action: Action): unknown {
  return stepKind(action).written(action);
}

/** A step as somebody would tell it. */
export function taleOf(action: Action): Tale {
  return stepKind(action).tale?.(action) ?? { deed: stepWords(action) };
}

/** Whether something is done to the app itself, and not by a browser. */
export function isAdministration(action: Action): action is Administration {
  return stepKind(action).by === 'administrator';
}

/** The state of an app after it was administered. */
export function administer(policy: Policy, state: AppState, what: Administration, clock: Clock): AppState {
  // Each of these actions is of a kind that changes the app.
  return (stepKind(what) as AdministratorStep<Administration, unknown>).change(policy, state, what, clock);
}

/** What a step makes a person do, or why they cannot. */
export function deedOf(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  action: PersonAction,
): Deed | string {
  // Each of these actions is of a kind that is one deed.
  return (stepKind(action) as PersonStep<PersonAction, unknown>).deed(stage, { state, browser }, action);
}
