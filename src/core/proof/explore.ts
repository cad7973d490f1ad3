import type { Tab } from '../browser/state.js';
import type { Seconds } from '../language/duration.js';
import type { Breach } from '../laws/law.js';
import { playSteps } from '../walks/runner.js';
import type { Stage } from '../walks/stage.js';
import { plainStep, type Action } from '../walks/walk.js';
import { canonicalWithClocks, keyOf } from './canonical.js';
import { choicesOf, type Cast } from './choices.js';
import { limitsOf } from './limits.js';
import { takeMove, type Move } from './moves.js';
import { firstSituation, type Situation } from './situation.js';
import { earliest, type Between } from './waits.js';
import type { Zone } from './zone.js';

/** How a law can be broken: the shortest walk in steps that does it, at the earliest times at which it can. */
export interface Counterexample {
  readonly breach: Breach;
  readonly actions: readonly { readonly browser: string; readonly action: Action }[];
  /** Its steps without the waits, and the time that it takes. */
  readonly steps: number;
  readonly seconds: Seconds;
  /** Whether the walk, played, breaks the law at its end. */
  readonly replays: boolean;
}

/** What came of trying everything. */
export interface Exploration {
  /** Whether nothing was left untried. */
  readonly isSettled: boolean;
  readonly situations: number;
  readonly transitions: number;
  /** By the name of the law. */
  readonly broken: ReadonlyMap<string, Counterexample>;
}

interface Node {
  readonly situation: Situation;
  readonly move: Move | null;
  readonly before: Node | null;
  readonly depth: number;
  /** The step at which each clock of the situation was started. */
  readonly startedAt: readonly number[];
  readonly between: readonly Between[];
}

/**
 * Tries every move in every situation that can come about, nearest first, until nothing new comes, as many situations were
 * tried as may be, or what was found is enough.
 */
export function explore(
  stage: Stage,
  cast: Cast,
  most: number,
  isEnough: (broken: Exploration['broken']) => boolean = () => false,
): Exploration {
  const limits = limitsOf(stage);
  const choices = choicesOf(stage, cast);
  const met = new Map<string, Zone[]>();
  const broken = new Map<string, Counterexample>();
  const first: Node = {
    situation: firstSituation(stage.app.policy),
    move: null,
    before: null,
    depth: 0,
    startedAt: [],
    between: [],
  };
  const open = [first];
  let transitions = 0;
  for (let at = 0; at < open.length; at++) {
    const node = open[at] ?? first;
    if (at >= most || isEnough(broken)) return { isSettled: false, situations: at, transitions, broken };
    for (const move of choices) {
      for (const { after, broken: breaches, answers } of takeMove(stage, node.situation, move)) {
        transitions += 1;
        const startedAt = [...node.startedAt, node.depth];
        const between = answers.map(({ since, limit, isElapsed }): Between => {
          const earlier = startedAt[since - 1] ?? node.depth;
          const how = isElapsed ? 'at-least' : 'at-most';
          return { earlier, later: node.depth, how, seconds: isElapsed ? limit : limit - 1 };
        });
        const { situation, clocks } = canonicalWithClocks(withoutPages(stage, withoutUnknown(after)), limits);
        const next: Node = {
          situation,
          move,
          before: node,
          depth: node.depth + 1,
          startedAt: clocks.map((clock) => startedAt[clock - 1] ?? node.depth),
          between,
        };
        for (const breach of breaches) {
          const known = broken.get(breach.law);
          if (known !== undefined && known.steps < next.depth) continue;
          const found = counterexample(stage, next, breach);
          if (known === undefined || found.seconds < known.seconds) broken.set(breach.law, found);
        }
        if (isNew(met, situation)) open.push(next);
      }
    }
  }
  return { isSettled: true, situations: open.length, transitions, broken };
}

/** Whether a situation was not met yet at all its ages; it has been from now on. */
function isNew(met: Map<string, Zone[]>, situation: Situation): boolean {
  const key = keyOf(situation);
  const zones = met.get(key);
  if (zones === undefined) {
    met.set(key, [situation.zone]);
    return true;
  }
  if (zones.some((zone) => zone.includes(situation.zone))) return false;
  zones.push(situation.zone);
  return true;
}

/** A name that nobody has is answered alike whether it pauses or not, so its failures are nothing to go by. */
function withoutUnknown(situation: Situation): Situation {
  const { state } = situation;
  const attempts = new Map([...state.attempts].filter(([name]) => state.accounts.has(name)));
  return attempts.size === state.attempts.size ? situation : { ...situation, state: { ...state, attempts } };
}

/**
 * Of a page that is shown only this matters to what follows: whether it has a form, for whom it was kept, and, where a logout
 * lands by it, its address. Everything else on it can be reached by a visit too.
 */
function withoutPages(stage: Stage, situation: Situation): Situation {
  const { forms } = stage.client;
  const formPages = new Set(Object.values(forms).map((form) => form?.page));
  const byPage = stage.app.policy.logout?.lands.some(({ leaving }) => leaving !== null) === true;
  const shorten = ({ page, tokens, history }: Tab): Tab => {
    const isForm = page?.status === 200 && formPages.has(page.address.path);
    const { origin = '', path = '', query = '' } = page?.address ?? {};
    const isShown = page !== null && (isForm || byPage || (page.kept && page.reader !== null));
    const isKept = history !== null && history.page.kept && history.page.reader !== null;
    return {
      page: isShown ? { ...page, address: { origin, path, query }, menu: [] } : null,
      tokens,
      history: isKept ? { page: { ...history.page, menu: [] }, before: null } : null,
    };
  };
  const browsers = new Map(
    [...situation.browsers].map(([name, browser]) => [
      name,
      { ...browser, tab: shorten(browser.tab), behind: browser.behind.map(shorten) },
    ]),
  );
  return { ...situation, browsers };
}

/** The way to a node as a walk with whole waits, played to see that it ends as was said. */
function counterexample(stage: Stage, end: Node, breach: Breach): Counterexample {
  const nodes: Node[] = [];
  for (let node: Node | null = end; node?.move; node = node.before) nodes.unshift(node);
  const times = earliest(
    nodes.length,
    nodes.flatMap(({ between }) => between),
  );
  const actions = nodes.flatMap(({ move }, at): { browser: string; action: Action }[] => {
    if (move === null) return [];
    const wait = (times?.[at] ?? 0) - (times?.[at - 1] ?? 0);
    const until = { kind: 'duration', seconds: wait } as const;
    return [...(wait > 0 ? [{ browser: move.browser, action: { verb: 'wait', until } as const }] : []), move];
  });
  const isSound = times !== null && replays(stage, actions, breach.law);
  return { breach, actions, steps: end.depth, seconds: times?.at(-1) ?? 0, replays: isSound };
}

function replays(stage: Stage, actions: Counterexample['actions'], law: string): boolean {
  const steps = actions.map(({ browser, action }) => plainStep(browser, action));
  const played = playSteps(stage, steps).steps;
  const last = played.at(-1);
  return played.length === steps.length && last?.broken.some((breach) => breach.law === law) === true;
}
