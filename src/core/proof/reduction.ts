import { indexOf, type AppState, type SessionRecord } from '../app/app.js';
import { pathOf } from '../app/router.js';
import type { Cookie } from '../browser/cookie-jar.js';
import type { BrowserState, HeldTokens, ShownPage, Tab } from '../browser/state.js';
import { parameterOf, withParameter } from '../http/address.js';
import type { Memory } from '../laws/memory.js';
import type { Stage } from '../walks/stage.js';
import { THIEF } from './cast.js';
import type { Limits } from './limits.js';
import type { Situation } from './situation.js';

const NOBODY: ReadonlySet<string> = new Set();

/**
 * Leaves out of situations what no law can see and nothing that follows depends on: how a session ended and whose it was, the
 * page that is shown but for what its form passes on, cookies of sessions that are over, and all of a thief but what was stolen.
 */
export class Reduction {
  private readonly formPages: ReadonlySet<string | undefined>;
  private readonly landsByPage: boolean;
  /** Whether any page of a person may be shown again without asking. */
  private readonly mayKeep: boolean;
  private readonly renewsId: boolean;
  private readonly rolesAtLogin: boolean;

  constructor(
    private readonly stage: Stage,
    private readonly limits: Limits,
  ) {
    const { policy } = stage.app;
    this.formPages = new Set(Object.values(stage.client.forms).map((form) => form?.page));
    this.landsByPage = policy.logout?.lands.some(({ leaving }) => leaving !== null) === true;
    this.mayKeep = policy.backButton !== 'no-store' || policy.pages.some(({ cache }) => cache !== null);
    this.renewsId = policy.login?.renewSessionId !== false;
    this.rolesAtLogin = policy.session.roles === 'at-login';
  }

  /** The situation without what does not matter. */
  of(situation: Situation): Situation {
    const { state } = situation;
    const attempts = [...state.attempts.keys()].every((name) => state.accounts.has(name))
      ? state.attempts
      : new Map([...state.attempts].filter(([name]) => state.accounts.has(name)));
    const sessions = state.sessions.map((record) => this.session(situation, record));
    const browsers = new Map<string, BrowserState>();
    for (const [name, browser] of situation.browsers) {
      const left = name === THIEF ? this.thief(situation, browser) : this.person(situation, browser);
      if (left !== null) browsers.set(name, left);
    }
    return {
      state: { ...state, sessions, attempts },
      browsers,
      memory: this.memory(situation.memory),
      zone: situation.zone,
    };
  }

  /**
   * What a move came to, in few letters, where that is hardly anything: one session became active, or nothing happened at all,
   * and the page that is shown does not matter. Null where it came to more.
   */
  plainEffect(before: Situation, name: string, after: Situation): string | null {
    if (before.memory !== after.memory) return null;
    const [from, to] = [before.browsers.get(name), after.browsers.get(name)];
    if (from === undefined || to === undefined) return null;
    const isSame =
      from.cookies === to.cookies && from.behind === to.behind && from.tab.tokens === to.tab.tokens;
    if (!isSame) return null;
    if (name !== THIEF) {
      const { page, history } = this.tab(to.tab);
      if (page !== null || history !== null) return null;
    }
    if (before.state === after.state) return name;
    const active = activated(before.state, after.state);
    return active === null ? null : `${name} ${active}`;
  }

  /** The address that a form page passes on; null for any other page. */
  passedOn(page: ShownPage | null): string | null {
    const { returnParameter } = this.stage.client;
    if (returnParameter === null || page?.status !== 200) return null;
    return this.formPages.has(page.address.path) ? parameterOf(page.address.query, returnParameter) : null;
  }

  private isOver({ zone }: Situation, { ended, startedAt, activeAt }: SessionRecord): boolean {
    const { absolute, idle } = this.limits;
    if (ended !== null) return true;
    if (absolute !== null && zone.ages(startedAt).least >= absolute) return true;
    return idle !== null && zone.ages(activeAt).least >= idle;
  }

  private session(situation: Situation, record: SessionRecord): SessionRecord {
    if (this.isOver(situation, record)) {
      const { startedAt, activeAt } = record;
      return { ...OVER, startedAt, activeAt };
    }
    return this.rolesAtLogin ? record : { ...record, roles: NOBODY };
  }

