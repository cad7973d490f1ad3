import { indexOf, type AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import type { Account, Policy } from '../language/policy.js';
import type { Memory } from '../laws/memory.js';
import type { Stage } from '../walks/stage.js';
import { canonical } from './canonical.js';
import { THIEF } from './cast.js';
import { isOnlyChanged } from './choices.js';
import type { Limits } from './limits.js';
import { Reduction } from './reduction.js';
import type { Situation } from './situation.js';

const NO_ATTEMPTS: AppState['attempts'] = new Map();
const NOBODY: ReadonlySet<string> = new Set();
const NOTHING: ReadonlyMap<string, string> = new Map();

/**
 * Takes situations apart into smaller ones that together allow all that the whole allows, and possibly more: browsers that have
 * nothing in common go on apart, each credential left behind at a logout is watched by itself, and what an app remembers of
 * accounts that nobody is signed in to is left open (`worlds.ts` supplies it where it is asked for).
 *
 * So a law that holds in all parts holds in the whole; one that is broken in a part may still hold.
 */
export class Abstraction {
  private readonly reduction: Reduction;
  private readonly policy: Policy;

  constructor(
    stage: Stage,
    private readonly limits: Limits,
  ) {
    this.reduction = new Reduction(stage, limits);
    this.policy = stage.app.policy;
  }

  /** The situation without what does not matter, in one piece. */
  reduced(situation: Situation): Situation {
    return this.reduction.of(situation);
  }

  /** See `Reduction.plainEffect`. */
  plainEffect(before: Situation, browser: string, after: Situation): string | null {
    return this.reduction.plainEffect(before, browser, after);
  }

  /** The parts of a situation without what does not matter, in canonical form. */
  partsOf(reduced: Situation): Situation[] {
    return watchedApart(reduced)
      .flatMap(browsersApart)
      .map((part) => canonical(this.settled(canonical(this.withoutForm(part), this.limits)), this.limits));
  }

  /** Whether a person stands at a form that passes an address on. */
  isAtForm({ browsers }: Situation): boolean {
    return [...browsers.values()].some(({ tab }) => this.reduction.passedOn(tab.page) !== null);
  }

  /** The situation in which whoever stands at such a form has turned to something else. */
  turnedAway(situation: Situation): Situation {
    const browsers = new Map(
      [...situation.browsers].map(([name, browser]) => [
        name,
        this.reduction.passedOn(browser.tab.page) === null
          ? browser
          : { ...browser, tab: { ...browser.tab, page: null } },
      ]),
    );
    return { ...situation, browsers, memory: { ...situation.memory, asked: NOTHING } };
  }

  /** What a form passes on is followed only where nothing else is going on: it bears on nothing but the way in. */
  private withoutForm(part: Situation): Situation {
    const { browsers, memory, state } = part;
    const isQuiet =
      !browsers.has(THIEF) &&
      memory.leftBehind.length === 0 &&
      [...browsers.values()].every(({ behind }) => behind.length === 0) &&
      isOnlyChanged(this.policy, state.accounts, null);
    return isQuiet || !this.isAtForm(part) ? part : this.turnedAway(part);
  }

  /** With everything forgotten that the app remembers of accounts to which nothing that anybody holds belongs. */
  private settled(part: Situation): Situation {
    const { state, memory } = part;
    const inUse = accountsInUse(state);
    const sessions = state.sessions.some(({ code }) => code !== null && code.wrong > 0)
      ? state.sessions.map((record) =>
          record.code === null ? record : { ...record, code: { ...record.code, wrong: 0 } },
        )
      : state.sessions;
    const changed = [...memory.changed].filter(
      ([name, { event }]) => inUse.has(name) && this.limits.sinceEvent[event] > 0,
    );
    return {
      ...part,
      state: {
        ...state,
        sessions,
        accounts: this.accounts(state, inUse),
        confirmations: [],
        attempts: NO_ATTEMPTS,
      },
      memory: {
        ...memory,
        copied: state.refreshTokens.length > 0 ? memory.copied : NOBODY,
        changed: changed.length === memory.changed.size ? memory.changed : new Map(changed),
      },
    };
  }

  private accounts({ accounts }: AppState, inUse: ReadonlySet<string>): AppState['accounts'] {
    const { accounts: known } = this.policy;
    if (accounts === known) return known;
    const kept = new Map<string, Account>();
    for (const [name, account] of known) {
      const now = accounts.get(name);
      if (!inUse.has(name)) kept.set(name, account);
      // A password is asked for at the login alone.
      else if (now !== undefined) {
        kept.set(name, isAlike(now, account) ? account : withPassword(now, account));
      }
    }
    for (const [name, account] of accounts) {
      if (!known.has(name) && inUse.has(name)) kept.set(name, account);
    }
    const isSame = kept.size === known.size && isOnlyChanged(this.policy, kept, null);
    return isSame ? known : kept;
  }
}

function isAlike(now: Account, { given, state }: Account): boolean {
  return now.given === given && now.state === state;
}

function withPassword(now: Account, { password }: Account): Account {
  return { ...now, password };
}

/** The accounts to which anything that somebody holds belongs. */
export function accountsInUse({ sessions, families, remembered }: AppState): ReadonlySet<string> {
  const inUse = new Set<string>();
  for (const { account, ended } of sessions) if (ended === null) inUse.add(account);
  for (const { account } of families) inUse.add(account);
  for (const { account } of remembered) inUse.add(account);
  return inUse;
}

/** Each credential that was left behind, with the browsers that can still act on it; and everything, with nothing left behind. */
function watchedApart(situation: Situation): Situation[] {
  const { memory, browsers } = situation;
  if (memory.leftBehind.length === 0) return [situation];
  const without = { ...situation, memory: { ...memory, leftBehind: [] } };
  const watched = memory.leftBehind.map((left): Situation => {
    const own = recordsOf(situation.state, left.handle);
    const concerned = new Map(
      [...browsers].filter(([, browser]) => sharesAny(own, recordsHeld(situation.state, browser))),
    );
    return only({ ...situation, memory: { ...memory, leftBehind: [left] } }, concerned);
  });
  return [without, ...watched];
}

/** The browsers in groups that have records in common, each group alone. */
function browsersApart(situation: Situation): Situation[] {
  const { browsers, state } = situation;
  if (browsers.size < 2) return [situation];
  let groups: { readonly names: readonly string[]; readonly records: ReadonlySet<string> }[] = [];
  for (const [name, browser] of browsers) {
    const records = recordsHeld(state, browser);
    const joined = groups.filter((group) => sharesAny(group.records, records));
    groups = [
      ...groups.filter((group) => !joined.includes(group)),
      {
        names: [...joined.flatMap(({ names }) => names), name],
        records: new Set([...joined.flatMap((group) => [...group.records]), ...records]),
      },
    ];
  }
  if (groups.length === 1) return [situation];
  return groups.map(({ names }) =>
    only(situation, new Map([...browsers].filter(([name]) => names.includes(name)))),
  );
}

/** The situation with some of its browsers only; what a person remembers goes with theirs. */
function only(situation: Situation, browsers: ReadonlyMap<string, BrowserState>): Situation {
  const { memory } = situation;
  const left: Memory = {
    ...memory,
    asked: filtered(memory.asked, browsers),
    loggedOut: new Set([...memory.loggedOut].filter((name) => browsers.has(name))),
  };
  return { ...situation, browsers, memory: left };
}

function filtered(
  asked: ReadonlyMap<string, string>,
  browsers: ReadonlyMap<string, BrowserState>,
): ReadonlyMap<string, string> {
  return asked.size === 0 ? asked : new Map([...asked].filter(([name]) => browsers.has(name)));
}

/** Whether nothing but what was stolen or left behind is looked at: no person is there to do anything more. */
export function isPeopleless({ browsers, memory }: Situation): boolean {
  if (browsers.size === 0) return memory.leftBehind.length > 0;
  return browsers.size === 1 && browsers.has(THIEF);
}

function sharesAny(one: ReadonlySet<string>, other: ReadonlySet<string>): boolean {
  for (const each of one) if (other.has(each)) return true;
  return false;
}

/** The app's records that a browser can change by what it holds. */
function recordsHeld(state: AppState, { cookies, tab, behind }: BrowserState): ReadonlySet<string> {
  const records = new Set<string>();
  const add = (handle: string) => {
    for (const record of recordsOf(state, handle)) records.add(record);
  };
  for (const { value } of cookies) add(value);
  for (const { tokens } of [tab, ...behind]) {
    if (tokens === null) continue;
    add(tokens.access);
    if (tokens.refresh !== null) add(tokens.refresh);
  }
  return records;
}

/** The records behind a credential. */
function recordsOf(state: AppState, handle: string): ReadonlySet<string> {
  const records = new Set<string>();
  const family = (index: number | null | undefined) => {
    if (index !== null && index !== undefined) records.add(`family ${index}`);
  };
  const session = indexOf('session', handle);
  if (session >= 0) {
    records.add(`session ${session}`);
    family(state.sessions[session]?.family);
    return records;
  }
  family(state.accessTokens[indexOf('access', handle)]?.family);
  family(state.refreshTokens[indexOf('refresh', handle)]?.family);
  const series = state.remembered[indexOf('remember', handle)]?.series;
  if (series !== undefined) records.add(`series ${series}`);
  return records;
}
