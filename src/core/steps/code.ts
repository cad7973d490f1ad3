import { indexOf } from '../app/app.js';
import { RIGHT_CODE } from '../app/second-factor.js';
import { deadlineOf } from '../credentials/deadlines.js';
import { handleOf } from '../credentials/holdings.js';
import { choice } from '../language/text/schema-parts.js';
import { letsIn } from '../play/entries.js';
import type { Exchange } from '../play/stage.js';
import { fillOf } from './fill-in.js';
import { landingsOf } from './saying.js';
import { personStep } from './step-kind.js';
import { one } from './typed-form.js';

const GIVEN = ['right', 'wrong', 'late'] as const;

/** Gives the one-time code. */
export interface Code {
  readonly verb: 'code';
  readonly given: (typeof GIVEN)[number];
}

export const code = personStep<Code, Code['given']>({
  verb: 'code',
  row: ['`code: right`, `wrong` or `late`', 'gives the one-time code; `late` waits until it is over'],
  typed: one('code right, wrong or late', '=right', { places: [['=right', '=wrong', '=late']] }),
  traits: ['way-in', 'on-page', 'needs-message', 'disturbs', 'on-the-way'],
  tried: ({ secondFactor }) =>
    secondFactor === null ? [] : (['right', 'wrong'] as const).map((given) => ({ verb: 'code', given })),
  tale: () => ({ deed: 'gives the code' }),
  code: ({ given }) => given,
  schema: () => choice(GIVEN),
  needs: { part: 'secondFactor', section: 'second-factor', because: 'this step gives a code' },
  read: (given) => ({ verb: 'code', given }),
  startsAt(stage, { state, browser }, { given }, time) {
    if (given !== 'late') return time;
    const expiry = deadlineOf(stage, state, browser, 'code-expiry', time);
    return expiry === null ? 'no code was sent to this visitor' : Math.max(time, expiry);
  },
  deed: (_stage, _here, { given }) => fillOf('code', [['code', given === 'wrong' ? 'wrong' : RIGHT_CODE]]),
  unsaid(said, { given }) {
    const { stage, before, from, played, clock } = said;
    // A late code says of itself that it may be refused.
    if (given === 'late') return null;
    const isTaken = ({ route, explanation: { reason } }: Exchange) =>
      route?.task === 'code' && (reason === 'code-wrong' || reason === 'code-expired');
    if (played.exchanges.some(given === 'right' ? letsIn : isTaken)) return null;
    const owner = before.sessions[indexOf('session', handleOf(stage, from, 'session', clock) ?? '')];
    const login = stage.app.policy.logins[owner?.code?.by ?? 0] ?? null;
    const account = before.accounts.get(owner?.account ?? '');
    return { what: 'that the app takes a code', success: landingsOf(said, account, null, login) };
  },
  words: ({ given }) => `code ${given}`,
  written: ({ given }) => given,
});
