import { sentPath } from '../app/endpoints.js';
import { check } from './check.js';

/** Whoever is sent somewhere is sent to an address, not to a pattern. */
export const parameterUnbound = check<{ address: string; names: readonly string[] }>({
  meta: {
    code: 'parameter-unbound',
    severity: 'error',
    title: 'Whoever is sent somewhere is sent to an address, not to a pattern.',
    why: 'Nothing says what the parameter stands for there, so that it goes out as it is written: people end at a page of nobody, or at an error.',
    cwe: null,
    mend: 'Send people to a path without parameters, from where a page knows what is theirs.',
  },
  *find(facts) {
    for (const { at, address } of facts.targets) {
      const names = sentPath(address)
        .split('/')
        .filter((segment) => segment.startsWith(':'));
      if (names.length > 0) yield { at, params: { address, names } };
    }
  },
  message: ({ address, names }) =>
    `people are sent to ${address} as it stands: nothing says what ${names.join(' and ')} is`,
});
