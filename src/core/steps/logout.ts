import { hasAnything } from './saying.js';
import { personStep } from './step-kind.js';
import { nothing } from './step-schemas.js';
import { alone } from './typed-form.js';

/** Asks to be logged out. */
export interface Logout {
  readonly verb: 'logout';
}

export const logout = personStep<Logout, null>({
  verb: 'logout',
  row: ['`logout:`', "asks for the first of the policy's logout requests"],
  typed: alone('logout'),
  traits: ['on-page'],
  tried: (policy) => (policy.logout === null ? [] : [{ verb: 'logout' }]),
  tale: () => ({ deed: 'logs out' }),
  event: 'logout',
  schema: () => nothing,
  needs: { part: 'logout', section: 'logout', because: 'this step logs out' },
  read: () => ({ verb: 'logout' }),
  deed: () => ({ deed: 'log-out' }),
  unsaid({ stage, before, from, played, clock }) {
    const wasIn = hasAnything(stage, before, from, clock);
    const isDone = played.exchanges.some(
      ({ route, explanation }) => route?.task === 'logout' && explanation.reason === 'served',
    );
    if (wasIn && isDone) return null;
    const success = stage.app.policy.logout?.lands.map(({ to }) => to) ?? [];
    const actual = wasIn ? {} : { actual: 'nobody was signed in' };
    return { what: 'that somebody logs out', success, ...actual };
  },
  words: () => 'logout',
  written: () => null,
});
