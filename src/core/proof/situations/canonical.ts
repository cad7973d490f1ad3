// Step 2 of docs/proof-method.md: situations and moves.

import {
  handle,
  indexOf,
  NO_LOGIN,
  type Acting,
  type AppState,
  type RefreshToken,
  type SessionRecord,
} from '../../app/app.js';
import { NO_LONGER_SPARED, type Cookie } from '../../browser/cookie-jar.js';
import type { BrowserState, HeldTokens, ShownPage, Tab } from '../../browser/state.js';
import { BEGINNING, type Instant, instantOf } from '../../time/clock.js';
import type { Seconds } from '../../time/duration.js';
import type { Memory } from '../../laws/memory.js';
import { CREDENTIALS, type Credential } from '../../vocabulary/credentials.js';
import type { Limits } from '../time/limits.js';
import { attemptsLeft } from './attempts-left.js';
import { keysLeft } from './keys-left.js';
import { isOfLink, linkLife, linksLeft } from './links-left.js';
import { mapped, Numbers, sorted } from './numbers.js';
import { isKnownThere, isOfProvider, providersLeft } from './providers-left.js';
import { isEvicted, stillWatched } from './over.js';
import type { Situation } from './situation.js';

/**
 * A situation without what can never matter again, and with everything that is only numbered, records and clocks, numbered in
 * the order in which it is met. So two situations that differ in no more than history and numbers become the same.
 *
 * What goes: records that nobody can show and the app asks nothing of, clocks of whom nothing is asked, and bounds on ages beyond
 * the largest limit.
 */
export function canonical(situation: Situation, limits: Limits): Situation {
  return canonicalWithClocks(situation, limits).situation;
}

/** The same, with the clocks of the situation before that the new ones are, and the largest age that each is compared with. */
export function canonicalWithClocks(
  situation: Situation,
  limits: Limits,
): {
  readonly situation: Situation;
  readonly clocks: readonly number[];
  readonly largest: readonly Seconds[];
} {
  const renaming = new Renaming(situation, limits);
  return { situation: renaming.result(), clocks: renaming.oldClocks, largest: renaming.largest };
}

class Renaming {
  private readonly records: Readonly<Record<Credential | 'family' | 'secret' | 'login', Numbers>> = {
    session: new Numbers(),
    access: new Numbers(),
    refresh: new Numbers(),
    remember: new Numbers(),
    family: new Numbers(),
    secret: new Numbers(),
    login: new Numbers(),
  };
  /**
   * The old clock behind each new one. Every place where an instant stands has a clock of its own, since what happened at one
   * instant and what happened at two is told apart by ages well enough.
   */
  readonly oldClocks: number[] = [];
  private readonly providers = new Numbers();
  /** The links that are left, by their old numbers. */
  private readonly links: readonly number[];
  /** The largest age that each kept clock is compared with, by its new number. */
  readonly largest: Seconds[] = [];

  constructor(
    private readonly from: Situation,
    private readonly limits: Limits,
  ) {
    const { state, zone } = from;
    this.links = state.links.length === 0 ? NO_LINKS : linksLeft(state, limits, zone);
  }

  result(): Situation {
    const { zone } = this.from;
    const browsers = new Map<string, BrowserState>();
    for (const [name, browser] of sorted(this.from.browsers)) browsers.set(name, this.browser(browser));
    const memory = this.memory();
    const state = this.state();
    return { state, browsers, memory, zone: zone.only(this.oldClocks).coarsened(this.largest) };
  }

  /** A clock for an instant; one of which nothing is asked needs no clock. */
  private instant(old: Instant, largest: Seconds): Instant {
    if (largest === 0 || old === BEGINNING) return BEGINNING;
    this.oldClocks.push(old);
    this.largest.push(largest);
    return instantOf(this.oldClocks.length);
  }

  /** A handle with its new number; any other text as it is. */
  private handle(text: string): string {
    for (const kind of CREDENTIALS) {
      const index = indexOf(kind, text);
      if (index >= 0) return handle(kind, this.records[kind].of(index));
    }
    const provider = indexOf('provider', text);
    if (provider >= 0) return handle('provider', this.providers.of(provider));
    const link = indexOf('link', text);
    return link < 0 ? text : handle('link', this.links.indexOf(link));
  }

  private browser({ cookies, tab, behind, client }: BrowserState): BrowserState {
    return {
      cookies: cookies.flatMap((cookie) => (this.isOver(cookie) ? [] : this.cookie(cookie))),
      tab: this.tab(tab),
      behind: behind.map((each) => this.tab(each)),
      client,
    };
  }

