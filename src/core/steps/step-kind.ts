import type * as z from 'zod';
import type { AppState } from '../app/app.js';
import type { BrowserState, Deed } from '../browser/state.js';
import type { Policy } from '../language/policy.js';
import type { Path } from '../language/yaml-text.js';
import { play, type Played, type Stage } from '../play/stage.js';
import type { Clock } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import type { Saying, SaidStep } from './saying.js';
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
