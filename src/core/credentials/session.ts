import { lifeBy, livesBy, longestBy } from '../language/session-lives.js';
import { rolesIn, sessionFault } from '../app/identify.js';
import { SESSION_LIMITS } from '../app/session-limits.js';
import { NO_LOGIN } from '../app/app.js';
import { isActive, type CredentialKind, type Limit } from './credential-kind.js';

/** The cookie of a session. */
export const session: CredentialKind = {
  name: 'session',
  recorded: ({ sessions }) => sessions.length,
  ownerOf: ({ sessions }, index) => sessions[index]?.account,
  loginOf: ({ sessions }, index) => sessions[index]?.login ?? NO_LOGIN,
  getsMore: false,
  gotFor: ({ sessions }, index) => (sessions[index]?.resumed === true ? 'remember' : null),
  recordsOf({ sessions }, index) {
    const family = sessions[index]?.family ?? null;
    return [`session ${index}`, ...(family === null ? [] : [`family ${family}`])];
  },
  place: ({ session: { cookie } }) => ({ by: 'cookie', names: cookie, isToken: false }),
  counts(app, state, index, clock) {
    const record = state.sessions[index];
    if (record === undefined || record.half || !isActive(state, record.account)) return false;
    return sessionFault(app, state, record, clock) === null;
  },
  faultOf(app, state, index, clock) {
    const record = state.sessions[index];
    if (record === undefined) return 'session-lost';
    if (record.half) return 'code-needed';
    if (record.account === null) return sessionFault(app, state, record, clock) ?? 'guest';
    const account = state.accounts.get(record.account);
    if (account === undefined) return 'account-gone';
    return sessionFault(app, state, record, clock) ?? (account.state === 'active' ? null : account.state);
  },
  limits: [
    ...SESSION_LIMITS.toReversed().map((limit): Limit => ({
      name: limit.option,
      deadline: limit.deadline,
      life(policy) {
        const lives = livesBy(limit.option, policy).filter((life) => life !== null);
        return lives.length === 0 ? null : Math.max(...lives);
      },
      lifeOf(app, state, index) {
        const record = state.sessions[index];
        return record === undefined ? null : lifeBy(limit.option, app.policy, rolesIn(app, state, record));
      },
      since(_, { sessions }, index) {
        const record = sessions[index];
        return record === undefined ? undefined : limit.since(record);
      },
    })),
    {
      name: 'code',
      deadline: 'code-expiry',
      life: ({ secondFactor }) => secondFactor?.life ?? null,
      since: (_, { sessions }, index) => sessions[index]?.code?.sentAt,
    },
  ],
  longest: (policy) =>
    longestBy('absolute', policy) ?? (policy.session.renews === 'never' ? longestBy('idle', policy) : null),
};
