import { check } from './check.js';

/** Whoever is sent somewhere must find a page there. */
export const redirectTargetMissing = check<{ address: string; onlyMethods: readonly string[] }>({
  meta: {
    code: 'redirect-target-missing',
    severity: 'error',
    title: 'Every address that the policy sends people to is a page.',
    why: 'People end at an error right after a login, a logout or a refusal, where they can do least about it.',
    cwe: null,
    mend: 'Add the page under pages, or name one that exists.',
  },
  *find(facts) {
    for (const { at, address } of facts.targets) {
      if (facts.hasPage(address) || facts.route(address)?.taskMethods.includes('GET')) continue;
      yield {
        at,
        params: { address, onlyMethods: facts.route(address)?.taskMethods ?? [] },
      };
    }
  },
  message: ({ address, onlyMethods }) =>
    onlyMethods.length === 0
      ? `${address} is no page: whoever is sent there gets a 404`
      : `${address} answers ${onlyMethods.join(', ')} only: whoever is sent there gets a 405`,
});
