import { indexOf, type AppState } from '../app/app.js';
import { CREDENTIAL_KINDS } from '../credentials/all-credentials.js';
import { heldCounting, kindOf } from '../credentials/counts.js';
import { section, text } from '../language/text/schema-parts.js';
import type { Played, Stage } from '../play/stage.js';
import type { BrowserState } from '../browser/state.js';
import { BEGINNING, type Clock } from '../time/clock.js';
import { fillOf } from './fill-in.js';
import { isSent } from './saying.js';
import { personStep } from './step-kind.js';

/** Fills in the form in which whoever is signed in chooses another password. */
export interface ChangePassword {
  readonly verb: 'change-password';
  /** The old one, as it is given; null for the right one. */
  readonly old: string | null;
  readonly password: string;
}

export const changePassword = personStep<ChangePassword, { old?: string | undefined; new: string }>({
  verb: 'change-password',
  row: [
    '`change-password: { new: b-2 }` or `{ old: a-1, new: b-2 }`',
    'fills in the form to change one’s own password, with the right old one where none is written',
  ],
  typed: {
    usage: 'change-password and the new one',
    form: /^(?<new>\S.*)$/,
    written: (found) => ({ new: found['new'] }),
    places: [],
  },
  traits: ['disturbs'],
  tried: (policy, { password }) =>
    policy.password?.change ? [{ verb: 'change-password', old: null, password }] : [],
  event: 'password-changed',
  schema: () =>
    section('a change-password step', {
      old: text('the old password').optional(),
      new: text('the new password'),
    }),
  needs: { part: 'password', section: 'password', because: 'this step changes a password' },
  read(written, _at, scope) {
    scope.chosen.add(written.new);
    return { verb: 'change-password', old: written.old ?? null, password: written.new };
  },
  deed(stage, { state, browser }, { old, password }) {
    if ((stage.app.policy.password?.change ?? null) === null) {
      return 'password has no change: nobody can do it';
    }
    const own = state.accounts.get(ownerOf(stage, state, browser) ?? '')?.password ?? '';
    return fillOf('change-password', [
      ['old-password', old ?? own],
      ['password', password],
    ]);
  },
  unsaid({ before, played }, { old }) {
    // An old password that is written out may be meant to be wrong.
    if (isChanged(before, played) || (old !== null && isSent(played, 'change-password'))) return null;
    return { what: 'that a password is changed', success: [] };
  },
  words: ({ old }) => `change-password${old === null ? '' : ' with a given old one'}`,
  written: ({ old, password }) => ({ ...(old === null ? {} : { old }), new: password }),
});

/** Whether any account has another password than before. */
export function isChanged(before: AppState, { state }: Pick<Played, 'state'>): boolean {
  return [...state.accounts].some(([name, { password }]) => before.accounts.get(name)?.password !== password);
}

/** Whose browser it is, as far as the app has anything of them on record; null for nobody. */
function ownerOf(stage: Stage, state: AppState, browser: BrowserState): string | null {
  const held = heldCounting(stage, state, browser, ANY_TIME);
  if (held === null) return null;
  const kind = kindOf(held);
  return CREDENTIAL_KINDS[kind].ownerOf(state, indexOf(kind, held)) ?? null;
}

/** Whose something is does not depend on whether it still counts. */
const ANY_TIME: Clock = { now: BEGINNING, elapsed: () => false };
