// Speed of the built program and of the core. Times are compared with Node's own start on the same machine, so that the
// numbers of two machines can be held against each other. Run by hand: npm run bench
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Bench } from 'tinybench';
import { parseDocument } from 'yaml';
import { gridOf, playWalk, readProject, runChecks, sourceOf, stageOf } from '../src/core/internal.js';
import { generatedPolicy } from './generated.js';
import { proveRows } from './prove.js';
import { standInRates } from './stand-in.js';

const root = process.cwd();
const program = join(root, 'dist', 'cavrin.cjs');
const harbour = join(root, 'examples', 'harbour');
const walkFiles = readdirSync(join(harbour, 'walks')).map((name) => join(harbour, 'walks', name));
const read = (file: string) => sourceOf(file, readFileSync(file, 'utf8'));

const run = (...args: string[]) => {
  const { status } = spawnSync(process.execPath, args, { stdio: 'ignore' });
  if (status !== 0) throw new Error(`node ${args.join(' ')} ended with status ${status}`);
};
const median = (bench: Bench, name: string): number => {
  const result = bench.getTask(name)?.result;
  if (result === undefined || !('latency' in result)) throw new Error(`${name} was not measured`);
  return result.latency.p50;
};

const processes = new Bench({ iterations: 25, time: 0, warmupIterations: 3, warmupTime: 0 });
processes
  .add('node -e 0', () => {
    run('-e', '0');
  })
  .add('cavrin --version', () => {
    run(program, '--version');
  })
  .add('cavrin walk (harbour)', () => {
    run(program, 'walk', join(harbour, 'cavrin.yaml'));
  })
  .add('cavrin check (harbour)', () => {
    run(program, 'check', join(harbour, 'cavrin.yaml'));
  });
await processes.run();

const project = readProject(read(join(harbour, 'cavrin.yaml')), walkFiles.map(read));
if (project.policy === null) throw new Error('the harbour cannot be read');
const stage = stageOf(project.policy);
const steps = project.walks.reduce((sum, walk) => sum + walk.steps.length, 0);
const visits = project.walks.find((walk) => walk.name.startsWith('A busy session'));
if (visits === undefined) throw new Error('the walk of visits is gone');
const manyPages = sourceOf('many.yaml', manyPagesPolicy(10_000));

const core = new Bench({ time: 2000, warmupTime: 500 });
core
  .add('all walks', () => {
    project.walks.forEach((walk) => playWalk(stage, walk));
  })
  .add('one walk of visits', () => playWalk(stage, visits));
await core.run();

/** Bytes in use after so many walks; what a walk leaves behind would show here. */
const heapAfter = (times: number) => {
  for (let at = 0; at < times; at++) for (const walk of project.walks) playWalk(stage, walk);
  globalThis.gc?.();
  return process.memoryUsage().heapUsed;
};
const heaps = [heapAfter(20), heapAfter(200)] as const;

const reading = new Bench({ iterations: 5, time: 0, warmupIterations: 1, warmupTime: 0 });
reading.add('10,000 pages', () => readProject(manyPages, []));
await reading.run();

const SIZES: readonly [pages: number, rules: number, roles: number][] = [
  [200, 10, 5],
  [2_000, 100, 20],
  [10_000, 300, 40],
];
const sizes = new Bench({ iterations: 5, time: 0, warmupIterations: 1, warmupTime: 0 });
for (const [pages, rules, roles] of SIZES) {
  const text = generatedPolicy(pages, rules, roles);
  sizes.add(`yaml ${pages}`, () => parseDocument(text, { uniqueKeys: false }));
  sizes.add(`all ${pages}`, () => {
    const { policy, input } = readProject(sourceOf('generated.yaml', text), []);
    if (policy === null || input === null) throw new Error('the generated policy cannot be read');
    runChecks(policy, input);
    gridOf(policy);
  });
}
await sizes.run();

const start = median(processes, 'node -e 0');
const row = (name: string, value: string, note: string) => {
  console.log(`${name.padEnd(34)} ${value.padStart(14)}   ${note}`);
};
const perSecond = (count: number, milliseconds: number) =>
  `${Math.round((count / milliseconds) * 1000).toLocaleString('en')}/s`;
row('node -e 0', `${start.toFixed(0)} ms`, 'the measure for the next three');
for (const [name, aim] of [
  ['cavrin --version', 'aim: at most 1.6'],
  ['cavrin walk (harbour)', 'aim: at most 2.5'],
  ['cavrin check (harbour)', 'aim: at most 2.5'],
] as const) {
  row(name, `${(median(processes, name) / start).toFixed(2)} times`, aim);
}
row(
  'walk steps, all walks',
  perSecond(steps, median(core, 'all walks')),
  'logins, calls and refreshes; aim: 250,000/s',
);
row('walk steps, mostly visits', perSecond(visits.steps.length, median(core, 'one walk of visits')), '');
row(
  'memory, ten times the walks',
  `${(heaps[1] / heaps[0]).toFixed(2)} times`,
  globalThis.gc ? 'aim: 1' : 'run with --expose-gc for a true figure',
);
row('reading 10,000 pages', `${median(reading, '10,000 pages').toFixed(0)} ms`, '');

for (const [pages, rules, roles] of SIZES) {
  const ratio = median(sizes, `all ${pages}`) / median(sizes, `yaml ${pages}`);
  const name = `check and grid, ${pages} pages`;
  row(
    name,
    `${ratio.toFixed(2)} times`,
    `of parsing the YAML; ${rules} rules, ${roles} roles; aim: at most 3`,
  );
}

function manyPagesPolicy(count: number): string {
  const pages = Array.from({ length: count }, (_, at) => `  /part-${at}/:id: { for: signed-in }`);
  return `cavrin: 1\napp: Many pages\norigin: https://harbour.example\npages:\n${pages.join('\n')}\n`;
}

const { constant, guest, signedIn, call } = await standInRates();
row('bare HTTP server, a constant', perSecond(constant, 1000), 'the measure for the next three');
for (const [name, rate, note] of [
  ['stand-in, a call with a token', call, 'aim: at least 0.5'],
  ['stand-in, a page for a guest', guest, 'drawn in full each time; aim: at least 0.5'],
  ['stand-in, a page signed in', signedIn, 'the same, with menu, session and renewal'],
] as const) {
  row(name, `${(rate / constant).toFixed(2)} times`, note);
}

for (const [name, value, note] of await proveRows()) row(name, value, note);
