// Step 4 of docs/proof-method.md: taking situations apart.

import type { AppState } from '../../app/app.js';
import type { BrowserState } from '../../browser/state.js';
import type { Account, Policy } from '../../language/policy.js';
import type { Memory } from '../../laws/memory.js';
import type { Stage } from '../../play/stage.js';
import { canonical } from '../situations/canonical.js';
import { isNobodyIn } from '../situations/keys-left.js';
import { isOfLink } from '../situations/links-left.js';
import { changesFacts } from '../choices/fact-changes.js';
import { THIEF } from '../choices/cast.js';
import type { Limits } from '../time/limits.js';
import { isOnlyChanged } from '../choices/open-moves.js';
import {
  accountOf,
  asAsked,
  asKnown,
  handlesOf,
  isRefreshed,
  recordsAndOwner,
  recordsHeld,
  recordsOf,
} from '../situations/records.js';
import { Reduction } from './reduction.js';
import type { Situation } from '../situations/situation.js';

const NO_ATTEMPTS: AppState['attempts'] = new Map();
const NO_LINKS: AppState['links'] = [];
const NO_KEYS: AppState['keys'] = [];
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
  /** What is left out of every situation first. */
  readonly reduction: Reduction;
  private readonly policy: Policy;
  /** Whether what one browser does changes what another of the same account may do. */
  private readonly sharesFacts: boolean;
  /** Whether the pages with forms ask for no tokens that are held: neither their script nor the app does. */
  private readonly formsAreQuiet: boolean;

  /** @param followsForms see `Reduction` */
  constructor(
    stage: Stage,
    private readonly limits: Limits,
    followsForms: boolean,
  ) {
    this.reduction = new Reduction(stage, limits, followsForms);
    this.policy = stage.app.policy;
    this.sharesFacts = changesFacts(this.policy) || this.policy.impersonation?.kept === 'account';
    const forms = Object.values(stage.client.forms).flatMap((form) =>
      form === null ? [] : (stage.app.router.find('GET', form.page) ?? []),
    );
    this.formsAreQuiet =
      stage.client.tokens?.kept !== 'cookie' &&
      forms.every(({ guard, page }) => guard !== 'browser' && (page?.loads ?? []).length === 0);
  }

  /** The parts of a situation without what does not matter, in canonical form. */
  partsOf(situation: Situation): Situation[] {
    return watchedApart(this.reduction.of(situation), this.sharesFacts)
      .flatMap((part) => browsersApart(part, this.sharesFacts))
      .flatMap((part) => this.formApart(part))
      .flatMap(tabsApart)
      .map((part) => canonical(this.settled(part), this.limits));
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

  /**
   * What a form passes on is followed only where nothing else is going on: it bears on nothing but the way in. Tokens from
   * before bear on nothing at a form, and go with whoever turns away from it.
   */
  private formApart(part: Situation): Situation[] {
    if (!this.isAtForm(part)) return [part];
    const { browsers, memory, state } = part;
    const isQuiet =
      !browsers.has(THIEF) &&
      memory.leftBehind.length === 0 &&
      [...browsers.values()].every(({ behind }) => behind.length === 0) &&
      isOnlyChanged(this.policy, state.accounts, null);
    if (!isQuiet) return [this.turnedAway(part)];
    const isHeld = [...browsers.values()].some(({ tab }) => tab.tokens !== null);
    if (!isHeld || !this.formsAreQuiet) return [part];
    const without = [...browsers].map(
      ([name, { tab, ...rest }]) => [name, { ...rest, tab: { ...tab, tokens: null } }] as const,
    );
    return [{ ...part, browsers: new Map(without) }, this.turnedAway(part)];
  }

  /** With everything forgotten that the app remembers of accounts to which nothing that anybody holds belongs. */
  private settled(part: Situation): Situation {
    const { state, memory } = part;
    const held = handlesOf(part);
    const inUse = new Set(held.flatMap((handle) => accountOf(state, handle) ?? []));
    for (const { acting } of state.sessions) if (acting !== null) inUse.add(acting.account);
    for (const { account } of state.acting.values()) inUse.add(account);
    if (isNobodyIn(part)) for (const { account } of state.keys) inUse.add(account);
    if (this.policy.session['at-once'] === 'first-wins') {
      for (const { account, ended } of state.sessions) {
        if (ended === null && account !== null) inUse.add(account);
      }
    }
    const mayRefresh = held.some((handle) => isRefreshed(state, handle));
    const changed = [...memory.changed].filter(
      ([name, { event }]) => inUse.has(name) && this.policy.promises.some(({ after }) => after === event),
    );
    return {
      state: {
        accounts: this.accounts(state, inUse),
        logins: state.logins,
        sessions: untried(state.sessions),
        families: state.families,
        accessTokens: state.accessTokens,
        refreshTokens: state.refreshTokens,
        attempts: NO_ATTEMPTS,
        providerSessions: state.providerSessions,
        codes: state.codes,
        asked: state.asked,
        links: NO_LINKS,
        remembered: state.remembered,
        // Machines act by themselves: they are looked at where nobody else does anything.
        keys: isNobodyIn(part) ? state.keys : NO_KEYS,
        acting: state.acting,
        joined: state.joined,
        flags: state.flags,
      },
      browsers: withoutLinks(part),
      memory: {
        asked: memory.asked,
        leftBehind: memory.leftBehind,
        copied: mayRefresh ? memory.copied : NOBODY,
        changed: changed.length === memory.changed.size ? memory.changed : new Map(changed),
        loggedOut: memory.loggedOut,
        linksAsked: NOBODY,
      },
      zone: part.zone,
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
      else if (now !== undefined) kept.set(name, asAsked(now, account));
    }
    for (const [name, account] of accounts) {
      // Somebody new has their name for a password, whatever they chose since.
      if (!known.has(name) && inUse.has(name)) kept.set(name, { ...account, password: name });
    }
    return asKnown(kept, known);
  }
}

