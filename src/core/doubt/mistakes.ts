import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { formatDuration, parseDuration } from '../time/duration.js';
import { nodesOf, valueAt, type Plain } from './edits.js';

/** One place of a policy put otherwise, as people get it wrong. */
export interface Mistake {
  /** What was done, as a sentence begins: `the rule is left out`. */
  readonly what: string;
  /** Where, as people name it: `rules 2`, `session.idle`. */
  readonly where: string;
  readonly at: Path;
  /** What stands there then; undefined for nothing. */
  readonly next: Plain;
}

/** Sections in which nothing is to be got wrong: names, made-up people, and what looks at the policy. */
const LEFT_ALONE = new Set(['cavrin', 'app', 'origin', 'walks', 'promises', 'accepted']);

/** Every change of one place, in the order of the text. */
export function mistakesIn(policy: Policy, value: Plain): Mistake[] {
  const found: Mistake[] = [];
  // Two ways to the same text are one mistake.
  const seen = new Set<string>();
  const add = (at: Path, what: string, next: Plain) => {
    const text = JSON.stringify(next);
    const key = `${JSON.stringify(at)} ${text}`;
    if (seen.has(key) || text === JSON.stringify(valueAt(value, at))) return;
    seen.add(key);
    found.push({ what, where: nameOf(at), at, next });
  };
  for (const [at, here] of nodesOf(value)) {
    if (LEFT_ALONE.has(String(at[0]))) continue;
    for (const [what, next] of changesOf(policy, at, here)) add(at, what, next);
  }
  for (const [at, what, next] of careless(value)) add(at, what, next);
  return found;
}

/** A change: what it is in words, and what stands there then; undefined for nothing. */
type Change = readonly [what: string, next: Plain];

function changesOf(policy: Policy, at: Path, here: Plain): Change[] {
  if (at[0] === 'accounts') return accountChanges(at, here);
  if (at[0] === 'roles') return roleChanges(policy, at, here);
  if (at[0] === 'flags' || at[0] === 'menu') return [];
  return [
    ...orderChanges(at, here),
    ...audienceChanges(policy, at, here),
    ...patternChanges(at, here),
    ...durationChanges(at, here),
    ...listChanges(at, here),
    ...targetChanges(policy, at, here),
    ...wordChanges(at, here),
    ...leftOut(at),
  ];
}

/** A key that is forgotten, wherever one may be; a page of its own is not got wrong by that it is not there. */
function leftOut(at: Path): Change[] {
  const isKey = at.length > 1 && typeof at.at(-1) === 'string' && !(at[0] === 'pages' && at.length === 2);
  return isKey ? [['it is left out', undefined]] : [];
}

/** What is known of made-up people is given; that somebody owes a code is easily forgotten. */
function accountChanges(at: Path, here: Plain): Change[] {
  return at.length === 3 && at[2] === 'second-factor' && here === true
    ? [['it owes no code any more', undefined]]
    : [];
}

function roleChanges(policy: Policy, at: Path, here: Plain): Change[] {
  if (at.length !== 2 || !Array.isArray(here)) return [];
  const own = String(at[1]);
  const others = [...policy.roles.keys()].filter(
    (role) => role !== own && !here.includes(role) && policy.roles.get(role)?.holds.has(own) !== true,
  );
  return [
    ...here.map((role: string): Change => [
      `it does not include ${role} any more`,
      here.filter((each) => each !== role),
    ]),
    ...others.slice(0, 1).map((role): Change => [`it includes ${role} too`, [...(here as string[]), role]]),
  ];
}

const ORDERED = new Set(['rules', 'landing', 'barriers', 'lands', 'forward', 'by-role']);

/** Something of a list in which the first that fits decides is left out, or comes after the next. */
function orderChanges(at: Path, here: Plain): Change[] {
  if (typeof at.at(-1) === 'number' && ORDERED.has(String(at.at(-2)))) return [['it is left out', undefined]];
  if (!Array.isArray(here) || !ORDERED.has(String(at.at(-1)))) return [];
  const items: readonly Plain[] = here;
  return items
    .slice(1)
    .map((item, index): Change => [
      `its entries ${index + 1} and ${index + 2} have changed places`,
      [...items.slice(0, index), item, items[index], ...items.slice(index + 2)],
    ]);
}

const AUDIENCES = new Set(['for', 'read', 'write', 'stops', 'otherwise']);
const PARTS_OF_AUDIENCE = new Set([
  'facts',
  'account',
  'second-factor',
  'login-within',
  'joined-within',
  'flags',
  'none',
  'all',
  'any',
]);