  /** Whether a cookie is over, or of a link that comes to nothing any more. */
  private isOver(cookie: Cookie): boolean {
    if (isEvicted(cookie, this.from.zone)) return true;
    if (isOfProvider(cookie)) return !isKnownThere(cookie, this.from, this.limits);
    return isOfLink(cookie) && !this.links.includes(indexOf('link', cookie.value));
  }

  private cookie(cookie: Cookie): Cookie {
    return {
      name: cookie.name,
      value: this.handle(cookie.value),
      host: cookie.host,
      hostOnly: cookie.hostOnly,
      path: cookie.path,
      secure: cookie.secure,
      httpOnly: cookie.httpOnly,
      sameSite: cookie.sameSite,
      storedAt: this.instant(cookie.storedAt, cookie.life ?? 0),
      createdAt: cookie.sameSite === null ? this.instant(cookie.createdAt, NO_LONGER_SPARED) : BEGINNING,
      life: cookie.life,
      ...(cookie.copied === true ? { copied: true as const } : {}),
    };
  }

  private tab({ page, tokens, history }: Tab): Tab {
    return {
      page: page && this.page(page),
      tokens: tokens && this.tokens(tokens),
      // One page back is as far as anybody goes.
      history: history && {
        page: this.page(history.page),
        before: null,
        sameDocument: history.sameDocument,
        leftAt: null,
      },
    };
  }

  /** What forms of a page carry matters as long as a session takes it. */
  private page(page: ShownPage): ShownPage {
    if (page.token === null) return page;
    const [, secret, number = 0] = /^form-(\d+)(?:\.(\d+))?$/.exec(page.token) ?? [];
    const index = Number(secret) - 1;
    const isGood = this.from.state.sessions.some(
      (record) => record.secret === index && record.ended === null && record.tokens === Number(number),
    );
    const token = isGood ? `form-${this.records.secret.of(index) + 1}${number === 0 ? '' : '.1'}` : null;
    return { ...page, token };
  }

  private tokens(held: HeldTokens): HeldTokens {
    return {
      access: this.handle(held.access),
      refresh: held.refresh === null ? null : this.handle(held.refresh),
      receivedAt: this.instant(held.receivedAt, Math.max(held.expiresIn, this.limits.tokensReceived)),
      expiresIn: held.expiresIn,
      claims: held.claims,
    };
  }

  private memory(): Memory {
    const { asked, copied, changed, loggedOut, linksAsked } = this.from.memory;
    const { stage, sinceEvent } = this.limits;
    return {
      asked: sorted(asked),
      leftBehind: stillWatched(stage, this.from).map((left) => ({
        after: left.after,
        what: left.what,
        handle: this.handle(left.handle),
        at: this.instant(left.at, sinceEvent[left.after]),
      })),
      // Of copies it matters only whether a refresh token is in other hands.
      copied: isRefreshAmong(copied) ? A_REFRESH : NONE,
      changed: mapped(sorted(changed), ({ event, at }) => ({
        event,
        at: this.instant(at, sinceEvent[event]),
      })),
      loggedOut: inOrder(loggedOut),
      linksAsked: inOrder(linksAsked),
    };
  }

  /** The app's records, those that can be shown first, then those that they lead to. */
  private state(): AppState {
    const { state } = this.from;
    if (this.limits.stage.app.policy.session['at-once'] === 'first-wins') {
      state.sessions.forEach((record, index) => {
        const isOpen = record.account !== null && record.ended === null && !this.isExpired(record);
        if (isOpen) this.records.session.of(index);
      });
    }
    const sessions = this.each('session', state.sessions, (record) => this.session(record));
    const refreshTokens = this.each('refresh', state.refreshTokens, (record) => this.refresh(record));
    const accessTokens = this.each('access', state.accessTokens, ({ family, roles, issuedAt, renewed }) => ({
      family: this.records.family.of(family),
      roles,
      issuedAt: this.instant(issuedAt, this.limits.accessIssued),
      renewed,
    }));
    const families = this.each('family', state.families, (record) => ({
      account: record.account,
      login: this.login(record),
      startedAt: this.instant(record.startedAt, this.limits.familyStarted),
      ended: record.ended,
      asRole: record.asRole,
      secondFactor: record.secondFactor,
    }));
    const remembered = this.each('remember', state.remembered, (record) => ({
      account: record.account,
      login: this.login(record),
      issuedAt: this.instant(record.issuedAt, this.limits.remembered),
      used: record.used,
      ended: record.ended,
    }));
    return {
      accounts: state.accounts,
      logins: this.records.login.old.length,
      sessions,
      families,
      accessTokens,
      refreshTokens,
      attempts: attemptsLeft(state, this.limits, this.from.zone, (at, life) => this.instant(at, life)),
      ...providersLeft(state, this.providers.old, this.limits, (at, life) => this.instant(at, life)),
      links: this.links.flatMap((index) => {
        const link = state.links[index];
        return link === undefined
          ? []
          : [{ ...link, sentAt: this.instant(link.sentAt, linkLife(this.limits, link)) }];
      }),
      remembered,
      keys: keysLeft(state, this.limits, this.from.zone, (at, life) => this.instant(at, life)),
      acting: mapped(sorted(state.acting), (each) => this.acting(each)),
      joined: this.joined(),
      flags: state.flags,
    };
  }

