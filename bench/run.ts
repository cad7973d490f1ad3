// Speed of the built program and of the core. Times are compared with Node's own start on the same machine, so that the
// numbers of two machines can be held against each other. Run by hand: npm run bench
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Bench } from 'tinybench';
import { parseDocument } from 'yaml';
import {
  gridOf,
  playWalk,
  readProject,
  runChecks,
  sourceOf,
  stageOf,
  tryFurther,
  tryOut,
} from '../src/core/internal.js';
import { playedAlone } from './played-alone.js';
import { generatedPolicy } from './generated.js';
import { liveRows } from './live.js';
import { proveRows, type Row } from './prove.js';
import { reportRows } from './report.js';
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
  .add('one walk of visits', () => playWalk(stage, visits))
  .add('app and browser alone', () => {
    project.walks.forEach((walk) => {
      playedAlone(stage, walk);
    });
  });
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

/** Milliseconds for so many steps, typed one after another. */
const typed = (many: number) => {
  const begun = performance.now();
  let trial = tryOut(stage, []);
  for (let at = 0; at < many && !('faults' in trial); at++) {
    trial = tryFurther(stage, trial, { visit: '/berths/7' });
  }
  return performance.now() - begun;
};
typed(1_000);
const typing = typed(4_000) / typed(1_000);

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
const missed: string[] = [];
/** A line of the report; what has an aim says whether it is met. */
const row = ({ name, value, note, aim }: Row) => {
  const isMet = aim === undefined || (aim.bound === 'most' ? aim.is <= aim.wanted : aim.is >= aim.wanted);
  if (!isMet) missed.push(name);
  const said =
    aim === undefined
      ? ''
      : `aim: at ${aim.bound} ${aim.wanted.toLocaleString('en')}${isMet ? '' : ', MISSED'}`;
  console.log(
    `${name.padEnd(34)} ${value.padStart(14)}   ${[said, note].filter((part) => part !== '').join('; ')}`,
  );
};
const perSecond = (rate: number) => `${Math.round(rate).toLocaleString('en')}/s`;
const rate = (name: string, count: number, milliseconds: number, wanted: number, note: string) => {
  const is = (count / milliseconds) * 1000;
  row({ name, value: perSecond(is), note, aim: { bound: 'least', wanted, is } });
};
const times = (name: string, is: number, wanted: number, bound: 'most' | 'least', note = '') => {
  row({ name, value: `${is.toFixed(2)} times`, note, aim: { bound, wanted, is } });
};
row({ name: 'node -e 0', value: `${start.toFixed(0)} ms`, note: 'the measure for the next three' });
times('cavrin --version', median(processes, 'cavrin --version') / start, 1.6, 'most');
times('cavrin walk (harbour)', median(processes, 'cavrin walk (harbour)') / start, 2.5, 'most');
times('cavrin check (harbour)', median(processes, 'cavrin check (harbour)') / start, 2.5, 'most');
times('4,000 typed steps', typing, 8, 'most', 'of the time of 1,000, which is 4 times less');
rate(
  'walk steps, all walks',
  steps,
  median(core, 'all walks'),
  300_000,
  'with laws: logins, calls and refreshes',
);
rate(
  'walk steps, mostly visits',
  visits.steps.length,
  median(core, 'one walk of visits'),
  300_000,
  'with laws',
);
rate('walk steps, app and browser', steps, median(core, 'app and browser alone'), 1_000_000, 'without laws');
row({
  name: 'memory, ten times the walks',
  value: `${(heaps[1] / heaps[0]).toFixed(2)} times`,
  note: globalThis.gc ? '' : 'run with --expose-gc for a true figure',
  aim: { bound: 'most', wanted: 1.1, is: heaps[1] / heaps[0] },
});
row({ name: 'reading 10,000 pages', value: `${median(reading, '10,000 pages').toFixed(0)} ms`, note: '' });
for (const [pages, rules, roles] of SIZES) {
  const ratio = median(sizes, `all ${pages}`) / median(sizes, `yaml ${pages}`);
  times(
    `check and grid, ${pages} pages`,
    ratio,
    2,
    'most',
    `of parsing the YAML; ${rules} rules, ${roles} roles`,
  );
}

function manyPagesPolicy(count: number): string {
  const pages = Array.from({ length: count }, (_, at) => `  /part-${at}/:id: { for: signed-in }`);
  return `cavrin: 1\napp: Many pages\norigin: https://harbour.example\npages:\n${pages.join('\n')}\n`;
}

const { constant, guest, signedIn, call } = await standInRates();
row({
  name: 'bare HTTP server, a constant',
  value: perSecond(constant),
  note: 'the measure for the next three',
});
times('stand-in, a call with a token', call / constant, 0.5, 'least');
times('stand-in, a page for a guest', guest / constant, 0.5, 'least', 'drawn in full each time');
times(
  'stand-in, a page signed in',
  signedIn / constant,
  0.5,
  'least',
  'the same, with menu, session and renewal',
);

for (const each of await proveRows()) row(each);
for (const each of liveRows()) row(each);
for (const each of reportRows()) row(each);
console.log(missed.length === 0 ? '\nEvery aim is met.' : `\nAims that are missed: ${missed.join('; ')}.`);
