// Step 2 of docs/proof-method.md: situations and moves.

import type {
  AccessToken,
  Acting,
  ApiKey,
  AppState,
  FailedAttempts,
  LinkSent,
  ProviderSession,
  RefreshToken,
  Remembered,
  SessionRecord,
  TokenFamily,
} from '../../app/app.js';
import { factsKey } from '../../app/classes.js';
import type { BrowserState, ShownPage, Tab } from '../../browser/state.js';
import type { Account } from '../../language/policy.js';
import type { Memory } from '../../laws/memory.js';
import type { Situation } from './situation.js';

/** What of situations matters in their differences. */
export interface Matters {
  /** A tab of a browser with what matters of its pages. */
  shown(tab: Tab, browser: string): Tab;
  readonly followsForms: boolean;
}

/**
 * Writes what tells a canonical situation from others, but for its ages: situations with one key can be compared by their zones.
 * Texts are numbered as they come, so that none can be taken for a separator and keys are short; keys of two writers do not compare.
 */
export class KeyWriter {
  private readonly numbers = new Map<string, number>();
  private readonly accounts = new WeakMap<AppState['accounts'], string>();
  private readonly sets = new WeakMap<ReadonlySet<string>, number>();

  /** @param known the accounts as they are where nothing happened to them; only others are written */
  constructor(private readonly known: ReadonlyMap<string, Account>) {}

  /** The key of a situation. */
  of({ state, browsers, memory }: Situation): string {
    let key = this.stateKey(state);
    for (const [name, browser] of browsers) key += `B${this.text(name)}${this.browserKey(browser)}`;
    return key + this.memoryKey(memory);
  }

  /**
   * What tells a situation from the one before it, however the two are numbered: situations that come from one and have the
   * same difference to it are the same, but for their ages.
   *
   * @param matters tells what of pages and of what was asked for is part of it
   */
  ofDifference(before: Situation, after: Situation, matters: Matters): string {
    let key = before.state === after.state ? '' : this.stateDifference(before.state, after.state);
    for (const [name, browser] of after.browsers) {
      const known = before.browsers.get(name);
      if (known === browser) continue;
      key += `B${this.text(name)}`;
      if (known?.cookies !== browser.cookies) key += `C${this.cookiesKey(browser.cookies)}`;
      const { page, tokens, history } = matters.shown(browser.tab, name);
      key += this.tabKey({ page, tokens: tokens === known?.tab.tokens ? null : tokens, history });
      if (tokens === null) key += '-';
      if (known?.behind !== browser.behind) {
        key += 'b';
        for (const tab of browser.behind) key += this.tabKey(tab);
      }
      key += `@${this.text(browser.client)}`;
    }
    if (before.memory === after.memory) return key;
    return key + this.memoryKey(after.memory, matters.followsForms);
  }

  private stateDifference(before: AppState, after: AppState): string {
    let key = before.accounts === after.accounts ? '' : `A${this.accountsKey(after.accounts)}`;
    key += recordsDifference(before.sessions, after.sessions, this.sessionKey);
    key += recordsDifference(before.families, after.families, this.familyKey);
    key += recordsDifference(before.accessTokens, after.accessTokens, this.accessKey);
    key += recordsDifference(before.refreshTokens, after.refreshTokens, this.refreshKey);
    key += recordsDifference(before.links, after.links, this.linkKey);
    key += recordsDifference(before.providerSessions, after.providerSessions, this.providerKey);
    key += recordsDifference(before.remembered, after.remembered, this.rememberedKey);
    key += recordsDifference(before.keys, after.keys, this.apiKey);
    if (before.acting !== after.acting) key += this.actingOf(after);
    if (before.flags !== after.flags || before.joined !== after.joined) key += this.appKey(after);
    if (before.attempts === after.attempts) return key;
    for (const [name, attempts] of after.attempts) key += this.attemptsKey(name, attempts);
    return `${key}T`;
  }

  private text(text: string | null): number {
    if (text === null) return -1;
    let number = this.numbers.get(text);
    if (number === undefined) this.numbers.set(text, (number = this.numbers.size));
    return number;
  }

