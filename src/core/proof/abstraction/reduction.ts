// Step 4 of docs/proof-method.md: taking situations apart.

import {
  indexOf,
  NO_LOGIN,
  type AppState,
  type RefreshToken,
  type SessionRecord,
  type TokenFamily,
} from '../../app/app.js';
import { sentPath } from '../../app/endpoints.js';
import { normalisePath } from '../../paths/normalise.js';
import type { Cookie } from '../../browser/cookie-jar.js';
import { passedOn } from '../../browser/forms.js';
import { BEGINNING } from '../../time/clock.js';
import type { BrowserState, HeldTokens, ShownPage, Tab } from '../../browser/state.js';
import { withParameter } from '../../http/address.js';
import { NO_FIELDS } from '../../http/messages.js';
import type { Policy } from '../../language/policy.js';
import type { Memory } from '../../laws/memory.js';
import type { Stage } from '../../play/stage.js';
import { THIEF } from '../choices/cast.js';
import type { Limits } from '../time/limits.js';
import { isOfLink } from '../situations/links-left.js';
import { isEvicted, isTokenOver, stillWatched } from '../situations/over.js';
import type { Situation } from '../situations/situation.js';
import { tokenRolesOf, type TokenRoles } from './token-roles.js';

/** A page of which only matters what its forms carry. */
const NOWHERE = '/-/';
const NOBODY: ReadonlySet<string> = new Set();
const NOTHING: ReadonlyMap<string, string> = new Map();
const NO_PAGE: Pick<Tab, 'page'> = { page: null };

/**
 * Leaves out of situations what no law can see and nothing that follows depends on: how a session ended and whose it was, the
 * page that is shown but for what its form passes on, cookies of sessions that are over, and all of a thief but what was stolen.
 */
export class Reduction {
  private readonly formPages: ReadonlySet<string | undefined>;
  private readonly landsByPage: boolean;
  /** Whether any page of a person may be shown again without asking. */
  private readonly mayKeep: boolean;
  /** Whether a logout leaves cookies as they are, so that a browser may bring back pages from before it. */
  private readonly mayFreeze: boolean;
  private readonly renewsId: boolean;
  /** Whether anything hangs on the session of a guest whom a login gives a new one. */
  private readonly guestsMatter: boolean;
  /** Whether what a guest asked for waits in their session. */
  private readonly keepsAsked: boolean;
  private readonly rolesAtLogin: boolean;
  /** Whether anything asks whether a session began by being known again. */
  private readonly asksResumed: boolean;
  /** Whether anything asks whether an access token was got for a refresh token. */
  private readonly asksRenewed: boolean;
  /** Whether an access token is refused for why its login has ended. */
  private readonly endsAccess: boolean;
  private readonly tokenRoles: TokenRoles;

  /** @param followsForms whether what a form passes on, and what a visitor asked for, is kept */
  constructor(
    private readonly stage: Stage,
    private readonly limits: Limits,
    readonly followsForms = true,
  ) {
    const { policy } = stage.app;
    this.formPages = new Set(Object.values(stage.client.forms).map((form) => form?.page));
    this.landsByPage = policy.logout?.lands.some(({ leaving }) => leaving !== null) === true;
    this.mayKeep =
      policy.backButton !== 'no-store' ||
      [...policy.pages, ...policy.rules].some(({ cache }) => cache !== null);
    this.mayFreeze = !clearsCookie(policy);
    this.renewsId = policy.logins.every(({ renewSessionId }) => renewSessionId);
    this.keepsAsked = policy.login?.return?.kept === 'session';
    this.guestsMatter = stage.client.csrfField !== null || this.keepsAsked;
    this.rolesAtLogin = policy.session.roles === 'at-login';
    this.asksResumed =
      limits.loginWithin > 0 ||
      policy.session.kept === 'sealed' ||
      policy.promises.some(({ copied }) => copied === 'remember');
    this.asksRenewed = policy.promises.some(({ copied }) => copied === 'refresh');
    this.endsAccess = [policy.logout, policy.password].some((rules) => rules?.ends.has('access') === true);
    this.tokenRoles = tokenRolesOf(stage);
  }

  /** The situation without what does not matter. */
  of(situation: Situation): Situation {
    const { state } = situation;
    const { families, refreshTokens } = this.tokens(state);
    const browsers = new Map<string, BrowserState>();
    for (const [name, browser] of situation.browsers) {
      const left = name === THIEF ? this.thief(situation, browser) : this.person(situation, browser);
      if (left !== null) browsers.set(name, left);
    }
    return {
      state: {
        accounts: state.accounts,
        logins: state.logins,
        sessions: state.sessions.map((record) => this.session(situation, record)),
        families,
        accessTokens: this.accessTokens(situation),
        refreshTokens,
        attempts: only(state.attempts, ([name]) => state.accounts.has(name)),
        providerSessions: state.providerSessions,
        codes: state.codes,
        asked: state.asked,
        links: state.links,
        remembered: state.remembered,
        keys: state.keys,
        acting: state.acting,
        joined: state.joined,
        flags: state.flags,
      },
      browsers,
      memory: this.memory(situation),
      zone: situation.zone,
    };
  }

