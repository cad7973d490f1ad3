import { check } from './check.js';

/** Being known again is no one-time code. */
export const rememberCountsAsCode = check<null>({
  meta: {
    code: 'remember-counts-as-code',
    severity: 'warning',
    title: 'Being known again is no one-time code.',
    why: 'A copied remember cookie gets past the second factor, which is there for just such a case.',
    cwe: 'CWE-308',
    mend: 'Leave remember.counts-as.code out, so that the code is asked for again.',
  },
  *find({ policy: { remember, secondFactor } }) {
    if (remember?.countsAs.code !== 'given' || secondFactor === null) return;
    yield { at: [...remember.at, 'counts-as', 'code'], params: null };
  },
  message: () => 'whoever comes back by the remember cookie is taken to have given the one-time code',
});
