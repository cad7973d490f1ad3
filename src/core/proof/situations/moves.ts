// Step 2 of docs/proof-method.md: situations and moves.

import type { AppState } from '../../app/app.js';
import { NEW_BROWSER, type BrowserState } from '../../browser/state.js';
import type { Clock } from '../../time/clock.js';
import { breachesOf } from '../../laws/all-laws.js';
import { lawBookOf, type LawBook } from '../../laws/law-book.js';
import type { Breach, View } from '../../laws/law.js';
import type { Memory } from '../../laws/memory.js';
import { remembering } from '../../laws/remembering.js';
import { unkeptPromises, type Unkept } from '../../laws/promises.js';
import { outcomeOf, type Outcome } from '../../steps/outcome.js';
import type { Played, Stage } from '../../play/stage.js';
import { stepKind, type Action } from '../../steps/all-steps.js';
import { receiverOf } from '../../steps/asking.js';
import type { Wait } from '../../steps/wait.js';
import { everyWay, type Answer } from '../time/symbolic-clock.js';
import type { Situation } from './situation.js';

/** A step that can be taken at any time: what a walk writes as one, but for waits. */
export interface Move {
  readonly browser: string;
  readonly action: Exclude<Action, Wait>;
  /** The network address that it comes from; undefined for one that no rule asks about. */
  readonly connectsFrom?: string;
  /** Whether it can come to anything at an instant; left out: always. */
  readonly isDue?: (state: AppState, browser: BrowserState, clock: Clock) => boolean;
}

/** Where a move leads, one way. */
export interface Taken {
  readonly after: Situation;
  readonly played: Played;
  /** The laws that it breaks, and the promises that it shows not to be kept. */
  readonly broken: readonly Breach[];
  readonly unkept: readonly Unkept[];
  /** Whether what else was looked for was seen. */
  readonly isSeen: boolean;
  /** What had to be so of the time that had passed. */
  readonly answers: readonly Answer[];
}

/**
 * Takes a move at every time at which it can be taken, by the code that plays walks. One that cannot be taken, such as back
 * without a page before, gives nothing.
 *
 * @param passes whether any time may have passed since the situation came about
 * @param isSeen something else to look for in each way
 */
export function takeMove(
  stage: Stage,
  before: Situation,
  move: Move,
  passes = true,
  isSeen?: (view: View) => boolean,
): Taken[] {
  return everyWay((clock) => takeOnce(stage, before, move, clock, isSeen), before.zone, passes).flatMap(
    ({ result, zone, answers }): Taken[] => (result === null ? [] : [takenAt(result, zone, answers)]),
  );
}

/** Written out, as is what `become` gives: each is made for every way of every move. */
function takenAt(
  { after: { state, browsers, memory }, played, broken, unkept, isSeen }: Omit<Taken, 'answers'>,
  zone: Situation['zone'],
  answers: readonly Answer[],
): Taken {
  return { after: { state, browsers, memory, zone }, played, broken, unkept, isSeen, answers };
}

function takeOnce(
  stage: Stage,
  before: Situation,
  { browser, action, connectsFrom, isDue }: Move,
  clock: Clock,
  isSeen?: (view: View) => boolean,
): Omit<Taken, 'answers'> | null {
  const { state, browsers } = before;
  const known = browsers.get(browser) ?? NEW_BROWSER;
  if (isDue?.(state, known, clock) === false) return null;
  const from = connectsFrom === undefined ? known : { ...known, client: connectsFrom };
  const become = (name: string, played: Played): Omit<Taken, 'answers'> => {
    const view = new MoveView(stage, action, browser, state, from, played, clock, before.memory);
    const after = connectsFrom === undefined ? played.browser : { ...played.browser, client: known.client };
    return {
      after: {
        state: played.state,
        browsers: new Map(browsers).set(name, after),
        memory: remembering(view),
        zone: before.zone,
      },
      played,
      broken: breachesOf(view),
      unkept: unkeptPromises(view),
      isSeen: isSeen?.(view) === true,
    };
  };
  const receiver = receiverOf(action);
  const other = browsers.get(receiver ?? '') ?? NEW_BROWSER;
  const here = { state, browser: from, other, clock };
  const came = stepKind(action).play(stage, here, action);
  if (typeof came === 'string') return null;
  const { played, given } = came;
  // Whoever is given something has changed; whoever gives it has not.
  return given === null || receiver === null
    ? become(browser, played)
    : become(receiver, { ...played, browser: given });
}

class MoveView implements View {
  readonly book: LawBook;

  constructor(
    readonly stage: Stage,
    readonly action: Move['action'],
    readonly browser: string,
    readonly before: AppState,
    readonly from: BrowserState,
    readonly played: Played,
    readonly clock: Clock,
    readonly memory: Memory,
  ) {
    this.book = lawBookOf(stage);
  }

  /** Hardly any law asks for it. */
  get outcome(): Outcome {
    return outcomeOf(this.stage, this.played, this.clock);
  }
}