  /** A tab of a browser with what matters of its pages. */
  shown(tab: Tab, browser: string): Tab {
    if (browser !== THIEF) return this.tab(tab);
    const { page } = this.stage.client.csrfField === null ? NO_PAGE : this.tab(tab);
    return { page: page && { ...page, kept: false, frozen: false }, tokens: tab.tokens, history: null };
  }

  /** The address that a form page passes on; null for any other page. */
  passedOn(page: ShownPage | null): string | null {
    const { client } = this.stage;
    if (!this.followsForms || client.returnParameter === null || page === null) return null;
    return this.hasForm(page) ? passedOn(client, page) : null;
  }

  private hasForm({ again, status, address }: ShownPage): boolean {
    return again !== null || (status === 200 && this.formPages.has(normalisePath(address.path) ?? ''));
  }

  /** How a token came about is asked only where copies of what it was got for are promised something. */
  private accessTokens(situation: Situation): AppState['accessTokens'] {
    const tokens = this.tokenRoles.of(situation, this.limits);
    if (this.asksRenewed || !tokens.some(({ renewed }) => renewed)) return tokens;
    return tokens.map((token) => (token.renewed ? { ...token, renewed: false } : token));
  }

  /** A refresh token of a login that has ended is refused whatever became of it before. */
  private tokens({ families, refreshTokens }: AppState): Pick<AppState, 'families' | 'refreshTokens'> {
    if (families.every(({ ended }) => ended === null)) return { families, refreshTokens };
    return {
      families: this.endsAccess ? families : families.map(endedAnyhow),
      refreshTokens: refreshTokens.map((token) =>
        families[token.family]?.ended === null ? token : { ...REFUSED, family: token.family },
      ),
    };
  }

  private isOver({ zone }: Situation, { ended, startedAt, activeAt }: SessionRecord): boolean {
    const { absolute, idle } = this.limits;
    if (ended !== null) return true;
    if (absolute !== null && zone.ages(startedAt).least >= absolute) return true;
    return idle !== null && zone.ages(activeAt).least >= idle;
  }

  private session(situation: Situation, record: SessionRecord): SessionRecord {
    if (this.isOver(situation, record)) {
      return { ...OVER, startedAt: record.startedAt, activeAt: record.activeAt };
    }
    const isAsked = record.asked !== null && !(this.followsForms && this.isPage(record.asked));
    const isPlain = (this.rolesAtLogin || record.roles === NOBODY) && (this.asksResumed || !record.resumed);
    if (isPlain && !isAsked) return record;
    const roles = this.rolesAtLogin ? record.roles : NOBODY;
    const asked = isAsked ? null : record.asked;
    return { ...record, roles, resumed: record.resumed && this.asksResumed, asked };
  }

  /** Whether a cookie holds what is over: it is as good as none, unless the next login goes on under its session id. */
  private isDead(situation: Situation, cookie: Cookie): boolean {
    if (isEvicted(cookie, situation.zone)) return true;
    const { value } = cookie;
    if (situation.state.remembered[indexOf('remember', value)]?.ended === true) return true;
    const record = situation.state.sessions[indexOf('session', value)];
    if (!this.renewsId || record === undefined) return false;
    return this.isOver(situation, record) || (record.account === null && !this.guestsMatter);
  }

  private cookies(situation: Situation, { cookies }: BrowserState): BrowserState['cookies'] {
    const alive = cookies.filter((cookie) => !this.isDead(situation, cookie));
    const names = new Set(alive.map(({ name }) => name));
    // Only among cookies of one name does their order matter (RFC 6265 §5.4).
    return names.size < alive.length ? alive : alive.sort((one, other) => (one.name < other.name ? -1 : 1));
  }

  private person(situation: Situation, browser: BrowserState): BrowserState {
    return {
      cookies: this.cookies(situation, browser),
      tab: this.tab(browser.tab),
      behind: browser.behind.map((tab) => this.tab(tab)),
      client: browser.client,
    };
  }

  private tab({ page, tokens, history }: Tab): Tab {
    const isKept = history !== null && this.isShownAgain(history.page);
    return {
      page: page === null ? null : this.page(page),
      tokens: this.tokenRoles.held(tokens),
      history: isKept
        ? { page: this.again(history.page), before: null, sameDocument: history.sameDocument, leftAt: null }
        : null,
    };
  }

  /** Whether the back button may show a page of somebody without asking, and it is one that not everybody is shown. */
  private isShownAgain(page: ShownPage): boolean {
    const { kept, frozen, reader } = page;
    if (reader === null || !((this.mayKeep && kept) || (this.mayFreeze && frozen))) return false;
    return page.script !== null || page.token !== null || this.hasForm(page) || !this.isForAll(page);
  }

