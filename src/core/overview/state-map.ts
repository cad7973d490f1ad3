import { accountClasses } from '../app/classes.js';
import { takes } from '../app/logins.js';
import { holdingsOf, type Holding } from '../credentials/panel.js';
import type { Account, Policy } from '../language/policy.js';
import { stageOf, type Stage } from '../play/stage.js';
import type { Action } from '../steps/all-steps.js';
import { plainStep, type Step } from '../steps/walk.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import { DEADLINES, keyOfDeadline } from '../vocabulary/deadlines.js';
import { playSteps } from '../walks/runner.js';
import { entrantOf, eventOf } from '../steps/asking.js';

/** What somebody can be, and by what they pass from one to the other. */
export interface StateMap {
  /** The states, guests first, each with the shortest walk to it. */
  readonly states: readonly KnownState[];
  readonly passages: readonly Passage[];
}

export interface KnownState {
  /** `guest`, `code owed`, `signed in`, `idle-expired`, `remembered` and the like. */
  readonly name: string;
  /** Whether the app takes whoever is in it for a guest, who can do all that a guest can. */
  readonly isAsGuest: boolean;
  readonly walk: readonly Step[];
}

export interface Passage {
  readonly from: string;
  readonly to: string;
  /** What is done, or what time passes. */
  readonly by: string;
  readonly isTime: boolean;
}

interface Move {
  /** What is done, or the key of the limit that passes. */
  readonly words: string;
  readonly isTime: boolean;
  readonly actions: readonly Action[];
}

/** More states than these no picture can show. */
const MOST_STATES = 24;

/** The state map of a policy: every state and every passage was come to by playing it. */
export function stateMap(policy: Policy): StateMap {
  const stage = stageOf(policy);
  const moves = movesOf(policy);
  const states = new Map<string, readonly Step[]>([['guest', []]]);
  const passages: Passage[] = [];
  for (const [from, walk] of states) {
    const found = moves.flatMap((move): Found[] => {
      if (!move.isTime && ONLY_TIME.test(from)) return [];
      if (move.words === SUSPENDED && !from.startsWith('signed in')) return [];
      const steps = [...walk, ...move.actions.map((action) => plainStep('browser', action))];
      const { name: to, isPossible, waited } = stateAfter(stage, steps);
      return isPossible && to !== from ? [{ move, to, waited, steps }] : [];
    });
    for (const { move, to, waited, steps } of tellingOf(found)) {
      const by = move.isTime ? `${formatDuration(waited)} (${move.words})` : move.words;
      passages.push({ from, to, by, isTime: move.isTime });
      if (!states.has(to) && states.size < MOST_STATES) states.set(to, steps);
    }
  }
  const asGuests = likeGuests(passages);
  return {
    states: [...states].map(([name, walk]) => ({ name, walk, isAsGuest: asGuests.has(name) })),
    passages: passages.filter(({ from, to }) => states.has(to) && !asGuests.has(from)),
  };
}

interface Found {
  readonly move: Move;
  readonly to: string;
  readonly waited: Seconds;
  readonly steps: readonly Step[];
}

/** Whoever is locked out or suspended gets nowhere by what they do themselves. */
const ONLY_TIME = /^(?:locked out|suspended)/;

/**
 * What tells most: of times the first that comes, and the age of the session, which activity does not put off; of what is done
 * nothing that any other request does too.
 */
function tellingOf(found: readonly Found[]): Found[] {
  const times = found.filter(({ move }) => move.isTime).sort((a, b) => a.waited - b.waited);
  const [first] = times;
  const shown = times.filter((each) => each === first || (each.move.words === AGE && each.to !== first?.to));
  const request = found.find(({ move }) => move.words === REQUEST);
  const deeds = found.filter((each) => !each.move.isTime && (each === request || each.to !== request?.to));
  return [...deeds, ...shown];
}

const SUSPENDED = 'suspended';
const REMEMBERED = ', to be remembered';
const REQUEST = 'next request';
const AGE = 'session.absolute';

/** The states in which somebody can do just what a guest can. */
function likeGuests(passages: readonly Passage[]): ReadonlySet<string> {
  const of = (state: string) => passages.filter(({ from, isTime }) => from === state && !isTime);
  const guests = new Set(of('guest').map(({ to, by }) => `${to} ${by}`));
  return new Set(
    passages
      .map(({ from }) => from)
      .filter(
        (state) =>
          state.endsWith('-expired') &&
          of(state).every(({ to, by }) => to === 'guest' || guests.has(`${to} ${by}`)),
      ),
  );
}

