import type * as z from 'zod';
import type { AppState } from '../app/app.js';
import type { BrowserState, Deed } from '../browser/state.js';
import type { LinkKind } from '../app/link-rules.js';
import type { Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { play, type Played, type Stage } from '../play/stage.js';
import type { Calling } from '../play/together.js';
import type { Clock } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { Deadline } from '../vocabulary/deadlines.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import type { Saying, SaidStep } from './saying.js';
import type { Trait } from './traits.js';
import type { TypedForm } from './typed-form.js';
import type { WalkScope } from './walk-scope.js';

/** What somebody does in a step. */
export interface AnyAction {
  readonly verb: string;
}

/** All that is said of one kind of step. One file a kind; `all-steps.ts` lists them. */
export interface StepKind<Action extends AnyAction, Written = never> {
  /** The key that a walk writes. */
  readonly verb: Action['verb'];
  /** Its row in docs/language: what is written, and what it does. */
  readonly row: readonly [written: string, does: string];
  /** What may stand after the colon. It is asked for once. */
  schema(): z.ZodType<Written>;
  /** The part of a policy without which there is no such step. */
  readonly needs?: Needed;
  /** Whether a link or form of another site can start it: `from:`. */
  readonly takesFrom?: true;
  /** Whether it asks nothing of the app, so that only what app and browser hold can be told after it. */
  readonly asksNothing?: true;
  /**
   * Reads what was written.
   *
   * @param from the other site that it starts on; null for none
   */
  read(written: Written, at: Path, scope: WalkScope, from: string | null): Action;
  /** Who does it: a person with a browser, somebody with access to the app, whoever hands a credential on, or time. */
  readonly by: 'person' | 'administrator' | 'giver' | 'time';
  /** The second at which it happens, or why it cannot come; left out where that is at once. */
  startsAt?(stage: Stage, here: Here, action: Action, time: Seconds): Seconds | string;
  /** Does it, or tells why it cannot be done. */
  play(stage: Stage, here: Here, action: Action): Came | string;
  /** What the step says by itself and did not do; null where it did. Left out where it says nothing. */
  unsaid?(said: SaidStep, action: Action): Saying | null;
  /** What reports call it: as the language writes it, without passwords. */
  words(action: Action): string;
  /** What a walk that is written down has after the colon. */
  written(action: Action): unknown;
  /** How it is typed in a line. */
  readonly typed: TypedForm;
  /** What else holds of it: `traits.ts` lists what others ask. */
  readonly traits: readonly Trait[];
  /** How a walk tells it; left out where its words do. */
  tale?(action: Action): Tale;
  /** How long it lets pass. */
  pause?(action: Action): Until;
  /** What it hands on to another browser. */
  gives?(action: Action): Given;
  /** The same, with another browser to give to. */
  givenTo?(action: Action, to: string): Action;
  /** What it asks for, where it names an address. */
  request?(action: Action): Asked;
  /** The calls that it has made at the same time. */
  calls?(action: Action): readonly Calling[];
  /** Who tries to log in by it. */
  entrant?(action: Action): Entrant;
  /** Which one-time code it gives. */
  code?(action: Action): GivenCode;
  /** Whom it makes an account for. */
  joins?(action: Action): Newcomer;
  /** The link that it opens. */
  link?(action: Action): SentLink;
  /** The answer of an identity provider that it has somebody else follow. */
  plants?(action: Action): { readonly account: string; readonly provider: string };
  /** What it is to whom it happens, as promises know it. */
  readonly event?: PromiseEvent;
  /** What a proof tries of it in a browser; left out where `proof/choices` finds it by classes of requests or accounts. */
  tried?(policy: Policy, parties: Parties): readonly Action[];
  /** Why a proof need not try it. */
  readonly untried?: string;
  /** Whether it can come to anything in a browser that may have so many tabs; left out: always. */
  isWorthTrying?(action: Action, browser: BrowserState, tabs: number): boolean;
}

/** Who takes part in a proof, as far as what they try depends on it. */
export interface Parties {
  /** The active accounts of people, one of each class. */
  readonly accounts: readonly string[];
  /** Somebody new, whose password is their name; null where they do nothing that others do not. */
  readonly newcomer: string | null;
  /** The password that people change to. */
  readonly password: string;
  /** How many tabs a browser may have. */
  readonly tabs: number;
}

/** A step as somebody would tell it. */
export interface Tale {
  /** Who does it; null for what is done to an account, left out for whoever has the browser. */
  readonly who?: string | null;
  readonly deed: string;
  /** How it is told where it is done again and again. */
  readonly keeps?: string;
  /** How it is told where it is the last: what still opens something. */
  readonly still?: string;
}

/** How long a pause lasts: a duration, or up to a deadline of a credential that the browser holds. */
export type Until =
  | { readonly kind: 'duration'; readonly seconds: Seconds }
  /** past: to the first instant at which it no longer counts. short-of: to the last at which it does. */
  | { readonly kind: 'past' | 'short-of'; readonly deadline: Deadline };

/** What a browser is given: as its own, or a copy, which it keeps whatever happens. */
export interface Given {
  readonly what: Credential;
  readonly to: string;
  readonly isCopy: boolean;
}

/** An address that is asked for. */
export interface Asked {
  readonly method: Method;
  readonly address: string;
  /** The other site that it starts on; null for none. */
  readonly from: string | null;
  /** The key by which a machine asks; null for a person. */
  readonly key: MachineKey | null;
  /** Whether it is opened, by hand or a link, and not sent by a page. */
  readonly isOpened: boolean;
}

/** The key that a machine shows: the one that it uses, or the one from before its last rotation. */
export interface MachineKey {
  readonly account: string;
  readonly isOld: boolean;
}

/** Somebody who tries to log in. */
export interface Entrant {
  readonly account: string;
  readonly password: string;
  /** Whether the password is another than the account has by then. */
  readonly isWrong: boolean;
  /** The site on which the form stands; null for the app's own. */
  readonly from: string | null;
}

/** A one-time code: the one that was sent, another, or the one that was sent once it is over. */
export type GivenCode = 'right' | 'wrong' | 'late';

/** Somebody who makes an account. */
export interface Newcomer {
  readonly account: string;
  readonly password: string;
}

/** The last link of a kind that was sent to an account. */
export interface SentLink {
  readonly kind: LinkKind;
  readonly account: string;
}

/** A section of a policy that a step asks for, and in words why. */
export interface Needed {
  readonly part: keyof Policy;
  readonly section: string;
  readonly because: string;
}

/** Where a step finds app and browser. */
export interface Here {
  readonly state: AppState;
  readonly browser: BrowserState;
  /** The browser that the step names besides its own; a fresh one where it names none. */
  readonly other: BrowserState;
  readonly clock: Clock;
}

/** What came of a step. */
export interface Came {
  readonly played: Played;
  /** The browser that was given something, as it is then; null where none was. */
  readonly given: BrowserState | null;
}

/** App and browser with nothing asked. */
export function atRest(state: AppState, browser: BrowserState): Played {
  return { state, browser, exchanges: [], cutShort: null, refusedCookies: [], refusedByScript: null };
}

/** A step that a person does with a browser. */
export interface PersonStep<Action extends AnyAction, Written = never> extends StepKind<Action, Written> {
  readonly by: 'person';
  /** What it makes a person do, or why they cannot: a form is sent from a page, a call is made by its script. */
  deed(stage: Stage, here: Pick<Here, 'state' | 'browser'>, action: Action): Deed | string;
}

/** A step in which nothing happens but that time passes. */
export interface TimeStep<Action extends AnyAction, Written = never> extends StepKind<Action, Written> {
  readonly by: 'time';
  pause(action: Action): Until;
}

/** A step that is one deed of a person. */
export function personStep<Action extends AnyAction, Written>(
  kind: Omit<PersonStep<Action, Written>, 'by' | 'play'>,
): PersonStep<Action, Written> {
  return {
    ...kind,
    by: 'person',
    play(stage, here, action) {
      const deed = kind.deed(stage, here, action);
      if (typeof deed === 'string') return deed;
      return { played: play(stage, here.state, here.browser, deed, here.clock), given: null };
    },
  };
}

/** A step of somebody with access to the app itself, while everybody's browser stays as it is. */
export interface AdministratorStep<Action extends AnyAction, Written = never> extends StepKind<
  Action,
  Written
> {
  readonly by: 'administrator';
  /** The state of the app after it. What is not there is left alone. */
  change(policy: Policy, state: AppState, action: Action, clock: Clock): AppState;
}

/** A step that changes the app itself. */
export function administratorStep<Action extends AnyAction, Written>(
  kind: Omit<AdministratorStep<Action, Written>, 'by' | 'asksNothing' | 'play' | 'change'>,
  change: AdministratorStep<Action, Written>['change'],
): AdministratorStep<Action, Written> {
  return {
    ...kind,
    by: 'administrator',
    asksNothing: true,
    change,
    play: (stage, { state, browser, clock }, action) => ({
      played: atRest(change(stage.app.policy, state, action, clock), browser),
      given: null,
    }),
  };
}
