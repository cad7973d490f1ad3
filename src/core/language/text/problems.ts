import type { Diagnostic } from './diagnostic.js';
import type { Place } from './source.js';
import { clipped, orList } from './suggestions.js';

/** Takes a diagnostic; readers go on after it, so that one run reports everything. */
export type Report = (diagnostic: Diagnostic) => void;

/** What a problem says: the sentence, and one action that mends it. */
type Saying = readonly [message: string, hint: string | null];
type Near = { readonly name: string; readonly near: string | null };

const meant = (near: string | null, otherwise: string) =>
  near === null ? otherwise : `did you mean ${near}?`;
const undefinedName = (what: string, { name, near }: Near): Saying => [
  `no ${what} is called ${name}`,
  meant(near, `define the ${what}, or name one that exists`),
];

function roleList(roles: readonly string[]): string {
  return roles.length === 0 ? ', of which there is none yet' : `: ${orList(roles, 30)}`;
}

/** Everything that can be wrong with the form of an input, each with its sentence. A code is never used again. */
export const PROBLEMS = {
  'no-file': (p: { file: string }): Saying => [`there is no file ${p.file}`, 'check the name and the folder'],
  'no-policy': (p: { folder: string }): Saying => [
    `there is no cavrin.yaml in ${p.folder} or in any folder above it`,
    'write a first one with: cavrin init; name the one that is meant; or see one at work with: cavrin demo',
  ],
  'is-folder': (p: { file: string }): Saying => [
    `${p.file} is a folder`,
    `name the file in it, such as ${p.file.replace(/\/+$/, '')}/cavrin.yaml`,
  ],
  'cannot-read': (p: { file: string; reason: string }): Saying => [
    `${p.file} cannot be read: ${p.reason}`,
    'check its name, its permissions and the folders above it',
  ],
  'special-file': (p: { file: string }): Saying => [
    `${p.file} is a device, a socket or a pipe`,
    'name a plain file, or send the text to standard input and name it -',
  ],
  'link-leaves': (p: { file: string }): Saying => [
    `${p.file} is a link that leads out of the project, and is not followed`,
    'put the file here, or name it in the call',
  ],
  'too-many-walks': (p: { folder: string }): Saying => [
    `${p.folder} has more than 10,000 files of walks, or more than 64 MiB of them`,
    'name the files of walks that are meant after the policy',
  ],
  'not-text': (p: { file: string }): Saying => [
    `${p.file} is no text in UTF-8`,
    'name a YAML or JSON file, saved as UTF-8',
  ],
  'too-large': (p: { mebibytes: number }): Saying => [
    `the file is larger than ${p.mebibytes} MiB`,
    'split the walks into files of their own',
  ],
  'source-too-large': (p: { mebibytes: number }): Saying => [
    `the file is larger than ${p.mebibytes} MiB`,
    'record less at a time, or leave out what is not of the app',
  ],
  'bad-source': (p: { problem: string; remedy: string }): Saying => [p.problem, p.remedy],
  'control-character': (p: { code: number }): Saying => [
    `the control character U+${p.code.toString(16).toUpperCase().padStart(4, '0')} is not allowed in YAML`,
    'delete it, or write it as an escape in a double-quoted text',
  ],
  'too-deep': (p: { depth: number }): Saying => [
    `nested more than ${p.depth} levels deep`,
    'a policy needs no more than six levels',
  ],
  'too-many-values': (p: { values: number }): Saying => [
    `more than ${p.values} values once its aliases are followed`,
    'write repeated parts out, or repeat fewer of them',
  ],
  'too-many-parts': (p: { parts: number }): Saying => [
    `more than ${p.parts} words and signs`,
    'write rules in the place of pages that are alike, and walks in files of their own',
  ],
  'too-many-patterns': (p: { patterns: number }): Saying => [
    `more than ${p.patterns} patterns of rules`,
    'write a pattern such as /office/** in the place of rules that are alike, or pages with audiences of their own',
  ],
  'too-many-roles': (p: { roles: number }): Saying => [
    `more than ${p.roles} roles`,
    'give facts to accounts, and ask for them, in the place of roles that differ in one word',
  ],
  'yaml-syntax': (p: { problem: string }): Saying => [`not valid YAML: ${p.problem}`, null],
  'unknown-anchor': (p: { name: string }): Saying => [
    `no anchor is called ${p.name}`,
    'put a text that starts with a star in quotes, or define the anchor before it',
  ],
  'duplicate-key': (p: { key: string }): Saying => [
    `the key ${p.key} is written twice`,
    'keep one of them, or join the two',
  ],
  'bad-key': (p: { key: string | null }): Saying => [
    p.key === null ? 'a key must be text' : `the key ${p.key} is not allowed`,
    p.key === null ? 'put the key in quotes' : 'use another name',
  ],
  'empty-file': (p: { expects: string }): Saying => ['the file is empty', `write ${p.expects}`],
  'unknown-key': (p: {
    key: string;
    section: string;
    known: readonly string[];
    near: string | null;
    /** The keys in groups, where a section has so many that one list says little. */
    groups?: readonly { readonly what: string; readonly keys: readonly string[] }[];
  }): Saying => {
    const listed = (p.groups ?? []).map(({ what, keys }) => `${what}: ${keys.join(', ')}`).join('. ');
    const near = p.near === null ? '' : `did you mean ${p.near}? `;
    return [
      `unknown key ${p.key} in ${p.section}`,
      listed === '' ? meant(p.near, `the keys here are ${orList(p.known, 30)}`) : `${near}${listed}`,
    ];
  },
  'not-built': (p: { what: string }): Saying => [
    `${p.what} belongs to the language but is not built in this version of Cavrin`,
    'leave it out: nothing that is written may be ignored in silence',
  ],
  'wrong-type': (p: { expected: string; found: string; near: string | null }): Saying => [
    `expected ${p.expected}, found ${p.found}`,
    p.near === null ? null : meant(p.near, ''),
  ],
  'missing-key': (p: { key: string; section: string }): Saying => [
    `${p.section} lacks the key ${p.key}`,
    `add ${p.key}`,
  ],
  'bad-value': (p: { problem: string }): Saying => [p.problem, null],
  'bad-path': (p: { path: string; problem: string }): Saying => [
    `${p.path} is no usable path: ${p.problem}`,
    'a path is written like /berths, /berths/:id, /api/* or /office/**',
  ],
  'bad-expression': (p: { source: string; problem: string }): Saying => [
    `${p.source} cannot be matched: ${p.problem}`,
    'write an expression such as ^/(new|create)(/|$), of letters, classes, groups, * + ? and |',
  ],
  'bad-name': (p: { name: string; what: string; reserved: boolean }): Saying => [
    p.reserved
      ? `${p.name} has a meaning of its own and cannot be a ${p.what}`
      : `${p.name} is no usable ${p.what}`,
    'a name starts with a letter and goes on with letters, digits, dots, @, - or _',
  ],
  'same-path': (p: { path: string }): Saying => [
    `${p.path} covers the same addresses as another page`,
    'keep one of the two pages',
  ],
  'same-endpoint': (p: { request: string }): Saying => [
    `${p.request} is asked to do two things`,
    'give each endpoint a method and path of its own',
  ],
  'walks-not-policy': (p: { file: string }): Saying => [
    'this is a file of walks, not a policy',
    `name the policy first, then the walks: cavrin walk cavrin.yaml ${p.file}`,
  ],
  'unknown-role': (p: Near & { audiences: readonly string[] | null }): Saying => {
    const [message, hint] = undefinedName('role', p);
    if (p.audiences === null) return [message, hint];
    const near = p.near === null ? '' : `did you mean ${p.near}? `;
    return [
      message,
      `${near}An audience is everyone, guests, signed-in, nobody or a role${roleList(p.audiences)}`,
    ];
  },
  'unknown-account': (p: Near): Saying => undefinedName('account', p),
  'unknown-flag': (p: Near): Saying => undefinedName('flag', p),
  'unknown-login': (p: Near): Saying => undefinedName('login', p),
  'unknown-provider': (p: Near): Saying => undefinedName('identity provider', p),
  'no-parameter-here': (p: { name: string }): Saying => [
    `:${p.name} stands for a parameter of a path, and here is no path`,
    'write a value; parameters are asked for in the audience of a page or rule',
  ],
  'unknown-link': (p: Near): Saying => [
    `no menu link leads to ${p.name} or is called so`,
    meant(p.near, 'name a link of the menu by its address or its text'),
  ],
  'unknown-part': (p: Near): Saying => [
    `no page has a part ${p.name}, and no menu link has that text`,
    meant(p.near, 'name a part of a page, or a menu link by its address or its text'),
  ],
  'unknown-page-path': (p: Near): Saying => undefinedName('page', p),
  'unknown-parameter': (p: Near & { path: string }): Saying => [
    `the path ${p.path} has no parameter :${p.name}`,
    meant(p.near === null ? null : `:${p.near}`, 'name a parameter of the path'),
  ],
  'role-cycle': (p: { cycle: readonly string[] }): Saying => [
    `roles include each other in a circle: ${p.cycle.join(' → ')}`,
    'take one of these inclusions out',
  ],
  'missing-section': (p: { section: string; because: string }): Saying => [
    `${p.because}, but there is no ${p.section} section`,
    `add ${p.section}`,
  ],
  'no-step': (p: { verbs: readonly string[] }): Saying => [
    'this step says nothing to do',
    `a step has one of ${orList(p.verbs, 40)}`,
  ],
  'two-steps': (p: { verbs: readonly string[] }): Saying => [
    `this step says ${p.verbs.length} things to do: ${p.verbs.join(', ')}`,
    'write each as a step of its own',
  ],
  'cannot-be-expected': (p: { key: string; verb: string }): Saying => [
    `${p.key} cannot be expected of ${p.verb}, which asks the app nothing`,
    `expect it of the step that follows`,
  ],
  'no-deadline': (p: { deadline: string; key: string }): Saying => [
    `${p.deadline} never comes: the policy sets no ${p.key}`,
    `add ${p.key} to the policy, or wait for a duration`,
  ],
  'bad-table': (p: { problem: string; hint: string | null }): Saying => [p.problem, p.hint],
  'bad-request': (p: { problem: string; hint: string }): Saying => [p.problem, p.hint],
  'no-such-walk': (p: { only: string }): Saying => [
    `no walk has ${p.only} in its name`,
    'run without --only to see all names',
  ],
  'unknown-check': (p: Near): Saying => [
    `no check has the code ${p.name}`,
    meant(p.near, 'name a code that cavrin check reports'),
  ],
  'accepts-nothing': (p: { check: string }): Saying => [
    `${p.check} is accepted here, but there is no such finding`,
    'take the entry out: it would hide the finding should it come back',
  ],
  'no-live': (p: { file: string }): Saying => [
    `there is no ${p.file}, which says where the app is`,
    'write a first one with: cavrin live --learn --at http://127.0.0.1:3000 --login /login',
  ],
  'bad-selector': (p: { selector: string }): Saying => [
    `${p.selector} is no usable CSS selector`,
    "write one such as '#account', '.who b' or 'form[action=\"/sign-out\"]', in quotes",
  ],
  'host-not-allowed': (p: { host: string }): Saying => [
    `${p.host} is not this machine, and a run logs in, sends forms and may change accounts there`,
    `say that it may: --allow-host ${p.host}`,
  ],
  'walks-not-read': (p: { name: string }): Saying => [
    `${p.name} lies beside the policy and is not read`,
    'put walks into walks.yaml or below walks/, or name the files that are meant',
  ],
  'no-walks': (): Saying => [
    'there are no walks to play',
    'write walks in the policy or in walks/*.yaml beside it',
  ],
} as const;

/** The stable name of a problem. */
export type ProblemCode = keyof typeof PROBLEMS;
type Params<C extends ProblemCode> = Parameters<(typeof PROBLEMS)[C]>[0];

/** Makes the diagnostic of a problem. */
export function problem<C extends ProblemCode>(
  code: C,
  params: Params<C>,
  place: Place | null,
  related: Diagnostic['related'] = [],
): Diagnostic {
  // The compiler does not see that the words of a code take the parameters of that code.
  const say = PROBLEMS[code] as (params: Params<C>) => Saying;
  const [message, hint] = say(params);
  return {
    code,
    severity: 'error',
    message: clipped(message),
    place,
    related,
    hint: hint === null ? null : clipped(hint),
  };
}