function audienceChanges(policy: Policy, at: Path, here: Plain): Change[] {
  const key = String(at.at(-1));
  const inAudience = AUDIENCES.has(String(at.at(-2))) && PARTS_OF_AUDIENCE.has(key);
  if (inAudience && key !== 'any') return [[`${key} is not asked for any more`, undefined]];
  const isRoles = inAudience || AUDIENCES.has(key);
  if (!isRoles) return [];
  const roles =
    typeof here === 'string' && policy.roles.has(here)
      ? [here]
      : Array.isArray(here)
        ? (here as string[])
        : null;
  if (roles !== null) {
    const covered = new Set(
      roles.flatMap((role) =>
        [...policy.roles.values()].filter(({ holds }) => holds.has(role)).map(({ name }) => name),
      ),
    );
    const more = [...policy.roles.keys()].filter((role) => !covered.has(role));
    return [
      ...more.map((role): Change => [`it is for ${role} too`, [...roles, role]]),
      ...(roles.length > 1
        ? roles.map((role): Change => [
            `it is not for ${role} any more`,
            roles.filter((each) => each !== role),
          ])
        : []),
      ...(inAudience ? [] : ([['it is for everybody who is signed in', 'signed-in']] as const)),
    ];
  }
  if (inAudience) return [];
  if (here === 'nobody') return [['it is for whoever is signed in', 'signed-in']];
  if (here === 'signed-in') return [['it is for everyone', 'everyone']];
  if (here === 'guests') return [['it is for everyone', 'everyone']];
  if (here === 'everyone') return [['it is for whoever is signed in', 'signed-in']];
  return typeof here === 'object' && at[0] !== 'barriers'
    ? [['it is for everybody who is signed in', 'signed-in']]
    : [];
}

/** A pattern of a rule, a barrier or a list of paths covers more, or less. */
function patternChanges(at: Path, here: Plain): Change[] {
  const isPattern =
    (at[0] === 'rules' && at.at(-1) === 'path') ||
    ['path', 'lets', 'not', 'accept'].includes(String(at.at(-2)));
  if (typeof here !== 'string' || !isPattern || !here.startsWith('/') || here === '/') return [];
  if (here.endsWith('/**')) {
    const base = here.slice(0, -3);
    return [
      ['it covers only one level', `${base}/*`],
      ...(base === '' ? [] : ([['it covers only the path itself', base]] as const)),
    ];
  }
  const above = here.slice(0, here.lastIndexOf('/'));
  return [
    ['it covers all below', `${here}/**`],
    ...(above === '' ? [] : ([['it covers all beside', `${above}/**`]] as const)),
  ];
}

function durationChanges(at: Path, here: Plain): Change[] {
  if (typeof here !== 'string') return [];
  const seconds = parseDuration(here);
  if (typeof seconds === 'string' || seconds === 0) return [];
  const key = String(at.at(-1));
  // Without these there is no such thing at all.
  const isNeeded = key === 'life' || key === 'within' || key === 'pause';
  return [
    [`it is ${formatDuration(seconds * 2)}, twice as long`, formatDuration(seconds * 2)],
    ...(seconds >= 2
      ? ([
          [
            `it is ${formatDuration(Math.floor(seconds / 2))}, half as long`,
            formatDuration(Math.floor(seconds / 2)),
          ],
        ] as const)
      : []),
    ...(isNeeded || PARTS_OF_AUDIENCE.has(key) ? [] : ([['it is left out', undefined]] as const)),
  ];
}

const SHORTENED = new Set(['ends', 'lets', 'not', 'takes', 'of', 'loads', 'also', 'methods']);

/** A list from which something is missing. */
function listChanges(at: Path, here: Plain): Change[] {
  if (!Array.isArray(here) || !SHORTENED.has(String(at.at(-1)))) return [];
  return here.map((item, index): Change => [
    `${typeof item === 'string' ? item : `the entry ${index + 1}`} is left out of it`,
    here.filter((_, place) => place !== index),
  ]);
}

const TARGETS = new Set([
  'to',
  'otherwise',
  'lands',
  'wrong',
  'sends',
  'after-write',
  'failed-refresh',
  ...['guest', 'role', 'guests-only', 'unknown', 'second-factor', 'stale-login'],
]);

