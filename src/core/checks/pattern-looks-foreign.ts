import { check } from './check.js';

/** Parameters are written the way this language does. */
export const patternLooksForeign = check<{ segment: string; text: string }>({
  meta: {
    code: 'pattern-looks-foreign',
    severity: 'warning',
    title: 'Parameters are written the way this language does.',
    why: 'A segment such as {id} or <id> is taken as it stands: it matches that text and nothing else, so the rule or page is never reached.',
    cwe: 'CWE-1023',
    mend: 'Write :id for a parameter, * for any one segment, and ** at the end for the rest.',
  },
  *find({ policy: { pages, rules, promises } }) {
    const written = [
      ...pages.map(({ pattern, at }) => ({ pattern, at })),
      ...[...rules, ...promises].flatMap((each) =>
        ('patterns' in each ? each.patterns : each.reach).map((pattern) => ({ pattern, at: each.at })),
      ),
    ];
    for (const { pattern, at } of written) {
      const segment = pattern.text.split('/').find((part) => FOREIGN.test(part));
      if (segment !== undefined) yield { at, params: { segment, text: pattern.text } };
    }
  },
  message: ({ segment, text }) => `${segment} in ${text} is matched as it stands, letter by letter`,
});

/** As other languages write parameters: {id}, <id>, [id], $id, (id), or an expression in a path. */
const FOREIGN = /^(?:\{.*\}|<.*>|\[.*\]|\$\w+|\(.*\))\??$|^%7B.*%7D$/i;
