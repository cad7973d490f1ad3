import fc from 'fast-check';
import { createApp } from '../../../src/core/app/app';
import { languageOfExpression, loadRegularLanguages } from '../../../src/core/paths/regular-language';
import type { RegularLanguage } from '../../../src/core/paths/automaton';
import { languageOfSpellings, samplesOfSpellings } from '../../../src/core/paths/spellings';
import { policyText, project } from '../../support/policies';

beforeAll(loadRegularLanguages);

const ROUTES = ['/', '/admin', '/admin/:id', '/files/:name/edit', '/docs/**'];

/** A policy of these pages with some routing, and its router. */
function routed(routing: string) {
  const pages = ROUTES.map((route) => `${route}: { for: everyone }`).join(', ');
  const more = `routing: { expressions: as-sent, ${routing} }`;
  const { policy } = project(
    policyText({ pages: `pages: { ${pages} }`, login: null, landing: null, logout: null, more }),
  );
  if (policy === null) throw new Error('no policy');
  return { policy, router: createApp(policy).router };
}

const SETTINGS = ['letter-case: same', 'letter-case: ignored'].flatMap((letters) =>
  ['decodes: true', 'decodes: false'].flatMap((decodes) =>
    ['trailing-slash: same', 'trailing-slash: different'].flatMap((slash) =>
      ['encoded-slash: kept, empty-segments: kept', 'encoded-slash: refused, empty-segments: dropped'].map(
        (rest) => [letters, decodes, slash, rest].join(', '),
      ),
    ),
  ),
);

const segment = fc.constantFrom(
  ...[
    'admin',
    'Admin',
    'aDMIN',
    'files',
    'edit',
    'docs',
    'x',
    '',
    '%61dmin',
    '%41dmin',
    'adm%69n',
    'adm%6E',
    'x%20y',
  ],
);
const path = fc.array(segment, { minLength: 1, maxLength: 4 }).map((segments) => `/${segments.join('/')}`);

test.each(SETTINGS)('a page is found at just the spellings that its language has: %s', (setting) => {
  const { policy, router } = routed(setting);
  const languages = policy.pages.map(({ pattern }) => languageOfSpellings(pattern, policy.routing));
  // What is more specific goes first, so a page is found where no other with fewer parameters is.
  for (const address of fc.sample(path, 400)) {
    const taken = policy.pages.filter((_page, at) => languages[at]?.has(address) === true);
    const found = router.find('GET', address)?.page ?? null;
    expect([address, found === null || taken.includes(found)]).toEqual([address, true]);
    expect([address, taken.length > 0]).toEqual([address, found !== null]);
  }
});

test('every way in which an expression can differ over the spellings of a page has a sample', () => {
  const { policy } = routed('letter-case: ignored');
  const expression = languageOfExpression('^/(admin|ADMIN|[a-z]dMin)/?$') as RegularLanguage;
  const { paths, isComplete } = samplesOfSpellings(
    policy.pages.map(({ pattern }) => pattern),
    [expression],
    policy.routing,
  );
  expect(isComplete).toBe(true);
  const admin = languageOfSpellings((policy.pages[1] ?? { pattern: null }).pattern as never, policy.routing);
  const spelled = paths.filter((each) => admin.has(each));
  expect(new Set(spelled.map((each) => expression.has(each)))).toEqual(new Set([true, false]));
});
