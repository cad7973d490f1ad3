import { TOKEN_COOKIES } from '../app/token-cookies.js';
import { STAND_IN_COOKIE } from '../language/text/name-reader.js';
import { check } from './check.js';

/** Every cookie has a name of its own. */
export const cookieNamesClash = check<{ name: string; one: string; other: string }>({
  meta: {
    code: 'cookie-names-clash',
    severity: 'error',
    title: 'Every cookie has a name of its own.',
    why: 'The second cookie of a name takes the place of the first: the one is lost, and the other is read for what it is not.',
    cwe: null,
    mend: 'Give each cookie its own name.',
  },
  *find(facts) {
    const { tokens } = facts.policy;
    const cookies = [
      ...facts.cookies.flatMap(({ what, rules, at }) =>
        [rules.name, ...rules.others].map((name) => ({
          what: `the ${what} cookie`,
          name,
          at: [...at, 'name'],
        })),
      ),
      ...(tokens?.kept === 'cookie'
        ? Object.entries(TOKEN_COOKIES).map(([what, name]) => ({
            what: `the ${what} token`,
            name,
            at: tokens.at,
          }))
        : []),
    ];
    for (const { name, what, at } of cookies) {
      if (name === STAND_IN_COOKIE) {
        yield { at, params: { name, one: what, other: 'that of cavrin serve itself' } };
      }
    }
    for (const [index, cookie] of cookies.entries()) {
      const other = cookies.slice(index + 1).find(({ name }) => name === cookie.name);
      if (other === undefined) continue;
      yield { at: cookie.at, params: { name: cookie.name, one: cookie.what, other: other.what } };
    }
  },
  message: ({ name, one, other }) => `${one} and ${other} have the same name, ${name}`,
});
