import { check } from './check.js';
import { decidedBy } from './facts.js';

/** What a rule closes for one host or network is closed for the others. */
export const ruleBoundElsewhereOpen = check<{ rule: number; who: string; path: string; bound: string }>({
  meta: {
    code: 'rule-bound-elsewhere-open',
    severity: 'error',
    title: 'What a rule closes for one host or network is closed for the others.',
    why: 'A rule with host or from counts for such requests only. From elsewhere the same address is decided by what follows, which may be open.',
    cwe: 'CWE-863',
    mend: 'Close the address for everywhere with a rule behind it, or give the page an audience.',
  },
  *find(facts) {
    const { pages, rules } = facts.policy;
    for (const rule of rules) {
      const { hosts, from } = rule.conditions;
      const { read } = rule.audiences;
      if ((hosts === null && from === null) || read === null || facts.admits(read.audience, facts.guest)) {
        continue;
      }
      for (const page of pages) {
        const route = facts.pageRoute(page);
        if (route === null || !facts.stage.app.router.candidates(route.path).includes(rule)) continue;
        if (route.grounds.by === 'page' || route.rule === rule) continue;
        if (route.rule !== null && route.rule.number < rule.number) continue;
        const found = facts.admittedOnlyBy(route.grounds.audience, read.audience, route.parameters);
        if (found === undefined) continue;
        const bound =
          hosts === null
            ? `from ${from?.map(({ text }) => text).join(', ') ?? ''}`
            : `at ${hosts.join(', ')}`;
        yield {
          at: rule.at,
          params: { rule: rule.number, who: found.who, path: page.pattern.text, bound },
          related: decidedBy(route.grounds, 'this decides elsewhere'),
          shownBy: facts.shownBy('GET', route.path, found.who),
        };
        break;
      }
    }
  },
  message: ({ rule, who, path, bound }) =>
    `rule ${rule} closes ${path} ${bound} only: elsewhere it is open to ${who}`,
});
