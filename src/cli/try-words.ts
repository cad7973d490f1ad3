import { TYPED, CREDENTIALS, DEADLINES, type Completed } from '../core/internal.js';
import { browsersOf, type Tried } from './try-session.js';

/** What can be typed at the prompt besides steps. */
export const ASKED = {
  undo: { usage: 'undo, or undo 3', does: 'takes the last step back, or so many' },
  why: {
    usage: 'why, or why GET /ledger',
    does: 'explains the last request, or what would come of one now',
  },
  reaches: {
    usage: 'reaches',
    does: 'lists the pages that are open now; in thief: reaches, for another browser',
  },
  state: { usage: 'state', does: 'shows every browser, what it holds, and what has become of the app' },
  steps: { usage: 'steps', does: 'shows what was done so far' },
  save: { usage: 'save a name', does: 'writes it as a walk that expects what came out' },
  again: { usage: 'again', does: 'begins from a fresh start' },
  help: { usage: 'help, or help login', does: 'shows what can be typed' },
  quit: { usage: 'quit', does: 'ends, as Ctrl-D does' },
} as const satisfies Readonly<Record<string, { readonly usage: string; readonly does: string }>>;
export type Asked = keyof typeof ASKED;

/** What is asked for by a word; null where it is no word of these. */
export function askedBy(word: string): Asked | null {
  return (Object.keys(ASKED) as Asked[]).find((each) => each === word) ?? null;
}

/** What may stand next in a line that is being typed, with the word that it would complete. */
export function completions(tried: Tried, line: string): [string[], string] {
  const [, inBrowser = '', body = ''] = /^(in [^:]*:\s*)?(.*)$/.exec(line) ?? [];
  const words = body.split(/\s+/);
  const current = words.at(-1) ?? '';
  const before = words.slice(0, -1);
  const all = before.length === 0 ? firstWords(inBrowser !== '') : nextWords(tried, before);
  return [all.filter((each) => each.startsWith(current)).map((each) => `${each} `), current];
}

function firstWords(isElsewhere: boolean): string[] {
  return [...TYPED.keys(), ...Object.keys(ASKED), ...(isElsewhere ? [] : ['in'])];
}

function nextWords(tried: Tried, before: readonly string[]): readonly string[] {
  const [first = '', ...rest] = before;
  if (first === 'in' && rest.length === 0) return namesOf(tried, 'browser').map((name) => `${name}:`);
  if (first === 'help') return firstWords(false);
  if (first === 'why') {
    return rest.length === 0
      ? [...namesOf(tried, 'method'), ...namesOf(tried, 'page')]
      : namesOf(tried, 'page');
  }
  const place = TYPED.get(first.replace(/:$/, ''))?.places[rest.length];
  return (place ?? []).flatMap((each) =>
    each.startsWith('=') ? [each.slice(1)] : namesOf(tried, each as Completed),
  );
}

function namesOf(tried: Tried, what: Completed): readonly string[] {
  const { policy } = tried.stage.app;
  const accounts = [...policy.accounts.values()];
  const made = tried.trial.results.at(-1)?.played.state.accounts.keys() ?? [];
  switch (what) {
    case 'account':
      return [...new Set([...accounts.filter(({ key }) => !key).map(({ name }) => name), ...made])];
    case 'machine':
      return accounts.filter(({ key }) => key).map(({ name }) => name);
    case 'page':
      return policy.pages.map(({ pattern }) => pattern.text);
    case 'method':
      return ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];
    case 'menu':
      return policy.menu.map(({ text }) => text);
    case 'role':
      return [...policy.roles.keys()];
    case 'fact':
      return [...new Set(accounts.flatMap(({ facts }) => [...facts.keys()]))];
    case 'flag':
      return [...policy.flags.keys()];
    case 'login':
      return policy.logins.flatMap(({ name }) => name ?? []);
    case 'provider':
      return policy.providers.map(({ name }) => name);
    case 'credential':
      return CREDENTIALS;
    case 'browser':
      return [...new Set([...browsersOf(tried).map(({ name }) => name), 'thief'])];
    case 'deadline':
      return DEADLINES;
  }
}
