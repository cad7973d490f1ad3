import type { AppState } from '../app/app.js';
import type { BrowserState, ShownPage, Tab } from '../browser/state.js';
import type { Account } from '../language/policy.js';
import type { Memory } from '../laws/memory.js';
import type { Situation } from './situation.js';

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
    for (const record of state.sessions) {
      const { account, startedAt, activeAt, ended, family, asRole, secondFactor, half, code } = record;
      key += `s${this.text(account)},${startedAt},${activeAt},${this.text(ended)},${family ?? -1},${this.names(record.roles)}`;
      key += `,${this.text(asRole)},${Number(secondFactor) + 2 * Number(half)}`;
      if (code !== null) key += `,${code.sentAt},${code.wrong},${Number(code.remember)}`;
    }
    for (const { account, startedAt, ended, asRole, secondFactor } of state.families) {
      key += `f${this.text(account)},${startedAt},${this.text(ended)},${this.text(asRole)},${Number(secondFactor)}`;
    }
    for (const { family, roles, issuedAt } of state.accessTokens) {
      key += `a${family},${this.names(roles)},${issuedAt}`;
    }
    for (const { family, issuedAt, replaced } of state.refreshTokens) {
      key += `r${family},${issuedAt}`;
      if (replaced !== null) key += `,${replaced.at},${replaced.access},${replaced.refresh}`;
    }
    for (const [name, { failures, pausedAt }] of state.attempts) {
      key += `t${this.text(name)},${failures.join()},${pausedAt ?? -1}`;
    }
    for (const { account, sentAt, used } of state.confirmations) {
      key += `c${this.text(account)},${sentAt},${Number(used)}`;
    }
    for (const { account, series, issuedAt, used, ended } of state.remembered) {
      key += `m${this.text(account)},${series},${issuedAt},${Number(used) + 2 * Number(ended)}`;
    }
    return key;
  }

  private accountsKey(accounts: AppState['accounts']): string {
    if (accounts === this.known) return '';
    let key = this.accounts.get(accounts);
    if (key === undefined) {
      key = '';
      for (const [name, account] of accounts) {
        if (this.known.get(name) === account) continue;
        const { given, password, state } = account;
        key += `A${this.text(name)},${this.text(JSON.stringify(given))},${this.text(password)},${this.text(state)}`;
      }
      for (const name of this.known.keys()) if (!accounts.has(name)) key += `D${this.text(name)}`;
      this.accounts.set(accounts, key);
    }
    return key;
  }

  private browserKey({ cookies, tab, behind, client }: BrowserState): string {
    let key = '';
    for (const cookie of cookies) {
      const { name, value, host, hostOnly, path, secure, httpOnly, sameSite, life, storedAt } = cookie;
      const how = Number(hostOnly) + 2 * Number(secure) + 4 * Number(httpOnly);
      key += `k${this.text(name)},${this.text(value)},${this.text(host)},${this.text(path)},${how},${this.text(sameSite)}`;
      key += `,${life ?? -1},${storedAt}`;
    }
    key += this.tabKey(tab);
    for (const each of behind) key += this.tabKey(each);
    return `${key}@${this.text(client)}`;
  }

  private tabKey({ page, tokens, history }: Tab): string {
    let key = 'T';
    if (page !== null) key += this.pageKey(page);
    for (let before = history; before !== null; before = before.before) {
      key += `<${this.pageKey(before.page)}`;
    }
    if (tokens !== null) {
      const { access, refresh, receivedAt, expiresIn, claims } = tokens;
      const { account, roles, secondFactor } = claims;
      key += `w${this.text(access)},${this.text(refresh)},${receivedAt},${expiresIn}`;
      key += `,${this.text(account)},${this.names(roles)},${Number(secondFactor)}`;
    }
    return key;
  }

  private pageKey({ address, method, status, menu, reader, kept }: ShownPage): string {
    const { origin, path, query } = address;
    const links = menu.length === 0 ? -1 : this.text(JSON.stringify(menu));
    const where = `${this.text(origin)},${this.text(path)},${this.text(query)},${this.text(method)},${status}`;
    return `p${where},${links},${this.text(reader)},${Number(kept)}`;
  }

  private memoryKey({ asked, leftBehind, copied, changed, loggedOut }: Memory): string {
    let key = '|';
    for (const [browser, address] of asked) key += `q${this.text(browser)},${this.text(address)}`;
    for (const { after, what, handle, at } of leftBehind) {
      key += `l${this.text(after)},${this.text(what)},${this.text(handle)},${at}`;
    }
    if (copied.size > 0) key += `o${this.names(copied)}`;
    for (const [account, { event, at }] of changed) {
      key += `e${this.text(account)},${this.text(event)},${at}`;
    }
    if (loggedOut.size > 0) key += `u${this.names(loggedOut)}`;
    return key;
  }
}
