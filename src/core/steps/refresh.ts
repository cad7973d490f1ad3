import { canRefresh } from '../browser/calls.js';
import type { Saying } from './saying.js';
import { personStep } from './step-kind.js';
import { nothing } from './step-schemas.js';
import { alone } from './typed-form.js';

/** Gets new tokens for the refresh token. */
export interface Refresh {
  readonly verb: 'refresh';
}

export const refresh = personStep<Refresh, null>({
  verb: 'refresh',
  row: [
    '`refresh:`',
    'gets new tokens for the refresh token now, as whoever holds one may at any time, whatever script does by itself (RFC 6749 §6)',
  ],
  typed: alone('refresh'),
  traits: [],
  schema: () => nothing,
  needs: { part: 'tokens', section: 'tokens', because: 'this step gets new tokens' },
  read: () => ({ verb: 'refresh' }),
  deed: ({ client }, { browser: { tab } }) =>
    tab.tokens !== null && canRefresh(client, tab.tokens)
      ? { deed: 'refresh' }
      : 'this browser holds no refresh token',
  unsaid({ played }): Saying | null {
    const isDone = played.exchanges.some(({ response }) => response.body.kind === 'tokens');
    return isDone ? null : { what: 'that new tokens come', success: [] };
  },
  words: () => 'refresh',
  written: () => null,
});
