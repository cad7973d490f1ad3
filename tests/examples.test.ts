import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { runChecks } from '../src/core/checks/run-checks';
import { sourceOf } from '../src/core/language/source';
import { loadProject } from '../src/core/project';
import { playWalk } from '../src/core/walks/runner';
import { stageOf } from '../src/core/walks/stage';
import { differences, harbour, line } from './support/policies';

const FAULTS = join(__dirname, '..', 'examples', 'faults');
const names = readdirSync(FAULTS);

test('there are at least thirty faults, each with its number and a sentence on it', () => {
  expect(names.length).toBeGreaterThanOrEqual(30);
  expect(new Set(names.map((name) => name.slice(0, 2))).size).toBe(names.length);
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

test('no walk of the harbour breaks a law', () => {
  const { stage, walks } = harbour();
  const broken = walks.flatMap((walk) => playWalk(stage, walk).steps.flatMap((step) => step.broken));
  expect(broken).toEqual([]);
});