/** Where people are sent leads to another page, or a refusal is another. */
function targetChanges(policy: Policy, at: Path, here: Plain): Change[] {
  const key = String(at.at(-1));
  if (!TARGETS.has(key) || at.length < 2) return [];
  const isRefusal = at.includes('refusals');
  if (isRefusal) {
    const others = ['login', 403, 404, 'landing'].filter((each) => each !== here);
    return [
      ...others.slice(0, 2).map((each): Change => [`it is ${each}`, each]),
      ['it is left out', undefined],
    ];
  }
  if (typeof here !== 'string' || !here.startsWith('/')) return [];
  const other = policy.pages
    .map(({ pattern }) => pattern.text)
    .find((path) => path !== here && !path.includes(':'));
  return other === undefined ? [] : [[`it leads to ${other}`, other]];
}

/** Words of which another is easily written. */
const WORDS: Readonly<Record<string, readonly Plain[]>> = {
  'same-site': ['none', 'lax', 'strict'],
  accept: ['anything', 'same-origin'],
  roles: ['in-token', 'each-request', 'at-login'],
  reuse: ['accept', 'end-family'],
  then: ['login', 'signed-in', 'confirm', 'nothing'],
  kept: ['memory', 'store'],
  asked: ['at-page', 'at-login'],
  guard: ['browser', 'server'],
  cache: ['cached', 'no-store'],
  'at-once': ['any', 'latest-wins'],
  renews: ['never', 'each-request'],
  of: ['shown', 'login'],
};

function wordChanges(at: Path, here: Plain): Change[] {
  const key = String(at.at(-1));
  if (typeof here === 'boolean') return [[`it is ${!here}`, !here]];
  if (key === 'most' && typeof here === 'number') return [[`it is ${here * 2}`, here * 2]];
  if (key === 'limit' || typeof here !== 'string') return [];
  return (WORDS[key] ?? [])
    .filter((word) => word !== here && (WORDS[key] ?? []).includes(here))
    .slice(0, 1)
    .map((word): Change => [`it is ${String(word)}`, word]);
}

/** What is careful where nothing is said, and is put carelessly. */
function careless(value: Plain): (readonly [Path, string, Plain])[] {
  const adds: readonly (readonly [Path, Plain])[] = [
    [['session', 'cookie', 'secure'], false],
    [['session', 'cookie', 'http-only'], false],
    [['session', 'cookie', 'same-site'], 'none'],
    [['session', 'roles'], 'at-login'],
    [['session', 'renews'], 'never'],
    [['session', 'kept'], 'memory'],
    [['remember', 'cookie', 'secure'], false],
    [['remember', 'rotates'], false],
    [['login', 'renew-session-id'], false],
    [['login', 'return', 'accept'], 'anything'],
    [['login', 'attempts'], undefined],
    [['login', 'return'], undefined],
    [['logout', 'ends'], []],
    // Without these a login hands out one thing, which a logout shows.
    ...(['remember', 'tokens'].some((key) => valueAt(value, [key]) !== undefined)
      ? ([[['logout', 'of'], 'shown']] as const)
      : []),
    [['tokens', 'refresh', 'rotates'], false],
    [['tokens', 'refresh', 'reuse'], 'accept'],
    [['tokens', 'refresh', 'longest'], undefined],
    [['tokens', 'roles'], 'in-token'],
    [['tokens', 'refresh-when'], 'never'],
    [['password', 'ends'], []],
    [['password', 'reset', 'code'], 'given'],
    [['csrf'], undefined],
    [['back-button'], 'cached'],
    [['otherwise'], 'everyone'],
    [['second-factor', 'of'], undefined],
    [['link-login', 'same-browser'], false],
  ];
  return adds.flatMap(([at, next]): (readonly [Path, string, Plain])[] => {
    const parent = valueAt(value, at.slice(0, -1));
    if (typeof parent !== 'object' || parent === null) {
      // A section that is not there may still be put carelessly where it is part of one that is.
      const above = valueAt(value, at.slice(0, -2));
      if (at.length < 3 || typeof above !== 'object' || above === null || parent !== undefined) return [];
    }
    const here = valueAt(value, at);
    if (next === undefined) return here === undefined ? [] : [[at, 'it is left out', undefined]];
    if (JSON.stringify(here) === JSON.stringify(next) || (here !== undefined && typeof here !== 'object')) {
      return [];
    }
    return [[at, `it is ${Array.isArray(next) ? 'empty' : JSON.stringify(next).replaceAll('"', '')}`, next]];
  });
}

function nameOf(at: Path): string {
  return at.map((key) => (typeof key === 'number' ? String(key + 1) : key)).join(' ');
}
