import fc from 'fast-check';
import { sourceOf } from '../../../src/core/language/text/source';
import { LIMITS } from '../../../src/core/language/text/yaml-text';
import { readProject } from '../../../src/core/walks/project';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { faults } from '../../support/policies';
import { marked } from '../../support/marked';

beforeAll(loadRegularLanguages);

describe('bad policies', () => {
  const base = 'cavrin: 1\napp: Test\norigin: https://app.example\n';
  const link = 'page: /a, submit: POST /b, link: /c/:d, life: 1m';
  const withLogin = (more: string) => `${base}login: { page: /in, submit: POST /in }\n${more}`;
  const logins = (second: string) =>
    `${base}logins: { a: { page: /in, submit: POST /in, return: {} }, b: { page: /b, ${second} } }`;

  test.each([
    ['yaml-syntax', 'cavrin: 1\napp: [x\n»roles: y'],
    ['yaml-syntax', 'cavrin: 1\napp: »!!js/function x\n'],
    ['yaml-syntax', 'cavrin: 1\n»---\ncavrin: 1\n'],
    ['control-character', 'cavrin: 1\napp: »\u0007\n'],
    ['too-many-values', bomb()],
    ['too-deep', `pages: ${'{a: ['.repeat(40)}»${'['.repeat(100_000)}`],
    ['too-deep', `${'['.repeat(80)}»${'['.repeat(100_000)}`],
    [
      'too-deep',
      `${Array.from({ length: 400 }, (_, depth) => `${' '.repeat(depth)}a:\n`).join('')}${' '.repeat(400)}»a:\n`,
    ],
    ['too-deep', `${'- '.repeat(41).slice(0, -1)}»${' -'.repeat(5000)}`],
    ['too-deep', '&a [»*a]'],
    ['too-large', `»#${' '.repeat(LIMITS.bytes)}`],
    ['empty-file', '»'],
    ['empty-file', '»# nothing\n'],
    ['wrong-type', '»- a\n'],
    ['wrong-type', '»hello'],
    ['wrong-type', 'cavrin: 1\napp: »[]\norigin: https://app.example\n'],
    ['wrong-type', 'cavrin: 1\napp: Test\norigin: »[]\n'],
    ['yaml-syntax', `[${','.repeat(20)}»,]`],
    ['yaml-syntax', `cavrin: »"${'\\\\q'.repeat(21)}"`],
    ['too-many-parts', `[${'a,'.repeat(99_999)}»a,a]`],
    [
      'too-many-roles',
      `${base}roles: { ${Array.from({ length: 1000 }, (_, at) => `r${at}: []`).join()}, »r: [] }`,
    ],
    ['bad-path', `${base}pages: { »/a\u202eb: { for: everyone } }`],
    ['bad-path', `${base}landing: [{ otherwise: »/a\u200bb }]`],
    ['bad-path', `${base}landing: [{ otherwise: »/${'a'.repeat(2000)} }]`],
    ['missing-key', '»cavrin: 1\norigin: https://app.example\n'],
    ['wrong-type', 'cavrin: »2\napp: Test\norigin: https://app.example\n'],
    ['bad-value', 'cavrin: 1\napp: Test\norigin: »ftp://app.example\n'],
    ['bad-value', 'cavrin: 1\napp: Test\norigin: »https://app.example/path\n'],
    ['bad-value', 'cavrin: 1\napp: Test\norigin: »app\n'],
    ['duplicate-key', `${base}roles: { a: [], »a: [] }`],
    ['bad-key', `${base}»__proto__: {}`],
    ['bad-key', `${base}roles: { »5: [] }`],
    ['unknown-anchor', `${base}roles: »*nowhere`],
    ['unknown-key', `${base}»roless: {}`],
    ['unknown-key', `${base}»constructor: {}`],
    ['same-endpoint', `${base}tokens: { access: { life: 5m }, submit: POST /r, revoke: »POST /r }`],
    ['bad-value', `${base}promises: [»{ after: logout }]`],
    ['bad-value', `${base}logout: { submit: POST /o, everywhere: true, of: »shown }`],
    ['unknown-parameter', `${base}pages: { '/a/:id': { for: everyone, after-write: »/b/:nr } }`],
    ['bad-value', `${base}pages: { /a: { for: everyone, after-write: /b, write-status: »201 } }`],
    ['bad-value', `${base}pages: { /a: { for: everyone, methods: »[] } }`],
    [
      'same-path',
      `${base}routing: { letter-case: ignored }\npages: { /a: { for: guests }, »/A: { for: guests } }`,
    ],
    ['bad-value', `${base}csrf: { before: guard, after: »guard }`],
    [
      'bad-value',
      `${base}login: { page: /in, submit: POST /in }\ncsrf: { token: per-session, field: »password }`,
    ],
    ['bad-value', `${base}session: { cookie: { name: »[sid, sid] } }`],
    ['bad-value', `${base}session: { kept: sealed, cookie: { renewed: »false } }`],
    ['bad-value', `${base}refusals: { guest: »shell }`],
    ['bad-value', `${base}refusals: { guest: »office }`],
    ['missing-section', `${base}password: »{ own: ends }`],
    ['missing-section', `${base}link-login: »{ ${link} }`],
    ['wrong-type', withLogin('password: { ends: [»everything] }')],
    ['wrong-type', withLogin('password: { own: »stays }')],
    ['wrong-type', withLogin('password: { change: { page: /a, submit: POST /b, asks-old: »maybe } }')],
    ['unknown-key', withLogin('password: { »chnage: {} }')],
    ['missing-key', withLogin('password: { change: »{ page: /a } }')],
    ['missing-key', withLogin('password: { reset: »{ page: /a, submit: POST /b, link: /c/:d } }')],
    ['bad-value', withLogin(`password: { reset: { ${link}, code: »given } }`)],
    ['wrong-type', withLogin(`password: { reset: { ${link}, then: »home } }`)],
    ['bad-value', withLogin('link-login: { page: /a, submit: POST /b, link: »/c, life: 1m }')],
    ['bad-path', withLogin('link-login: { page: /a, submit: POST /b, link: »c/:d, life: 1m }')],
    ['wrong-type', withLogin('link-login: { page: /a, submit: POST /b, link: /c/:d, life: »1 }')],
    ['bad-value', withLogin('link-login: { page: /a, submit: POST /b, link: /c/:d, life: »0s }')],
    ['bad-path', withLogin(`link-login: { ${link}, lands: »//c }`)],
    ['wrong-type', withLogin(`link-login: { ${link}, same-browser: »1 }`)],
    ['same-endpoint', withLogin('link-login: { page: /a, submit: »POST /in, link: /c/:d, life: 1m }')],
    ['bad-value', withLogin('csrf: { token: per-session, field: »old-password }')],
    [
      'not-built',
      `${base}login: { page: /in, submit: POST /in, by: tokens }\ntokens: { access: { life: 5m } }\nlink-login: »{ ${link} }`,
    ],
    [
      'bad-value',
      `${base}»login: { page: /in, submit: POST /in }\nlogins: { a: { page: /a, submit: POST /a } }`,
    ],
    ['bad-value', `${base}logins: »{}`],
    ['bad-name', `${base}logins: { »shell: { page: /a, submit: POST /a } }`],
    ['bad-name', `${base}logins: { »landing: { page: /a, submit: POST /a } }`],
    ['unknown-role', `${base}login: { page: /a, submit: POST /a, takes: [»boss] }`],
    ['same-endpoint', logins('submit: »POST /in')],
    ['bad-value', logins('submit: POST /b, as-role: »true')],
    ['bad-value', logins('submit: POST /b, by: »both')],
    ['bad-value', logins('submit: POST /b, return: { param: »to }')],
    ['bad-value', logins('submit: POST /b, return: { kept: »session }')],
    ['missing-key', `${base}logins: { a: »{ page: /a } }`],
    ['unknown-key', logins('submit: POST /b, »take: [a]')],
    ['bad-path', logins('submit: POST /b, landing: [{ otherwise: »//b }]')],
    [
      'bad-value',
      `${base}roles: { a: [] }
promises: [»{ only: a, reach: /b, after: logout }]`,
    ],
    ['wrong-type', `${base}tokens: { access: { life: 5m, kept: »attic } }`],
    [
      'not-built',
      `${base}tokens: { access: { life: 5m, kept: tab }, refresh: { life: 1h, kept: »browser } }`,
    ],
    ['bad-value', `${base}rules: [»{ for: everyone }]`],
    ['bad-value', `${base}rules: [»{ path: /a, matches: b }]`],
    ['bad-expression', `${base}rules: [{ matches: »"(" }]`],
    ['bad-expression', `${base}rules: [{ matches: »"^/a(?=b)" }]`],
    ['bad-expression', `${base}rules: [{ matches: »"(a)\\\\1" }]`],
    ['bad-expression', `${base}rules: [{ matches: »"(x{0,99}){0,99}n" }]`],
    ['bad-expression', `${base}rules: [{ matches: »"^/🚢" }]`],
    ['bad-expression', `${base}rules: [{ matches: »${'a'.repeat(501)} }]`],
    ['bad-value', `${base}rules: [{ path: /a, host: »https://b.example }]`],
    ['bad-value', `${base}rules: [{ path: /a, from: »10.0.0.0/33 }]`],
    ['bad-value', `${base}rules: [{ path: /a, from: »010.0.0.1 }]`],
    ['wrong-type', `${base}rules: [{ path: /a, methods: »GTE }]`],
    ['bad-value', `${base}landing: [»{ at: /a, to: /b }]`],
    ['bad-path', `${base}pages: { /a: { forward: [{ otherwise: »go }] } }`],
    ['missing-section', `${base}sign-up: »{ page: /a, submit: POST /a }`],
    ['missing-section', `${base}accounts: { a: { password: b, second-factor: »true } }`],
    ['bad-value', `${base}confirm: { path: »/confirm, life: 1h }`],
    ['bad-path', `${base}menu: [{ to: »//a, text: b }]`],
    ['wrong-type', `${base}session: { idle: »30 }`],
    ['bad-value', `${base}session: { idle: »-5m }`],
    ['bad-value', `${base}session: { idle: »0s }`],
    ['bad-value', `${base}session: { cookie: { name: »"a b" } }`],
    ['bad-name', `${base}roles: { »guests: [] }`],
    ['bad-name', `${base}accounts: { »"a b": { password: x } }`],
    ['unknown-role', `${base}roles: { a: [»b] }`],
    ['role-cycle', `${base}roles: { »a: [b], b: [c], c: [a] }`],
    ['role-cycle', `${base}roles: { »a: [a] }`],
    ['unknown-role', `${base}accounts: { a: { password: x, roles: [»b] } }`],
    ['unknown-role', `${base}pages: { /: { for: »signedin } }`],
    ['unknown-role', `${base}rules:\n  - path: /\n    for:\n      all:\n        - »a`],
    ['unknown-parameter', `${base}pages: { /:a: { for: { account: »b } } }`],
    ['unknown-role', `${base}second-factor: { page: /c, submit: POST /c, life: 5m, of: [»chef] }`],
    ['bad-value', `${base}session: { cookie: { path: »app } }`],
    ['bad-value', `${base}session: { cookie: { path: »'/a;b' } }`],
    ['bad-value', `${base}session: { cookie: { domain: »https://a.example } }`],
    ['bad-value', `${base}hosts: [»https://a.example]`],
    ['bad-value', `${base}barriers: [»{ name: a, stops: everyone }]`],
    ['bad-value', `${base}barriers: [»{ name: a, stops: everyone, answers: 503, sends: /a }]`],
    ['bad-value', `${base}barriers: [{ name: a, stops: everyone, answers: 503, returns: »true }]`],
    ['bad-value', `${base}barriers: [{ name: a, stops: everyone, answers: »200 }]`],
    [
      'bad-value',
      `${base}barriers: [{ name: a, stops: everyone, answers: 503 }, { name: »a, stops: guests, answers: 503 }]`,
    ],
    ['bad-name', `${base}barriers: [{ name: »none, stops: everyone, answers: 503 }]`],
    ['missing-key', `${base}barriers: [»{ name: a, answers: 503 }]`],
    ['unknown-role', `${base}barriers: [{ name: a, stops: [»chef], answers: 503 }]`],
    ['bad-path', `${base}barriers: [{ name: a, stops: everyone, sends: /a, lets: [»b] }]`],
    ['bad-path', `${base}barriers: [{ name: a, stops: everyone, sends: »//evil.example }]`],
    ['unknown-role', `${base}session: { by-role: [{ role: »chef, idle: 5m }] }`],
    ['missing-key', `${base}session: { by-role: [»{ idle: 5m }] }`],
    ['bad-value', `${base}session: { by-role: [{ role: a, idle: »0s }] }`],
    ['unknown-parameter', `${base}pages: { /:a: { for: { facts: { club: »':b' } } } }`],
    ['no-parameter-here', `${base}landing: [{ facts: { club: »':b' }, to: / }]`],
    ['wrong-type', `${base}pages: { /: { for: { facts: { club: [»[a]] } } } }`],
    ['bad-value', `${base}accounts: { a: { password: x, facts: { club: »':b' } } }`],
    ['bad-value', `${base}accounts: { a: { password: x, joined: »soon } }`],
    ['bad-value', `${base}pages: { /: { sets: { club: »':b' } } }`],
    ['bad-name', `${base}flags: { »none: on }`],
    ['wrong-type', `${base}flags: { sale: »maybe }`],
    ['unknown-flag', `${base}flags: { sale: on }\npages: { /: { for: { flags: { »sail: on } } } }`],
    ['bad-value', `${base}pages: { /: { for: { joined-within: »0s } } }`],
    ['bad-value', `${base}pages: { /a: { refusals: { »unknown: / } } }`],
    ['bad-value', `${base}pages: { /a: { kind: page, refusals: { api: »{ role: 404 } } } }`],
    ['bad-value', `${base}rules: [{ path: /a, kind: api, refusals: { api: »{ role: 404 } } }]`],
    ['bad-value', `${base}rules: [{ path: /a, refusals: { role: »500 } }]`],
    ['wrong-type', `${base}rules: [{ path: /a, guard: »script }]`],
    ['missing-key', `${base}pages: { /a: { parts: { b: »{ text: B } } } }`],
    ['bad-name', `${base}pages: { /a: { parts: { »/b: { text: B, for: everyone } } } }`],
    ['unknown-role', `${base}pages: { /a: { parts: { b: { text: B, for: [»clark] } } } }`],
    [
      'unknown-parameter',
      `${base}pages: { /a: { parts: { b: { text: B, for: everyone, sends: »POST /a/:b } } } }`,
    ],
    ['bad-path', `${base}pages: { »a: {} }`],
    ['bad-path', `${base}pages: { »/-/clock: {} }`],
    ['bad-path', `${base}rules: [{ path: »/-/** }]`],
    ['bad-path', `${base}menu: [{ to: »/-, text: b }]`],
    ['bad-path', `${base}pages: { »/.well-known/jwks.json: {} }`],
    ['bad-path', `${base}rules: [{ path: »/**/a }]`],
    ['same-path', `${base}pages: { /:a: {}, »/:b: {} }`],
    ['bad-path', `${base}login: { page: »//evil.example, submit: POST /in }`],
    ['bad-value', `${base}login: { page: /in, submit: »SEND /in }`],
    ['missing-section', `${base}login: { page: /in, submit: POST /in, by: »tokens }`],
    ['same-endpoint', `${base}login: { page: /in, submit: POST /in }\nlogout: { submit: »POST /in }`],
    ['bad-value', `${base}landing: [»{ to: / }]`],
    ['bad-value', `${base}refusals: { guest: »500 }`],
    ['wrong-type', `${base}refusals: { guest: »[] }`],
    ['bad-value', `${base}tokens: { access: { life: 5m }, refresh-when: »5m }`],
  ])('%s, row %#', (code, withMark) => {
    const { expected, text } = marked(code, withMark);
    expect(faults(text)[0]).toBe(expected);
  });

  function bomb(): string {
    const layers = 'bcdefghij'.split('').map(
      (name, at) =>
        `${name}: &${name} [${Array(9)
          .fill(`*${'abcdefghij'[at] ?? ''}`)
          .join(',')}]`,
    );
    return ['a: &a [x,x,x,x,x,x,x,»x,x]', ...layers].join('\n');
  }

  test('every error of form and of names is reported in one run, each at its own place', () => {
    const text = `${base}roles: { a: [], b: [5], c: [nobody] }
accounts: { x: { password: 1 }, y: { password: p, roles: [b, d] } }
pages: { /: { for: e, colour: red }, /two: { for: [a, b, c, f] } }
rules: [{ path: 5, for: a }, { path: /x, for: g }]
login: { page: /in, submit: nothing, by: perhaps }
session: { idle: soon }
`;
    expect(faults(text).sort()).toEqual(
      [
        ...[
          'wrong-type 4:21',
          'wrong-type 5:28',
          'unknown-key 6:23',
          'wrong-type 7:17',
          'bad-value 8:29',
          'wrong-type 8:42',
        ],
        ...[
          'bad-value 9:18',
          'unknown-role 4:29',
          'unknown-role 5:62',
          'unknown-role 6:20',
          'unknown-role 6:61',
          'unknown-role 7:47',
        ],
      ].sort(),
    );
  });

  test('no text makes the reader throw', () => {
    const bits = [
      'cavrin: 1\n',
      'app: x\n',
      'origin: https://a.example\n',
      'pages: ',
      '{',
      '}',
      '[',
      ']',
      '/a',
      ':',
      ' ',
      '- ',
      '\n',
      '&a ',
      '*a',
      '"',
      '!!map ',
      '? ',
      '| ',
      'for',
      '5',
      ', ',
      'walks:\n',
      'roles: ',
    ];
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constantFrom(...bits), fc.string({ maxLength: 3 })), { maxLength: 40 }),
        (parts) => {
          const read = readProject(sourceOf('x', parts.join('')), [sourceOf('y', parts.slice(3).join(''))]);
          expect(read.policy === null ? read.diagnostics.length : 1).toBeGreaterThan(0);
        },
      ),
      { numRuns: 500 },
    );
  });
});