/** What people do and what passes, for an account of each kind that logs in otherwise. */
function movesOf(policy: Policy): Move[] {
  const kinds = new Map<boolean, Account>();
  for (const { account } of accountClasses(policy)) {
    const known = kinds.get(account.secondFactor);
    if (account.state === 'active' && !account.key && known === undefined) {
      kinds.set(account.secondFactor, account);
    }
  }
  const people = [...kinds.values()];
  const login = (account: Account, remember: boolean, isWrong = false): Action => ({
    verb: 'login',
    account: account.name,
    password: isWrong ? `${account.password} not` : account.password,
    passwordGiven: isWrong,
    isWrong,
    role: null,
    remember,
    at: null,
    with: null,
    from: null,
  });
  const [first] = people;
  const attempts = policy.logins.find((each) => first !== undefined && takes(each, first))?.attempts ?? null;
  const does = (words: string, ...actions: Action[]): Move => ({ words, isTime: false, actions });
  return [
    ...people.flatMap((account): Move[] => {
      const owes = people.length < 2 ? '' : ` of who owes ${account.secondFactor ? 'a' : 'no'} code`;
      const plain = does(`login${owes}`, login(account, false));
      return policy.remember === null
        ? [plain]
        : [plain, does(`login${owes}${REMEMBERED}`, login(account, true))];
    }),
    ...(policy.secondFactor === null ? [] : [does('right code', { verb: 'code', given: 'right' })]),
    ...(attempts === null || first === undefined
      ? []
      : [
          does(
            `${attempts.most} wrong passwords`,
            ...Array.from({ length: attempts.most }, () => login(first, false, true)),
            login(first, false),
          ),
        ]),
    does(REQUEST, { verb: 'visit', address: '/', from: null }),
    ...(policy.logout === null ? [] : [does('logout', { verb: 'logout' })]),
    does('browser closed', { verb: 'close-browser' }),
    ...(first === undefined ? [] : [does(SUSPENDED, { verb: 'suspend', account: first.name })]),
    ...DEADLINES.map((deadline): Move => {
      const until = { kind: 'past', deadline } as const;
      const isOfSeveral = deadline === 'attempts-pause' && policy.logins.length > 1;
      const words = isOfSeveral ? 'attempts: the longest pause' : keyOfDeadline(deadline);
      return { words, isTime: true, actions: [{ verb: 'wait', until }] };
    }),
  ];
}

function stateAfter(stage: Stage, steps: readonly Step[]) {
  const { steps: played } = playSteps(stage, steps);
  const last = played.at(-1);
  if (last === undefined) return { name: 'guest', isPossible: false, waited: 0 };
  const isPossible = last.impossible === null && played.length === steps.length;
  const { state, browser } = last.played;
  const held = new Map(holdingsOf(stage, state, browser, last.time).map((each) => [each.what, each]));
  const isSuspended = steps.some(({ action }) => eventOf(action) === 'suspended');
  const waited = last.time - (played.at(-2)?.time ?? 0);
  return { name: nameOf(held, isSuspended, isLockedOut(steps)), isPossible, waited };
}

/** Whether the last that was done is to guess, and then to log in with the right password, which is of no use then. */
function isLockedOut(steps: readonly Step[]): boolean {
  const [guess, last] = steps.slice(-2).map(({ action }) => action);
  if (guess === undefined || last === undefined) return false;
  return entrantOf(guess)?.isWrong === true && entrantOf(last) !== null;
}

function nameOf(held: ReadonlyMap<string, Holding>, isSuspended: boolean, isLocked: boolean): string {
  const counts = (what: string) => held.get(what)?.counts === true;
  if (isSuspended) return counts('access') ? 'suspended, access token good' : 'suspended';
  const session = held.get('session');
  if (session?.because === 'code-needed') return 'code owed';
  const also = counts('remember') ? ', remembered' : '';
  if (counts('session')) return `signed in${also}`;
  if (counts('access') || counts('refresh')) {
    return session === undefined ? `signed in${also}` : `session over, tokens good${also}`;
  }
  if (counts('remember')) return 'remembered, session over';
  if (isLocked) return 'locked out';
  return session?.because ?? 'guest';
}
