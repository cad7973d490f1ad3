import { check } from './check.js';
import { asksForFreshLogin } from './step-up.js';

/** Being known again is no login. */
export const rememberCountsAsFresh = check<null>({
  meta: {
    code: 'remember-counts-as-fresh',
    severity: 'warning',
    title: 'Being known again is no login.',
    why: 'Pages that want a login of the last minutes are there for a browser that was left, or taken: a remember cookie gets past them by itself.',
    cwe: 'CWE-613',
    mend: 'Leave remember.counts-as.fresh out, so that the password is asked for.',
  },
  *find(facts) {
    const { remember } = facts.policy;
    if (remember?.countsAs.fresh !== true) return;
    const asking = facts.audiences.find(({ audience }) => asksForFreshLogin(audience));
    if (asking === undefined) return;
    yield {
      at: [...remember.at, 'counts-as', 'fresh'],
      params: null,
      related: [{ at: asking.at, message: 'a fresh login is asked for here' }],
    };
  },
  message: () => 'whoever comes back by the remember cookie is taken to have just logged in',
});
