import {
  writtenFacts,
  writtenFlags,
  type Administration,
  type LiveConfig,
  type Secrets,
  hasTrait,
} from '../core/internal.js';
import type { AppAddress } from './app-address.js';
import type { Doer } from './doing.js';
import { NotPlayable } from './walk-play.js';

/** What is done to the app and told of it by whoever keeps it, for one walk. */
export class Deeds {
  /** The passwords that a walk has given accounts in the place of their own. */
  private readonly chosen = new Map<string, string>();
  /** The keys of machines, the one that each uses last, as far as they are known. */
  private readonly keys = new Map<string, readonly string[]>();
  /** Who logged in last in each browser: a code is sent to them. */
  readonly logins = new Map<string, string>();

  constructor(
    private readonly config: LiveConfig,
    private readonly doer: Doer,
    private readonly address: AppAddress,
    private readonly secrets: Secrets,
    private readonly variable: (name: string) => string,
    private readonly restart: (() => Promise<void>) | null,
  ) {}

  nameOf(account: string): string {
    return this.config.accounts.get(account)?.name ?? account;
  }

  /** @param own the password that the policy gives */
  passwordOf(account: string, own: string): string {
    const chosen = this.chosen.get(account);
    if (chosen !== undefined) return chosen;
    const variable = this.config.accounts.get(account)?.passwordIn ?? null;
    if (variable === null) return own;
    const password = this.variable(variable);
    this.secrets.add(password);
    return password;
  }

  hasNewPassword(account: string): boolean {
    return this.chosen.has(account);
  }

  /** Takes note of a password that an account has from now on. */
  choose(account: string, password: string): void {
    this.secrets.add(password);
    this.chosen.set(account, password);
  }

  async administer(action: Administration): Promise<void> {
    const { verb } = action;
    const how = this.config.deeds[verb];
    if (how === undefined) {
      if (hasTrait(action, 'restarts-app') && this.restart !== null) return this.restart();
      throw new NotPlayable(`live.yaml does not say how to ${verb} (deeds)`);
    }
    const values = 'account' in action ? { account: this.nameOf(action.account) } : {};
    const roles = 'roles' in action ? { roles: action.roles.join(',') } : {};
    const facts = 'facts' in action ? { facts: JSON.stringify(writtenFacts(action.facts)) } : {};
    const flags = 'flags' in action ? { flags: JSON.stringify(writtenFlags(action.flags)) } : {};
    const password = 'password' in action ? { password: action.password } : {};
    if ('password' in action) this.choose(action.account, action.password);
    // The key before is a secret too while the deed is done.
    const before = hasTrait(action, 'makes-key') && 'account' in action ? this.keysOf(action.account) : null;
    const said = await this.doer.perform(verb, how, { ...values, ...roles, ...facts, ...flags, ...password });
    if (before === null || !('account' in action)) return;
    this.secrets.add(said);
    this.keys.set(action.account, [...before, said]);
  }

  /** The key that a machine shows, or the one that it showed before its last rotation. */
  keyOf(account: string, isOld: boolean): string {
    const key = this.keysOf(account).at(isOld ? -2 : -1);
    if (key !== undefined && key !== '') return key;
    throw new NotPlayable(
      `live.yaml does not say where the key of ${account} is (accounts, or deeds: rotate-key)`,
    );
  }

  private keysOf(account: string): readonly string[] {
    const known = this.keys.get(account);
    if (known !== undefined) return known;
    const variable = this.config.accounts.get(account)?.keyIn ?? null;
    if (variable === null) return [];
    const key = this.variable(variable);
    this.secrets.add(key);
    return [key];
  }

  async codeFor(account: string): Promise<string> {
    const how = this.config.deeds.code;
    if (how === undefined) {
      throw new NotPlayable('live.yaml does not say how to come by the one-time code (deeds)');
    }
    const code = await this.doer.perform('code', how, { account: this.nameOf(account) });
    this.secrets.add(code);
    return code;
  }

  /** The address of the last link that was sent to somebody, in the policy's own addresses. */
  async linkFor(account: string): Promise<string> {
    const how = this.config.deeds.link;
    if (how === undefined) {
      throw new NotPlayable('live.yaml does not say how to come by a link that was sent (deeds)');
    }
    return this.address.inPolicy(
      await this.doer.perform('link', how, { account: this.nameOf(account) }),
      '/',
    );
  }
}
