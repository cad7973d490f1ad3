import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { runChecks } from '../src/core/checks/run-checks';
import { sourceOf } from '../src/core/language/text/source';
import { loadProject } from '../src/core/walks/project';
import { playWalk } from '../src/core/walks/runner';
import { stageOf } from '../src/core/play/stage';
import { differences, shipped, SHIPPED, line } from './support/policies';

const FAULTS = join(__dirname, '..', 'examples', 'faults');
const names = readdirSync(FAULTS);

test('there are at least thirty faults, each with its number and a sentence on it', () => {
  expect(names.length).toBeGreaterThanOrEqual(30);
  expect(new Set(names.map((name) => name.split('-', 1)[0])).size).toBe(names.length);
  for (const name of names) expect(readFileSync(join(FAULTS, name), 'utf8')).toMatch(/^# [A-Z].*\.\n/);
});

test.each(names)(
  '%s shows its flaw: the walk comes out as it says, and nothing else is broken',
  async (name) => {
    const { policy, input, walks, diagnostics } = await loadProject(
      sourceOf(name, readFileSync(join(FAULTS, name), 'utf8')),
      [],
    );
    expect(diagnostics.map(line)).toEqual([]);
    if (policy === null || input === null) throw new Error('no policy');
    const results = walks.map((walk) => playWalk(stageOf(policy), walk));
    expect(results.flatMap(differences)).toEqual([]);
    expect(results.map((result) => result.passed)).toEqual([true]);
    // The flaw is found before anything is played, or is one that only playing shows: a law or a reason.
    const found = runChecks(policy, input, walks);
    const shown = walks.flatMap((walk) =>
      walk.steps.flatMap((step) => [...step.expectBroken, step.expects.why]),
    );
    expect(found.length > 0 || shown.some((each) => each !== null && each !== 'served')).toBe(true);
  },
);

const NAMED = names.flatMap((name) => {
  const text = readFileSync(join(FAULTS, name), 'utf8');
  const [, code, row] = /^# Named by check: ([a-z-]+) \(line (\d+)\)\.$/m.exec(text) ?? [];
  return code === undefined ? [] : [{ name, text, code, row: Number(row) }];
});

test.each(NAMED)('$name is named by $code at line $row', async ({ name, text, code, row }) => {
  const { policy, input, walks } = await loadProject(sourceOf(name, text), []);
  if (policy === null || input === null) throw new Error('no policy');
  const found = runChecks(policy, input, walks).filter((each) => each.code === code);
  expect(found.map((each) => line(each).replace(/:\d+$/, ''))).toContain(`${code} ${row}`);
});

describe('sound policies', () => {
  const SOUND = join(__dirname, '..', 'examples', 'sound');
  const sound = readdirSync(SOUND);

  test('there are twenty-five and more', () => {
    expect(sound.length).toBeGreaterThanOrEqual(25);
  });

  test.each(sound)('%s: check is silent, and every walk passes', async (name) => {
    const { policy, input, walks, diagnostics } = await loadProject(
      sourceOf(name, readFileSync(join(SOUND, name), 'utf8')),
      [],
    );
    expect(diagnostics.map(line)).toEqual([]);
    if (policy === null || input === null) throw new Error('no policy');
    expect(runChecks(policy, input, walks).map((each) => `${line(each)} ${each.message}`)).toEqual([]);
    const stage = stageOf(policy);
    expect(walks.flatMap((walk) => differences(playWalk(stage, walk)))).toEqual([]);
  });
});

test.each(SHIPPED)('no walk of %s breaks a law, and check is silent', (name) => {
  const { stage, walks, input } = shipped(name);
  expect(input && runChecks(stage.app.policy, input, walks)).toEqual([]);
  expect(walks.flatMap((walk) => differences(playWalk(stage, walk)))).toEqual([]);
  const broken = walks.flatMap((walk) => playWalk(stage, walk).steps.flatMap((step) => step.broken));
  expect(broken).toEqual([]);
});