/** Browsers without what tells which links they asked for. */
function withoutLinks({ browsers }: Situation): Situation['browsers'] {
  const isFree = ({ cookies }: BrowserState) => !cookies.some(isOfLink);
  if ([...browsers.values()].every(isFree)) return browsers;
  return new Map(
    [...browsers].map(([name, browser]) => {
      const cookies = browser.cookies.filter((cookie) => !isOfLink(cookie));
      return [name, isFree(browser) ? browser : { ...browser, cookies }];
    }),
  );
}

/** One-time codes as if nobody had tried them. */
function untried(sessions: AppState['sessions']): AppState['sessions'] {
  if (sessions.every(({ code }) => code === null || code.wrong === 0)) return sessions;
  return sessions.map((record) =>
    record.code === null ? record : { ...record, code: { ...record.code, wrong: 0 } },
  );
}

/** Each credential that was left behind, with the browsers that can still act on it; and everything, with nothing left behind. */
function watchedApart(situation: Situation, sharesFacts: boolean): Situation[] {
  const { memory, browsers } = situation;
  if (memory.leftBehind.length === 0) return [situation];
  const without = { ...situation, memory: { ...memory, leftBehind: [] } };
  const watched = memory.leftBehind.map((left): Situation => {
    const own = sharesFacts
      ? recordsAndOwner(situation.state, left.handle)
      : recordsOf(situation.state, left.handle);
    const concerned = new Map(
      [...browsers].filter(([, browser]) =>
        sharesAny(own, recordsHeld(situation.state, browser, sharesFacts)),
      ),
    );
    return only({ ...situation, memory: { ...memory, leftBehind: [left] } }, concerned);
  });
  return [without, ...watched];
}

/** The browsers in groups that have records in common, each group alone. */
function browsersApart(situation: Situation, sharesFacts: boolean): Situation[] {
  const { browsers, state } = situation;
  if (browsers.size < 2) return [situation];
  let groups: { readonly names: readonly string[]; readonly records: ReadonlySet<string> }[] = [];
  for (const [name, browser] of browsers) {
    const records = recordsHeld(state, browser, sharesFacts);
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

/** Each tab with the pages that it can show, while the others show none: nothing asks for those of two. */
function tabsApart(situation: Situation): Situation[] {
  const tabsOf = ({ tab, behind }: BrowserState) => [tab, ...behind];
  const showing = [...situation.browsers].flatMap(([name, browser]) =>
    tabsOf(browser).flatMap((tab, at) => ((tab.page ?? tab.history) ? [{ name, at }] : [])),
  );
  if (showing.length < 2) return [situation];
  return showing.map(({ name, at }) => {
    const only = (browser: BrowserState, of: string) => {
      const tabs = tabsOf(browser).map((tab, place) =>
        of === name && place === at ? tab : { ...tab, page: null, history: null },
      );
      const [tab = browser.tab, ...behind] = tabs;
      return { ...browser, tab, behind };
    };
    const browsers = [...situation.browsers].map(([of, browser]) => [of, only(browser, of)] as const);
    return { ...situation, browsers: new Map(browsers) };
  });
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

function sharesAny(one: Iterable<string>, other: ReadonlySet<string>): boolean {
  for (const each of one) if (other.has(each)) return true;
  return false;
}
