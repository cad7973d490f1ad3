import { check } from './check.js';

/** The key of a machine comes to an end by itself. */
export const keyWithoutEnd = check<null>({
  meta: {
    code: 'key-without-end',
    severity: 'warning',
    title: 'The key of a machine comes to an end by itself.',
    why: 'Keys lie in files and logs for years, and nobody knows who has a copy. One without an end is good for ever.',
    cwe: 'CWE-613',
    mend: 'Set api-keys.life, such as 90d, and api-keys.overlap, so that a key can be changed while the machine runs.',
  },
  *find({ policy: { apiKeys } }) {
    if (apiKeys !== null && apiKeys.life === null) yield { at: apiKeys.at, params: null };
  },
  message: () => 'the keys of machines have no end',
});
