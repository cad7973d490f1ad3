import { check } from './check.js';

/** No key stands in an address. */
export const keyInAddress = check<{ name: string }>({
  meta: {
    code: 'key-in-address',
    severity: 'warning',
    title: 'No key stands in an address.',
    why: 'RFC 6750 §2.3: addresses are written into logs, histories and Referer headers, where anybody who reads them has the key.',
    cwe: 'CWE-598',
    mend: 'Set api-keys.sent to bearer, or to header.',
  },
  *find({ policy: { apiKeys } }) {
    if (apiKeys?.sent !== 'address') return;
    yield { at: [...apiKeys.at, 'sent'], params: { name: apiKeys.name } };
  },
  message: ({ name }) => `the keys of machines stand in addresses, as ${name}`,
});
