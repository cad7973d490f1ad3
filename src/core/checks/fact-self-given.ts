import { check } from './check.js';

/** Nobody gives themselves the tenant that pages go by. */
export const factSelfGiven = check<{ fact: string; values: readonly string[]; who: string; path: string }>({
  meta: {
    code: 'fact-self-given',
    severity: 'warning',
    title: 'Nobody gives themselves the tenant that pages go by.',
    why: 'A page gives a fact to whoever sends to it. Where pages of a tenant ask for that fact by their path, whoever may send there is let in to the pages of that tenant.',
    cwe: 'CWE-639',
    mend: 'Let those who look after the tenant give it, or ask for more than the fact.',
  },
  *find(facts) {
    const tenants = new Map(
      facts.audiences.flatMap(({ audience, at }) =>
        audience.who === 'some'
          ? [...audience.facts].flatMap(([fact, { parameters }]) =>
              parameters.length > 0 ? [[fact, at] as const] : [],
            )
          : [],
      ),
    );
    for (const page of facts.policy.pages) {
      const { sets } = page;
      const write = facts.route(facts.sampleOf(page), 'POST');
      if (write === null || sets === null) continue;
      for (const [fact, values] of sets) {
        const asked = tenants.get(fact);
        if (asked === undefined || values.length === 0) continue;
        const stranger = { ...facts.newcomer(new Set()), facts: new Map<string, readonly string[]>() };
        if (!facts.admits(write.grounds.audience, stranger, write.parameters)) continue;
        yield {
          at: [...page.at, 'sets', fact],
          params: { fact, values, who: 'whoever is signed in', path: page.pattern.text },
          related: [{ at: asked, message: 'this goes by the fact' }],
        };
      }
    }
  },
  message: ({ fact, values, who, path }) =>
    `${who} may send to ${path}, and so be of ${fact} ${values.join(' and ')}`,
});
