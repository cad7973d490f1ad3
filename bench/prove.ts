// Speed of the proof: how fast states are looked at, and what the time to settle grows with. One core.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { castsOf, loadProject, settleScene, sourceOf, stageOf, type Cast } from '../src/core/internal.js';

const harbour = readFileSync(join('examples', 'harbour', 'cavrin.yaml'), 'utf8');

/** What came of all scenes together. */
interface Settled {
  readonly seconds: number;
  readonly states: number;
  readonly transitions: number;
  readonly isSettled: boolean;
  readonly scenes: number;
}

/** A row of the report. */
export interface Row {
  readonly name: string;
  readonly value: string;
  readonly note: string;
  /** What is wanted of it: at most or at least so much. */
  readonly aim?: { readonly bound: 'most' | 'least'; readonly wanted: number; readonly is: number };
}

/**
 * Settles every scene of a policy, with the exposure bounds where all scenes are wanted; gives seconds, states, transitions,
 * and whether all was settled.
 */
async function settle(text: string, isWanted: ((cast: Cast) => boolean) | null = null): Promise<Settled> {
  const { policy } = await loadProject(sourceOf('bench.yaml', text), []);
  if (policy === null) throw new Error('the policy cannot be read');
  const stage = stageOf(policy);
  const sum = { seconds: 0, states: 0, transitions: 0, isSettled: true, scenes: 0 };
  // Reading grows with the file; the proof should not.
  const start = performance.now();
  for (const cast of castsOf(stage, null).filter(isWanted ?? (() => true))) {
    const job = { cast, most: 100_000, withExposures: isWanted === null && cast.account === null };
    const { states, transitions, findings } = await settleScene(stage, job, () => false);
    sum.scenes += 1;
    sum.states += states;
    sum.transitions += transitions;
    sum.isSettled &&= [...findings.values()].every(({ verdict }) => verdict !== 'open');
  }
  return { ...sum, seconds: (performance.now() - start) / 1000 };
}

/** The same dozen audiences, whatever the number of pages. */
function pagesPolicy(pages: number): string {
  const roles = Array.from({ length: 4 }, (_, at) => `role-${at}`);
  const audience = (at: number) =>
    [
      'everyone',
      'signed-in',
      '[role-0]',
      '[role-1]',
      '[role-2]',
      '[role-3]',
      '[role-0, role-1]',
      '[role-1, role-2]',
      '[role-2, role-3]',
      '{ all: [role-0, role-1] }',
      '{ none: [role-0] }',
      '{ any: [role-3], login-within: 10m }',
    ][at % 12];
  return [
    'cavrin: 1',
    'app: Pages',
    'origin: https://harbour.example',
    `roles: { ${roles.map((role) => `${role}: []`).join(', ')} }`,
    `accounts: { ${roles.map((role, at) => `person-${at}: { password: p-${at}, roles: [${role}] }`).join(', ')} }`,
    'pages:',
    '  /sign-in: { for: guests }',
    '  /: { for: everyone }',
    ...Array.from({ length: pages }, (_, at) => `  /area-${at}/:id: { for: ${audience(at)} }`),
    'login: { page: /sign-in, submit: POST /sign-in, return: {} }',
    'landing: [{ otherwise: / }]',
    'logout: { submit: POST /sign-out }',
    'session: { idle: 30m, absolute: 8h }',
    '',
  ].join('\n');
}

/** The harbour with all lives within ten seconds of each other. */
const shortLives = harbour
  .replace('idle: 1h', 'idle: 5s')
  .replace('absolute: 4h', 'absolute: 9s')
  .replace('life: 30d', 'life: 10s')
  .replace('life: 5m, leeway: 5s', 'life: 2s, leeway: 1s')
  .replace('life: 1h, rotates', 'life: 6s, rotates')
  .replace('life: 5m, tries', 'life: 3s, tries')
  .replaceAll('most: 5m5s', 'most: 3s');

const longLives = harbour.replace('refresh: { life: 1h', 'refresh: { life: 14d');

const seconds = (found: Settled) => `${found.seconds.toFixed(2)} s`;
const told = ({ seconds: all, states, transitions, scenes, isSettled }: Settled) =>
  `${isSettled ? 'settled' : 'NOT SETTLED'}, ${scenes} scenes, ${states} states, ${transitions} transitions, ${Math.round(transitions / all)}/s`;

/** Rows for the report of all benchmarks. */
export async function proveRows(): Promise<Row[]> {
  const rows: Row[] = [];
  const whole = await settle(harbour);
  const atMost = (wanted: number, is: number) => ({ bound: 'most', wanted, is }) as const;
  rows.push({
    name: 'prove, harbour, with exposures',
    value: seconds(whole),
    note: told(whole),
    aim: atMost(5, whole.seconds),
  });
  const each = whole.transitions / whole.seconds;
  rows.push({
    name: 'transitions a second',
    value: `${Math.round(each).toLocaleString('en')}/s`,
    note: '',
    aim: { bound: 'least', wanted: 100_000, is: each },
  });
  const mebibytes = Math.round(process.memoryUsage().rss / 2 ** 20);
  rows.push({ name: 'memory after it', value: `${mebibytes} MiB`, note: '', aim: atMost(1024, mebibytes) });
  const isFirst = ({ account }: Cast) => account === null;
  const of: Settled[] = [];
  for (const pages of [50, 500, 5_000]) {
    const found = await settle(pagesPolicy(pages), isFirst);
    of.push(found);
    rows.push({ name: `prove, ${pages} pages, 12 audiences`, value: seconds(found), note: told(found) });
  }
  const growth = (of[2]?.seconds ?? 0) / (of[0]?.seconds ?? 1);
  rows.push({
    name: 'prove, 5,000 pages to 50',
    value: `${growth.toFixed(2)} times`,
    note: '',
    aim: atMost(1.5, growth),
  });
  for (const [name, text] of [
    ['5 minutes to 14 days', longLives],
    ['2 to 10 seconds', shortLives],
  ] as const) {
    const found = await settle(text, isFirst);
    rows.push({ name: `prove, lives of ${name}`, value: seconds(found), note: told(found) });
  }
  return rows;
}
