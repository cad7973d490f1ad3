import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** The life of the session cookie fits that of the session. */
export const cookieLifeDiffers = check<{ life: number; limit: number | null; shorter: boolean }>({
  meta: {
    code: 'cookie-life-differs',
    severity: 'warning',
    title: 'The life of the session cookie fits that of the session.',
    why: 'A cookie that goes first throws people out early; one that stays longer keeps a dead id lying about.',
    cwe: 'CWE-613',
    mend: 'Use life: browser, or the idle limit of the session, whose renewals renew the cookie too.',
  },
  *find(facts) {
    const { idle, absolute, renews, cookie } = facts.policy.session;
    const { life, renewed } = cookie;
    if (life === null) return;
    if (!renewed && renews !== 'never' && (absolute === null || life < absolute)) {
      yield { at: ['session', 'cookie', 'renewed'], params: { life, limit: null, shorter: true } };
      return;
    }
    const at = ['session', 'cookie', 'life'];
    if (idle !== null && life < idle) yield { at, params: { life, limit: idle, shorter: true } };
    else if (absolute !== null && life > absolute) {
      yield { at, params: { life, limit: absolute, shorter: false } };
    }
  },
  message: ({ life, limit, shorter }) =>
    limit === null
      ? `the session is renewed and its cookie is not: visitors lose it after ${formatDuration(life)}, whoever copied it does not`
      : shorter
        ? `the cookie is gone after ${formatDuration(life)}, before the idle limit of ${formatDuration(limit)} counts`
        : `the cookie stays for ${formatDuration(life)}, but no session lives longer than ${formatDuration(limit)}`,
});