  private names(set: ReadonlySet<string>): number {
    let number = this.sets.get(set);
    if (number === undefined) {
      number = this.text(JSON.stringify([...set].sort()));
      this.sets.set(set, number);
    }
    return number;
  }

  private stateKey(state: AppState): string {
    let key = this.accountsKey(state.accounts);
    for (const record of state.sessions) key += this.sessionKey(record);
    for (const record of state.families) key += this.familyKey(record);
    for (const record of state.accessTokens) key += this.accessKey(record);
    for (const record of state.refreshTokens) key += this.refreshKey(record);
    for (const [name, attempts] of state.attempts) key += this.attemptsKey(name, attempts);
    for (const record of state.links) key += this.linkKey(record);
    for (const record of state.providerSessions) key += this.providerKey(record);
    for (const record of state.remembered) key += this.rememberedKey(record);
    for (const record of state.keys) key += this.apiKey(record);
    key += this.actingOf(state);
    return key + this.appKey(state);
  }

  /** How the switches of the app stand, and when accounts were made. */
  private appKey({ flags, joined }: AppState): string {
    let key = flags.size === 0 ? '' : `F${this.names(flags)}`;
    for (const [name, at] of joined) key += `j${this.text(name)},${at}`;
    return key;
  }

  private readonly sessionKey = (record: SessionRecord): string => {
    const { account, startedAt, activeAt, ended, family, asRole, secondFactor, resumed, half, code } = record;
    const { login, asked, secret, acting } = record;
    const whose = `${acting === null ? '' : this.actingKey(acting)}s${this.text(account)},${login},${startedAt},${activeAt},${this.text(ended)},${family ?? -1}`;
    const guest = asked === null && secret === null ? '' : `,${this.text(asked)}g${secret ?? -1}`;
    const how = `${guest}${this.names(record.roles)},${this.text(asRole)},${Number(secondFactor) + 2 * Number(half) + 4 * Number(resumed)}`;
    return code === null
      ? `${whose},${how}`
      : `${whose},${how},${code.sentAt},${code.wrong},${Number(code.remember)},${code.by}`;
  };

  private readonly familyKey = ({
    account,
    login,
    startedAt,
    ended,
    asRole,
    secondFactor,
  }: TokenFamily): string =>
    `f${this.text(account)},${login},${startedAt},${this.text(ended)},${this.text(asRole)},${Number(secondFactor)}`;

  private readonly accessKey = ({ family, roles, issuedAt, renewed }: AccessToken): string =>
    `a${family},${this.names(roles)},${issuedAt}${renewed ? 'r' : ''}`;

  private readonly refreshKey = ({ family, issuedAt, replaced }: RefreshToken): string =>
    replaced === null
      ? `r${family},${issuedAt}`
      : `r${family},${issuedAt},${replaced.at},${replaced.access},${replaced.refresh}`;

  private readonly providerKey = ({ provider, person, startedAt, ended }: ProviderSession): string =>
    `i${this.text(provider)},${this.text(person)},${startedAt},${Number(ended)}`;

  private readonly linkKey = ({ kind, account, sentAt, used }: LinkSent): string =>
    `${kind}${this.text(account)},${sentAt},${Number(used)}`;

  private readonly rememberedKey = ({ account, login, issuedAt, used, ended }: Remembered): string =>
    `m${this.text(account)},${login},${issuedAt},${Number(used) + 2 * Number(ended)}`;

  private readonly apiKey = ({ account, madeAt, replacedAt, revoked }: ApiKey): string =>
    `y${this.text(account)},${madeAt},${replacedAt ?? -1},${Number(revoked)}`;

  private actingKey({ account, since }: Acting): string {
    return `z${this.text(account)},${since}`;
  }

  private actingOf({ acting }: AppState): string {
    let key = '';
    for (const [name, each] of acting) key += `Z${this.text(name)}${this.actingKey(each)}`;
    return key;
  }

  private attemptsKey(name: string, { failures, pausedAt }: FailedAttempts): string {
    return `t${this.text(name)},${failures.join()},${pausedAt ?? -1}`;
  }

