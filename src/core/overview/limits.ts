import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Seconds } from '../time/duration.js';

/** A time that a policy sets. */
export interface Limit {
  /** As people name it: `session.idle`, `login.attempts.pause`. */
  readonly name: string;
  /** null: no limit, where one could be set. */
  readonly seconds: Seconds | null;
  readonly at: Path;
}

/** Every time that a policy sets, and those of its session that it leaves without limit. */
export function limitsOf(policy: Policy): Limit[] {
  const { session, tokens, remember, secondFactor, confirm, password, linkLogin, impersonation } = policy;
  const found: Limit[] = [];
  const add = (name: string, seconds: Seconds | null, at: Path) => found.push({ name, seconds, at });
  if (policy.logins.some(({ by }) => by !== 'tokens')) {
    add('session.idle', session.idle, ['session', 'idle']);
    add('session.absolute', session.absolute, ['session', 'absolute']);
    for (const { role, idle, absolute, at } of session['by-role']) {
      if (idle !== null) add(`session.idle of ${role}`, idle, [...at, 'idle']);
      if (absolute !== null) add(`session.absolute of ${role}`, absolute, [...at, 'absolute']);
    }
    if (session.cookie.life !== null) {
      add('session.cookie.life', session.cookie.life, ['session', 'cookie', 'life']);
    }
  }
  if (tokens !== null) {
    const { access, refresh, at } = tokens;
    add('tokens.access.life', access.life, [...at, 'access', 'life']);
    if (access.leeway > 0) add('tokens.access.leeway', access.leeway, [...at, 'access', 'leeway']);
    if (refresh !== null) {
      add('tokens.refresh.life', refresh.life, [...at, 'refresh', 'life']);
      if (refresh.longest !== null) {
        add('tokens.refresh.longest', refresh.longest, [...at, 'refresh', 'longest']);
      }
      if (refresh.grace > 0) add('tokens.refresh.grace', refresh.grace, [...at, 'refresh', 'grace']);
    }
  }
  if (remember !== null) add('remember.life', remember.life, [...remember.at, 'life']);
  if (secondFactor !== null) add('second-factor.life', secondFactor.life, [...secondFactor.at, 'life']);
  for (const { name, attempts } of policy.logins) {
    if (attempts === null) continue;
    const of = name === null ? 'login.' : `login ${name}: `;
    add(`${of}attempts.within`, attempts.within, [...attempts.at, 'within']);
    add(`${of}attempts.pause`, attempts.pause, [...attempts.at, 'pause']);
  }
  if (confirm !== null) add('confirm.life', confirm.life, [...confirm.at, 'life']);
  const reset = password?.reset ?? null;
  if (reset !== null) add('password.reset.life', reset.link.life, [...reset.at, 'life']);
  if (linkLogin !== null) add('link-login.life', linkLogin.link.life, [...linkLogin.at, 'life']);
  for (const { name, session: known, at } of policy.providers) {
    if (known !== null) add(`identity provider ${name}: session`, known, [...at, 'session']);
  }
  if (policy.apiKeys !== null) {
    const { life, overlap, at } = policy.apiKeys;
    add('api-keys.life', life, [...at, 'life']);
    if (overlap > 0) add('api-keys.overlap', overlap, [...at, 'overlap']);
  }
  if (impersonation !== null) add('impersonation.life', impersonation.life, [...impersonation.at, 'life']);
  return found;
}
