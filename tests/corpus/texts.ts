/** Texts that are small to send and costly to read carelessly, each with what it is. None is larger than 2 MiB. */

const HEAD = [
  'cavrin: 1',
  'app: Corpus',
  'origin: https://corpus.example',
  'roles: { clerk: [] }',
  'accounts: { ann: { password: a, roles: [clerk] } }',
  'pages: { /: { for: everyone }, /in: { for: guests } }',
  'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 5, within: 15m, pause: 15m } }',
  'landing: [{ otherwise: / }]',
  'logout: { submit: POST /out }',
  'session: { idle: 30m, absolute: 8h }',
];

/** A policy with lines in the place of those that begin alike, and more after them. */
function policy(...lines: readonly string[]): string {
  const keys = lines.map((line) => line.slice(0, line.indexOf(':')));
  return `${[...HEAD.filter((line) => !keys.includes(line.slice(0, line.indexOf(':')))), ...lines].join('\n')}\n`;
}

const times = (count: number, item: (at: number) => string, between = ', '): string =>
  Array.from({ length: count }, (_, at) => item(at)).join(between);
const expressions = (...sources: readonly string[]): string =>
  policy(`rules: [${sources.map((source) => `{ matches: '${source}', for: signed-in }`).join(', ')}]`);

/** As many items as stay below a size in bytes. */
function filled(most: number, item: (at: number) => string, between: string): string {
  const parts: string[] = [];
  for (let size = 0, at = 0; ; at++) {
    const part = item(at);
    size += part.length + between.length;
    if (size > most) return parts.join(between);
    parts.push(part);
  }
}
const LARGE = 2 * 1024 * 1024 - 4_096;