  private accountsKey(accounts: AppState['accounts']): string {
    if (accounts === this.known) return '';
    let key = this.accounts.get(accounts);
    if (key === undefined) {
      key = '';
      for (const [name, account] of accounts) {
        if (this.known.get(name) === account) continue;
        const { given, password, state, facts } = account;
        key += `A${this.text(name)},${this.text(JSON.stringify(given))},${this.text(password)},${this.text(state)}`;
        if (facts !== this.known.get(name)?.facts) key += `,${this.text(factsKey(facts))}`;
      }
      for (const name of this.known.keys()) if (!accounts.has(name)) key += `D${this.text(name)}`;
      this.accounts.set(accounts, key);
    }
    return key;
  }

  private browserKey({ cookies, tab, behind, client }: BrowserState): string {
    let key = this.cookiesKey(cookies) + this.tabKey(tab);
    for (const each of behind) key += this.tabKey(each);
    return `${key}@${this.text(client)}`;
  }

  private cookiesKey(cookies: BrowserState['cookies']): string {
    let key = '';
    for (const cookie of cookies) {
      const {
        name,
        value,
        host,
        hostOnly,
        path,
        secure,
        httpOnly,
        sameSite,
        life,
        storedAt,
        createdAt,
        copied,
      } = cookie;
      const how = Number(hostOnly) + 2 * Number(secure) + 4 * Number(httpOnly) + 8 * Number(copied === true);
      key += `k${this.text(name)},${this.text(value)},${this.text(host)},${this.text(path)},${how},${this.text(sameSite)}`;
      key += `,${life ?? -1},${storedAt},${createdAt}`;
    }
    return key;
  }

  private tabKey({ page, tokens, history }: Tab): string {
    let key = 'T';
    if (page !== null) key += this.pageKey(page);
    for (let before = history; before !== null; before = before.before) {
      key += `<${this.pageKey(before.page)},${Number(before.sameDocument)}`;
    }
    if (tokens !== null) {
      const { access, refresh, receivedAt, expiresIn, claims } = tokens;
      const { account, roles, secondFactor } = claims;
      key += `w${this.text(access)},${this.text(refresh)},${receivedAt},${expiresIn}`;
      key += `,${this.text(account)},${this.names(roles)},${Number(secondFactor)}`;
    }
    return key;
  }

  private pageKey({ address, method, status, menu, reader, kept, frozen, token }: ShownPage): string {
    const { origin, path, query } = address;
    const links = menu.length === 0 ? -1 : this.text(JSON.stringify(menu));
    const where = `${this.text(origin)},${this.text(path)},${this.text(query)},${this.text(method)},${status}`;
    return `p${where},${links},${this.text(reader)},${Number(kept) + 2 * Number(frozen)}${token === null ? '' : `,${this.text(token)}`}`;
  }

  private memoryKey(
    { asked, leftBehind, copied, changed, loggedOut, linksAsked }: Memory,
    isAsked = true,
  ): string {
    let key = '|';
    for (const [browser, address] of isAsked ? asked : []) {
      key += `q${this.text(browser)},${this.text(address)}`;
    }
    for (const { after, what, handle, at } of leftBehind) {
      key += `l${this.text(after)},${this.text(what)},${this.text(handle)},${at}`;
    }
    if (copied.size > 0) key += `o${this.names(copied)}`;
    for (const [account, { event, at }] of changed) {
      key += `e${this.text(account)},${this.text(event)},${at}`;
    }
    if (loggedOut.size > 0) key += `u${this.names(loggedOut)}`;
    if (linksAsked.size > 0) key += `k${this.names(linksAsked)}`;
    return key;
  }
}

/** The records that are new or not what they were, each with its number. */
function recordsDifference<Of>(
  before: readonly Of[],
  after: readonly Of[],
  keyOf: (record: Of) => string,
): string {
  if (before === after) return '';
  let key = '';
  for (let index = 0; index < after.length; index++) {
    const record = after[index];
    if (record !== undefined && record !== before[index]) key += `#${index}${keyOf(record)}`;
  }
  return key;
}
