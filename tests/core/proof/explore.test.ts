import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { sourceOf } from '../../../src/core/language/source';
import { loadProject } from '../../../src/core/project';
import { explore } from '../../../src/core/proof/explore';
import { earliest, type Between } from '../../../src/core/proof/waits';
import { policyText, project } from '../../support/policies';

const FAULTS = join(__dirname, '..', '..', '..', 'examples', 'faults');
const EVERYBODY = { thief: true, administrator: true };
/** Only requests at the same time break this one: they are not among the moves. */
const NOT_BY_ONE_REQUEST = new Set(['honest-refresh']);

describe('the flaws of the examples are found, each with a walk that breaks the law when it is played', () => {
  test.each(readdirSync(FAULTS))('%s', async (name) => {
    const { policy, stage, walks } = await read(name);
    expect(policy.app).not.toBe('');
    const wanted = walks
      .flatMap(({ steps }) => steps.flatMap(({ expectBroken }) => expectBroken))
      .filter((law) => !NOT_BY_ONE_REQUEST.has(law));
    if (wanted.length === 0) return;
    const { broken } = explore(stage, EVERYBODY, 400, (found) => wanted.every((law) => found.has(law)));
    expect([...broken.keys()]).toEqual(expect.arrayContaining(wanted));
    expect([...broken.values()].filter(({ replays }) => !replays)).toEqual([]);
    // No walk that a person wrote is shorter than the shortest, waits left out.
    for (const walk of walks) {
      const law = walk.steps.flatMap(({ expectBroken }) => expectBroken)[0];
      const own = walk.steps.filter(({ action }) => action.verb !== 'wait').length;
      if (law !== undefined && broken.has(law)) expect(broken.get(law)?.steps).toBeLessThanOrEqual(own);
    }
  });
});

async function read(name: string) {
  const { stageOf } = await import('../../../src/core/walks/stage');
  const { policy, walks } = await loadProject(sourceOf(name, readFileSync(join(FAULTS, name), 'utf8')), []);
  if (policy === null) throw new Error('no policy');
  return { policy, stage: stageOf(policy), walks };
}

test.each([
  ['an idle and an absolute limit', 'session: { idle: 4h, absolute: 8h }'],
  ['an idle limit alone', 'session: { idle: 30m }'],
  ['an absolute limit alone, days long', 'session: { absolute: 14d, renews: never }'],
])('a sound policy with %s is settled, and no law is found broken', (_what, session) => {
  const { stage } = project(
    policyText({
      session,
      pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] } }',
      roles: 'roles: { clerk: [] }',
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk] } }',
      login:
        'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 1, within: 5m, pause: 5m } }',
      landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
      more: 'menu: [{ to: /, text: Home }, { to: /desk, text: Desk }, { to: /in, text: Log in }]',
    }),
  );
  const cast = { thief: false, administrator: false };
  const { isSettled, broken, situations, transitions } = explore(stage, cast, 1000);
  expect([isSettled, [...broken.keys()]]).toEqual([true, []]);
  expect(situations).toBeGreaterThan(20);
  expect(transitions).toBeGreaterThan(situations);
});

test('a bound that was hit is told, not taken for settled', () => {
  const { stage } = project(policyText());
  expect(explore(stage, EVERYBODY, 5)).toMatchObject({ isSettled: false, situations: 5 });
});

describe('waits', () => {
  const STEPS = 5;
  const between = fc.record({
    earlier: fc.nat(STEPS - 2),
    by: fc.integer({ min: 1, max: STEPS - 1 }),
    how: fc.constantFrom('at-least' as const, 'at-most' as const),
    seconds: fc.nat(6),
  });
  const all = fc.array(between, { maxLength: 5 }).map((each) =>
    each.map(({ earlier, by, how, seconds }): Between => ({
      earlier,
      later: Math.min(STEPS - 1, earlier + by),
      how,
      seconds,
    })),
  );
  const fits = (times: readonly number[], each: readonly Between[]) =>
    each.every(({ earlier, later, how, seconds }) => {
      const apart = (times[later] ?? 0) - (times[earlier] ?? 0);
      return how === 'at-least' ? apart >= seconds : apart <= seconds;
    });

  test('are the earliest that fit, and there are none only where none fit', () => {
    fc.assert(
      fc.property(all, (asked) => {
        const times = earliest(STEPS, asked);
        const tried: number[][] = [[0]];
        let ends: number[][] = tried;
        // No step need wait longer than the longest that is asked for.
        for (let step = 1; step < STEPS; step++) {
          ends = ends.flatMap((of) =>
            Array.from({ length: 7 }, (_, wait) => [...of, (of.at(-1) ?? 0) + wait]).filter((next) =>
              fits(
                next,
                asked.filter(({ later }) => later <= step),
              ),
            ),
          );
        }
        if (times === null) {
          expect(ends).toEqual([]);
          return;
        }
        expect(fits(times, asked)).toBe(true);
        expect(times.at(-1)).toBe(Math.min(...ends.map((of) => of.at(-1) ?? 0)));
      }),
      { numRuns: 300 },
    );
  });
});