  private isForAll({ method, address }: ShownPage): boolean {
    const audience = this.stage.app.router.find(method, address.path)?.grounds.audience;
    return audience?.who === 'everyone' || audience?.who === 'guests';
  }

  private again(page: ShownPage): ShownPage {
    const { origin, path, query } = page.address;
    return {
      ...page,
      address: { origin, path, query },
      menu: [],
      parts: [],
      frozen: this.mayFreeze && page.frozen,
    };
  }

  private page(page: ShownPage): ShownPage | null {
    const { address } = page;
    // Whoever stands at a provider comes to it anew.
    if (this.stage.client.issuers.has(address.origin)) return null;
    if (this.landsByPage || this.isShownAgain(page)) return this.again(page);
    const back = this.passedOn(page);
    const token = this.stage.client.csrfField === null ? null : page.token;
    // Whoever is at a form goes on from there with what waits in the session; who goes to it anew does not ask for it any more.
    const isAt = back !== null || (this.followsForms && this.keepsAsked && this.hasForm(page));
    if (!isAt && token === null) return null;
    const { returnParameter, forms } = this.stage.client;
    const query = back === null ? '' : withParameter('', returnParameter ?? '', back);
    // What is shown again at its endpoint is as good as the form's own page.
    const at = page.again === null ? address.path : (forms[page.again]?.page ?? address.path);
    return {
      address: { origin: address.origin, path: isAt ? at : NOWHERE, query },
      method: 'GET',
      status: 200,
      menu: [],
      parts: [],
      reader: null,
      kept: false,
      frozen: false,
      sent: NO_FIELDS,
      again: null,
      crossSite: false,
      token,
      script: null,
      refusals: null,
    };
  }

  /** A thief types addresses and logs in nowhere; one with nothing left to show is gone. */
  private thief(situation: Situation, browser: BrowserState): BrowserState | null {
    const cookies = this.cookies(situation, browser).filter((cookie) => !isOfLink(cookie));
    const { tokens } = browser.tab;
    const held = tokens !== null && this.isOfUse(situation, tokens) ? this.tokenRoles.held(tokens) : null;
    if (cookies.length === 0 && held === null) return null;
    const { page } = this.shown(browser.tab, THIEF);
    return { cookies, tab: { page, tokens: held, history: null }, behind: [], client: browser.client };
  }

  private isOfUse(situation: Situation, { access, refresh }: HeldTokens): boolean {
    const { state } = situation;
    // Of tokens in cookies script knows only that they are there.
    if (access === '' && refresh === null) return true;
    const token = state.accessTokens[indexOf('access', access)];
    if (token !== undefined && !isTokenOver(token, situation.zone, this.limits)) return true;
    const family = state.refreshTokens[indexOf('refresh', refresh ?? '')]?.family;
    return family !== undefined && state.families[family]?.ended === null;
  }

  private isPage(address: string): boolean {
    return (this.stage.app.router.find('GET', sentPath(address))?.page ?? null) !== null;
  }

  private memory(situation: Situation): Memory {
    const { stage } = this;
    const { asked, copied, changed, loggedOut, linksAsked } = situation.memory;
    return {
      asked: !this.followsForms
        ? NOTHING
        : only(asked, ([name, address]) => name !== THIEF && this.isPage(address)),
      leftBehind: stillWatched(stage, situation),
      copied,
      changed,
      loggedOut: loggedOut.size === 0 || this.mayKeep || this.mayFreeze ? loggedOut : NOBODY,
      linksAsked,
    };
  }
}

/** Whether a logout of somebody who is signed in always changes a cookie of their browser. */
function clearsCookie({ login, logout, tokens }: Policy): boolean {
  if (logout === null || login === null) return true;
  const { clears } = logout;
  if (login.by !== 'tokens' && clears.has('session')) return true;
  // Pages that no cookie opens are nobody's.
  if (login.by !== 'tokens') return false;
  return tokens?.kept !== 'cookie' || clears.has('access') || clears.has('refresh');
}

function only<Value>(
  map: ReadonlyMap<string, Value>,
  isKept: (entry: readonly [string, Value]) => boolean,
): ReadonlyMap<string, Value> {
  if (map.size === 0) return map;
  const kept = [...map].filter(isKept);
  return kept.length === map.size ? map : new Map(kept);
}

const OVER: Omit<SessionRecord, 'startedAt' | 'activeAt'> = {
  account: '',
  login: NO_LOGIN,
  ended: 'signed-out',
  family: null,
  roles: NOBODY,
  asRole: null,
  secondFactor: false,
  resumed: false,
  half: false,
  code: null,
  asked: null,
  secret: null,
  acting: null,
  tokens: 0,
};

const REFUSED: Omit<RefreshToken, 'family'> = { issuedAt: BEGINNING, replaced: null };

function endedAnyhow(family: TokenFamily): TokenFamily {
  return family.ended === null ? family : { ...family, ended: 'signed-out' };
}