  /** When accounts were made that are there, as long as that can still be asked. */
  private joined(): AppState['joined'] {
    const { state, zone } = this.from;
    const { joinedWithin } = this.limits;
    if (state.joined.size === 0) return state.joined;
    const asked = [...sorted(state.joined)].filter(
      ([name, at]) => joinedWithin > 0 && state.accounts.has(name) && zone.ages(at).least < joinedWithin,
    );
    return new Map(asked.map(([name, at]) => [name, this.instant(at, joinedWithin)]));
  }

  /** The records of a kind in their new order; some may be met only while others are made. */
  private each<Of>(
    kind: Credential | 'family',
    records: readonly Of[],
    make: (record: Of, index: number) => Of,
  ): Of[] {
    const made: Of[] = [];
    const { old } = this.records[kind];
    for (let index = 0; index < old.length; index++) {
      const record = records[old[index] ?? -1];
      if (record !== undefined) made.push(make(record, index));
    }
    return made;
  }

  private session(record: SessionRecord): SessionRecord {
    const { family, code, ended, secret } = record;
    // Of a session that has ended nothing is asked but whose it was.
    const isOver = ended !== null;
    return {
      account: record.account,
      login: this.login(record),
      startedAt: this.instant(record.startedAt, isOver ? 0 : this.limits.sessionStarted),
      activeAt: this.instant(record.activeAt, isOver ? 0 : this.limits.sessionActive),
      ended,
      family: family === null ? null : this.records.family.of(family),
      roles: record.roles,
      asRole: record.asRole,
      secondFactor: record.secondFactor,
      resumed: record.resumed,
      half: record.half,
      code: code && { ...code, sentAt: this.instant(code.sentAt, isOver ? 0 : this.limits.codeSent) },
      asked: record.asked,
      acting: record.acting === null || isOver ? null : this.acting(record.acting),
      secret: secret === null ? null : this.records.secret.of(secret),
      tokens: record.tokens === 0 ? 0 : 1,
    };
  }

  private login({ login }: { readonly login: number }): number {
    return login === NO_LOGIN ? NO_LOGIN : this.records.login.of(login);
  }

  private acting({ account, since }: Acting): Acting {
    return { account, since: this.instant(since, this.limits.acting) };
  }

  private isExpired({ startedAt, activeAt }: SessionRecord): boolean {
    const { absolute, idle } = this.limits;
    const isPast = (since: Instant, limit: Seconds | null) =>
      limit !== null && this.from.zone.ages(since).least >= limit;
    return isPast(startedAt, absolute) || isPast(activeAt, idle);
  }

  private refresh(record: RefreshToken): RefreshToken {
    const { replaced } = record;
    const { refreshReplaced: grace } = this.limits;
    // The answer that it got once is given again only within the grace.
    const again = grace > 0 && replaced !== null && this.from.zone.ages(replaced.at).least < grace;
    return {
      family: this.records.family.of(record.family),
      issuedAt: this.instant(record.issuedAt, this.limits.refreshIssued),
      replaced: replaced && {
        at: this.instant(replaced.at, grace),
        access: again ? this.records.access.of(replaced.access) : 0,
        refresh: again ? this.records.refresh.of(replaced.refresh) : 0,
      },
    };
  }
}

const NO_LINKS: readonly number[] = [];
const NONE: ReadonlySet<string> = new Set();
const A_REFRESH: ReadonlySet<string> = new Set(['refresh']);

function inOrder(set: ReadonlySet<string>): ReadonlySet<string> {
  return set.size < 2 ? set : new Set([...set].sort());
}

function isRefreshAmong(handles: ReadonlySet<string>): boolean {
  for (const each of handles) if (each.startsWith('refresh')) return true;
  return false;
}
