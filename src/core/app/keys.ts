import { parameterOf } from '../http/address.js';
import type { HttpRequest } from '../http/messages.js';
import type { ApiKeyRules } from '../language/policy.js';
import type { Clock } from '../time/clock.js';
import { changed, indexOf, type ApiKey, type AppState } from './app.js';
import type { Reason } from './reasons.js';

/** The number of the key that a request shows; -1 where it shows none of ours. */
export function keyIn({ sent, name }: ApiKeyRules, request: HttpRequest): number {
  switch (sent) {
    case 'bearer':
      return request.authorization.startsWith('Bearer ')
        ? indexOf('key', request.authorization.slice(7))
        : -1;
    case 'header':
      return indexOf('key', request.apiKey);
    case 'address':
      return indexOf('key', parameterOf(request.query, name) ?? '');
  }
}

/** Why a key is not taken; null while it is. */
export function keyFault(
  { life, overlap }: ApiKeyRules,
  { madeAt, replacedAt, revoked }: ApiKey,
  clock: Clock,
): Reason | null {
  if (revoked) return 'key-revoked';
  if (life !== null && clock.elapsed(madeAt, life)) return 'key-expired';
  return replacedAt !== null && clock.elapsed(replacedAt, overlap) ? 'key-expired' : null;
}

/**
 * The number of the key that a machine uses, or of the one that it used before; -1 for none.
 *
 * @param isOld whether the one before is meant
 */
export function keyOf({ keys }: Pick<AppState, 'keys'>, account: string, isOld: boolean): number {
  return keys.findLastIndex((key) => key.account === account && (key.replacedAt !== null) === isOld);
}

/** An app in which a machine got another key; the one before is taken for a while. */
export function withAnotherKey(state: AppState, account: string, clock: Pick<Clock, 'now'>): AppState {
  if (state.accounts.get(account)?.key !== true) return state;
  const madeAt = clock.now;
  const keys = state.keys.map((key) =>
    key.account === account && key.replacedAt === null ? { ...key, replacedAt: madeAt } : key,
  );
  return changed(state, { keys: [...keys, { account, madeAt, replacedAt: null, revoked: false }] });
}

/** An app that takes no key any more that a machine has. */
export function withoutKeys(state: AppState, account: string): AppState {
  const keys = state.keys.map((key) => (key.account === account ? { ...key, revoked: true } : key));
  return changed(state, { keys });
}
