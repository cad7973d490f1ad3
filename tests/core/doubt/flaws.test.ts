import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { runChecks } from '../../../src/core/checks/run-checks';
import { withValue } from '../../../src/core/doubt/edits';
import { mistakesIn } from '../../../src/core/doubt/mistakes';
import { positionOf, sourceOf } from '../../../src/core/language/text/source';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { stageOf } from '../../../src/core/play/stage';
import { readProject } from '../../../src/core/walks/project';
import { playWalk } from '../../../src/core/walks/runner';
import { EXAMPLES } from '../../support/policies';

beforeAll(loadRegularLanguages);

const FAULTS = join(EXAMPLES, 'faults');
const NAMED = readdirSync(FAULTS).flatMap((name) => {
  const text = readFileSync(join(FAULTS, name), 'utf8');
  const [, code, row] = /^# Named by check: ([a-z-]+) \(line (\d+)\)\.$/m.exec(text) ?? [];
  return code === undefined ? [] : [[name, code, Number(row), text] as const];
});

/** Flaws that show nowhere in the app itself: who else reads a cookie. */
const UNSEEN = new Set(['63-remember-cookie-open.yaml', '97-cookie-for-every-host.yaml']);

/** The changes of one place, of those that doubt tries in the section of a flaw, that take the flaw away. */
function mendsOf(name: string, code: string, row: number, text: string) {
  const { policy, input } = readProject(sourceOf(name, text), []);
  if (policy === null || input === null) throw new Error('no policy');
  const sectionAt = (at: readonly (string | number)[]) =>
    positionOf(input.source, input.placeOf(at).start).line;
  const all = mistakesIn(policy, input.value);
  const own = new Set(all.filter(({ at }) => sectionAt(at) === row).map(({ at }) => at[0]));
  return all
    .filter(({ at }) => own.has(at[0]))
    .map(({ at, next }) => readProject(sourceOf(name, JSON.stringify(withValue(input.value, at, next))), []))
    .filter(
      (read) =>
        read.policy !== null &&
        read.input !== null &&
        !runChecks(read.policy, read.input, read.walks).some((found) => found.code === code),
    );
}

test.each(NAMED)('the walks of %s notice when its flaw is gone', (name, code, row, text) => {
  const mends = mendsOf(name, code, row, text);
  const noticed = mends.filter(({ policy, walks, diagnostics }) => {
    if (policy === null || diagnostics.length > 0) return true;
    const stage = stageOf(policy);
    return walks.some((walk) => !playWalk(stage, walk).passed);
  });
  expect(noticed.length > 0).toBe(mends.length > 0 && !UNSEEN.has(name));
});

test('nearly every flaw has a change of one place that takes it away', () => {
  const without = NAMED.filter(([name, code, row, text]) => mendsOf(name, code, row, text).length === 0);
  expect(NAMED.length).toBeGreaterThanOrEqual(70);
  expect(without.length).toBeLessThan(NAMED.length / 5);
});
