import { orList } from '../language/text/suggestions.js';
import { check } from './check.js';

/** Every page has an audience of its own or by a rule. */
export const decidedByOtherwise = check<{ paths: readonly string[] }>({
  meta: {
    code: 'decided-by-otherwise',
    severity: 'advice',
    title: 'Every page has an audience of its own or by a rule.',
    why: 'A page that nobody thought of gets what `otherwise` says, which is right only by chance.',
    cwe: null,
    mend: 'Give the pages an audience, or write a rule for them.',
  },
  *find(facts) {
    const paths = facts.policy.pages
      .filter((page) => facts.pageRoute(page)?.grounds.by === 'otherwise')
      .map((page) => page.pattern.text);
    const [first] = paths;
    if (first !== undefined) yield { at: ['pages', first], params: { paths } };
  },
  message: ({ paths }) => `only otherwise decides who sees ${orList(paths)}`,
});
