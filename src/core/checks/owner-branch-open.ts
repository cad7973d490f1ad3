import { isBelow } from './below.js';
import { check } from './check.js';

/** What lies below somebody's own address is theirs too. */
export const ownerBranchOpen = check<{ path: string; above: string; parameter: string }>({
  meta: {
    code: 'owner-branch-open',
    severity: 'error',
    title: "What lies below somebody's own address is theirs too.",
    why: 'The address names whose it is, and the page checks that; what lies below it hands out the same to whoever changes the name in the address.',
    cwe: 'CWE-639',
    mend: 'Give what lies below the same account: condition.',
  },
  *find(facts) {
    const { pages } = facts.policy;
    for (const owned of pages) {
      const own = facts.pageRoute(owned)?.grounds;
      if (own?.audience.who !== 'some' || own.audience.account === null) continue;
      const { account } = own.audience;
      const others = { ...own.audience, account: null };
      for (const page of pages) {
        const below = facts.pageRoute(page);
        if (below === null || !isBelow(page.pattern, owned.pattern)) continue;
        const { audience } = below.grounds;
        if (audience.who === 'guests' || (audience.who === 'some' && audience.account !== null)) continue;
        // Where it is for some of them only, such as those who look after accounts, it is meant so.
        const isForAll = facts.people.every(
          ({ visitor }) =>
            !facts.admits(others, visitor) || facts.admits(audience, visitor, below.parameters),
        );
        if (!isForAll) continue;
        yield {
          at: below.grounds.at,
          params: { path: page.pattern.text, above: owned.pattern.text, parameter: account },
          related: [{ at: own.at, message: `${owned.pattern.text} is for its owner` }],
          shownBy: facts.shownBy('GET', facts.sampleOf(page), 'somebody else who is signed in'),
        };
      }
    }
  },
  message: ({ path, above, parameter }) =>
    `${above} is for the account that :${parameter} names, but ${path} below it is open to others`,
});