  /** Whether a cookie holds what is over: it is as good as none, unless the next login goes on under its session id. */
  private isDead(situation: Situation, { value }: Cookie): boolean {
    if (situation.state.remembered[indexOf('remember', value)]?.ended === true) return true;
    const record = situation.state.sessions[indexOf('session', value)];
    return this.renewsId && record !== undefined && this.isOver(situation, record);
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
    const isKept = history !== null && history.page.kept && history.page.reader !== null;
    return {
      page: page === null ? null : this.page(page),
      tokens,
      history: isKept ? { page: { ...history.page, menu: [] }, before: null } : null,
    };
  }

  private page(page: ShownPage): ShownPage | null {
    const { address } = page;
    if (this.landsByPage || (this.mayKeep && page.kept && page.reader !== null)) {
      return {
        ...page,
        address: { origin: address.origin, path: address.path, query: address.query },
        menu: [],
      };
    }
    const back = this.passedOn(page);
    if (back === null) return null;
    const query = withParameter('', this.stage.client.returnParameter ?? '', back);
    return {
      address: { origin: address.origin, path: address.path, query },
      method: 'GET',
      status: 200,
      menu: [],
      reader: null,
      kept: false,
    };
  }

  /** A thief types addresses and logs in nowhere; one with nothing left to show is gone. */
  private thief(situation: Situation, browser: BrowserState): BrowserState | null {
    const cookies = this.cookies(situation, browser);
    const { tokens } = browser.tab;
    const held = tokens !== null && this.isOfUse(situation, tokens) ? tokens : null;
    if (cookies.length === 0 && held === null) return null;
    return { cookies, tab: { page: null, tokens: held, history: null }, behind: [], client: browser.client };
  }

  private isOfUse({ state, zone }: Situation, { access, refresh }: HeldTokens): boolean {
    // Of tokens in cookies script knows only that they are there.
    if (access === '' && refresh === null) return true;
    const token = state.accessTokens[indexOf('access', access)];
    if (token !== undefined && zone.ages(token.issuedAt).least < this.limits.accessIssued) return true;
    const family = state.refreshTokens[indexOf('refresh', refresh ?? '')]?.family;
    return family !== undefined && state.families[family]?.ended === null;
  }

  private memory(memory: Memory): Memory {
    const asked = [...memory.asked].filter(
      ([name, address]) =>
        name !== THIEF && (this.stage.app.router.find('GET', pathOf(address))?.page ?? null) !== null,
    );
    const loggedOut = this.mayKeep ? [...memory.loggedOut].filter((name) => name !== THIEF) : [];
    return {
      ...memory,
      asked: asked.length === memory.asked.size ? memory.asked : new Map(asked),
      loggedOut: loggedOut.length === memory.loggedOut.size ? memory.loggedOut : new Set(loggedOut),
    };
  }
}

const OVER: Omit<SessionRecord, 'startedAt' | 'activeAt'> = {
  account: '',
  ended: 'signed-out',
  family: null,
  roles: NOBODY,
  asRole: null,
  secondFactor: false,
  half: false,
  code: null,
};

/** The one session that became active, where two states differ in nothing else; null where they differ in more. */
function activated(before: AppState, after: AppState): number | null {
  for (const key of STATE_KEYS) if (key !== 'sessions' && before[key] !== after[key]) return null;
  const [old, now] = [before.sessions, after.sessions];
  if (old.length !== now.length) return null;
  let active = -1;
  for (const [index, record] of now.entries()) {
    const known = old[index];
    if (record === known) continue;
    if (active >= 0 || known === undefined) return null;
    for (const key of SESSION_KEYS) if (key !== 'activeAt' && known[key] !== record[key]) return null;
    active = index;
  }
  return active;
}

const STATE_KEYS: readonly (keyof AppState)[] = [
  'accounts',
  'sessions',
  'families',
  'accessTokens',
  'refreshTokens',
  'attempts',
  'confirmations',
  'remembered',
];
const SESSION_KEYS: readonly (keyof SessionRecord)[] = [
  'account',
  'startedAt',
  'activeAt',
  'ended',
  'family',
  'roles',
  'asRole',
  'secondFactor',
  'half',
  'code',
];