export const TEXTS: Readonly<Record<string, () => string>> = {
  'counted repetitions in each other': () => expressions('(x{0,99}){0,99}n'),
  'counted repetitions three deep': () => expressions('((x{0,30}){0,30}){0,30}n'),
  'states that double': () => expressions('^/.*a.{12}0'),
  'states that double, many times': () => expressions(...Array.from({ length: 30 }, () => '^/.*a.{3}0')),
  'states that double, each another': () =>
    expressions(
      ...Array.from({ length: 30 }, (_, at) => `^/.*${String.fromCharCode(97 + (at % 26))}.{3}${at}`),
    ),
  'a long alternation': () => expressions(`^/(${times(90, (at) => `a${at}b`, '|')})$`),
  'long alternations': () =>
    expressions(...Array.from({ length: 40 }, (_, rule) => `^/(${times(80, (at) => `${rule}x${at}`, '|')})`)),
  'alternations in each other': () => expressions(`${'('.repeat(60)}a${'|b)*'.repeat(60)}`),
  'backtracking for others': () =>
    expressions('^/(a+)+$', '^/(a|aa)+$', '^/([a-z]+)*x$', '^/(.*)*(.*)*(.*)*y$'),
  'hundreds of expressions': () => expressions(...Array.from({ length: 400 }, (_, at) => `^/p${at}(/|$)`)),
  'repetitions that are large together': () =>
    expressions(...Array.from({ length: 200 }, (_, at) => `(a|b|c|d|e|f){0,80}(x|y){0,80}${at}`)),
  'as many expressions as may be': () =>
    expressions(...Array.from({ length: 900 }, (_, at) => `[a-z]*x${at}`)),
  'thousands of expressions': () => expressions(...Array.from({ length: 10_000 }, (_, at) => `^/x${at}$`)),
  'as many patterns as may be': () =>
    policy(`rules: [{ path: [${times(1_500, (at) => `/:p${at}/**`)}], for: signed-in }]`),
  'rules for as many networks': () =>
    policy(
      `rules: [${times(1_500, (at) => `{ path: /:a/:b, from: [10.${at >> 8}.${at % 256}.0/24], for: signed-in }`)}]`,
    ),
  'more patterns than may be': () =>
    policy(`rules: [{ path: [${times(60_000, (at) => `/p${at}`)}], for: signed-in }]`),
  'hundreds of rules that overlap': () =>
    policy(
      `rules: [${times(900, (at) => `{ path: /a/*/${'*/'.repeat(at % 9)}b${at}/**, for: signed-in }`)}]`,
    ),
  'equal keys on one line': () => policy(`roles: { ${times(3_000, () => 'clerk: []')} }`),
  'equal keys, two MiB': () => policy(`roles: { clerk: [], ${filled(LARGE, () => 'a: []', ', ')} }`),
  'unknown keys': () => policy(filled(500_000, (at) => `unknown${at}: 1`, '\n')),
  'unknown keys on one line': () => policy(`session: { ${filled(1_000_000, (at) => `kye${at}: 1`, ', ')} }`),
  'unknown roles': () =>
    policy(`accounts: { ${times(5_000, (at) => `a${at}: { password: x, roles: [role${at}] }`)} }`),
  'unknown roles among many': () =>
    policy(
      `roles: { clerk: [], ${times(8_000, (at) => `role-${at}: []`)} }`,
      `accounts: { ann: { password: a, roles: [${times(8_000, (at) => `rolle-${at}`)}] } }`,
    ),
  'unknown aliases': () => policy(`menu: [${times(20_000, (at) => `*a${at}`)}]`),
  'one unknown alias, often': () => policy(`menu: [${filled(LARGE, () => '*a', ', ')}]`),
  'aliases of one anchor': () => policy(`roles: { clerk: &a [], ${times(20_000, (at) => `r${at}: *a`)} }`),
  'aliases that double': () =>
    `a0: &a0 [x, x]\n${times(40, (at) => `a${at + 1}: &a${at + 1} [*a${at}, *a${at}]`, '\n')}\n`,
  'an alias of itself': () => policy('menu: &a [*a, *a]'),
  'a chain of roles': () =>
    policy(`roles: { clerk: [], ${times(20_000, (at) => `r${at}: [r${at + 1}]`)}, r20000: [] }`),
  'a ring of roles': () =>
    policy(`roles: { clerk: [], ${times(20_000, (at) => `r${at}: [r${(at + 1) % 20_000}]`)} }`),
  'roles that hold all before them': () =>
    policy(`roles: { clerk: [], ${times(700, (at) => `r${at}: [${times(at, (of) => `r${of}`)}]`)} }`),
  'commas and nothing else': () => `[${','.repeat(LARGE)}]`,
  'empty items': () => policy(`menu: [${filled(LARGE, () => '~', ',')}]`),
  'empty maps': () => policy(`rules: [${filled(LARGE, () => '{}', ',')}]`),
  'brackets that open': () => '['.repeat(LARGE),
  'brackets that open and close': () => `[${filled(LARGE, () => '[]', ',')}]`,
  'braces in each other': () => `${'{a: '.repeat(80)}1${'}'.repeat(80)}`,
  'maps in maps on a line': () => `a: ${'b: '.repeat(20_000)}1\n`,
  'maps in maps after a bracket': () =>
    policy(`walks: [{ name: w, steps: [{ visit: / } }, ${'suspend: petra  '.repeat(3_000)}`),
  'dashes on a line': () => '- '.repeat(LARGE / 2),
  'indentation that grows': () => times(1_500, (at) => `${' '.repeat(at)}a:`, '\n'),
  'question marks': () => '? '.repeat(LARGE / 2),
  colons: () => ':'.repeat(LARGE),
  'colons and spaces': () => ': '.repeat(LARGE / 2),
  'quotes that never close': () => `app: "${'a'.repeat(LARGE)}`,
  'escapes in a text': () => policy(`menu: "${'\\x41'.repeat(LARGE / 4)}"`),
  'broken escapes in a text': () => policy(`menu: "${'\\q'.repeat(LARGE / 2)}"`),
  'exclamation marks': () => '! '.repeat(LARGE / 2),
  ampersands: () => '&a '.repeat(LARGE / 3),
  'percent signs': () => '%a\n'.repeat(LARGE / 3),
  comments: () => policy('#\n'.repeat(LARGE / 2)),
  'one long comment': () => policy(`# ${'a'.repeat(LARGE)}`),
  'empty lines': () => policy('\n'.repeat(LARGE)),
  'carriage returns': () => '\r'.repeat(LARGE),
  tabs: () => `a:\n${'\t'.repeat(LARGE)}`,
  spaces: () => policy(`menu: []${' '.repeat(LARGE)}`),
  documents: () => '---\n'.repeat(LARGE / 4),
  'a folded text': () => policy(`menu: >\n${' a\n'.repeat(LARGE / 3)}`),
  'a long name': () => policy(`accounts: { ${'a'.repeat(LARGE)}: { password: x } }`),
  'a long path': () =>
    policy(
      `pages: { /: { for: everyone }, /in: { for: guests }, /${'a/'.repeat(LARGE / 2)}: { for: guests } }`,
    ),
  'a long path of escapes': () => policy(`landing: [{ otherwise: /${'%C3%BC'.repeat(LARGE / 6)} }]`),
  'a long duration': () => policy(`session: { idle: ${'1h'.repeat(LARGE / 2)} }`),
  'a long number': () =>
    policy(`login: { page: /in, submit: POST /in, attempts: { most: ${'9'.repeat(LARGE)} } }`),
  'a long origin': () => policy(`origin: https://${'a.'.repeat(LARGE / 2)}example`),
  'a long network': () => policy(`rules: [{ path: /, networks: [${'1'.repeat(LARGE)}] }]`),
  'many pages': () =>
    policy(
      `pages: { /: { for: everyone }, /in: { for: guests }, ${times(5_000, (at) => `/p${at}: { for: [clerk] }`)} }`,
    ),
  'many pages that are one': () =>
    policy(
      `pages: { /: { for: everyone }, /in: { for: guests }, ${times(9_000, (at) => `/p/:a${at}: { for: [clerk] }`)} }`,
    ),
  'many landings': () =>
    policy(`landing: [${times(9_000, () => '{ role: clerk, to: /nowhere }')}, { otherwise: / }]`),
  'many menus': () => policy(`menu: [${times(9_000, (at) => `{ to: /nowhere${at}, text: x }`)}]`),
  'many accounts': () =>
    policy(
      `accounts: { ann: { password: a, roles: [clerk] }, ${times(9_000, (at) => `a${at}: { password: x, roles: [clerk] }`)} }`,
    ),
  'many kinds of accounts': () =>
    policy(
      `roles: { clerk: [], ${times(500, (at) => `r${at}: []`)} }`,
      `accounts: { ann: { password: a, roles: [clerk] }, ${times(500, (at) => `a${at}: { password: x, roles: [r${at}] }`)} }`,
      `landing: [${times(500, (at) => `{ role: r${at}, to: /p${at} }`)}, { otherwise: / }]`,
    ),
  'many wrong types': () => policy(`pages: { ${times(9_000, (at) => `/p${at}: ${at}`)} }`),
  'many promises': () => policy(`promises: [${times(5_000, () => '{ only: [clerk], reach: [/**] }')}]`),
  'many accepted': () =>
    policy(`accepted: [${times(5_000, (at) => `{ finding: no-such-${at}, because: x }`)}]`),
  'many walks': () =>
    policy(`walks: [${times(3_000, (at) => `{ name: w${at}, steps: [{ visit: / }, { login: ann }] }`)}]`),
  'walks of one name': () => policy(`walks: [${times(9_000, () => '{ name: w, steps: [{ visit: / }] }')}]`),
  'a long walk': () => policy(`walks: [{ name: w, steps: [${times(20_000, () => '{ visit: / }')}] }]`),
  'unknown steps': () =>
    policy(`walks: [{ name: w, steps: [${times(20_000, (at) => `{ vist${at}: / }`)}] }]`),
  'unknown people in steps': () =>
    policy(
      `accounts: { ${times(4_000, (at) => `a${at}: { password: x }`)} }`,
      `walks: [{ name: w, steps: [${times(4_000, (at) => `{ login: b${at} }`)}] }]`,
    ),
  'names of prototypes': () =>
    policy(
      'roles: { constructor: [], toString: [], hasOwnProperty: [], __proto__: [], valueOf: [constructor] }',
    ),
};
