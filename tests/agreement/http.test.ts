import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sourceOf } from '../../src/core/language/text/source';
import type { Policy } from '../../src/core/language/policy';
import type { Walk } from '../../src/core/steps/walk';
import { loadProject } from '../../src/core/walks/project';
import { fakeDate } from '../support/fake-date';
import { walksOf } from '../support/generated-walks';
import { differencesOverWire } from '../support/over-the-wire';
import { EXAMPLES, shipped, SHIPPED } from '../support/policies';

beforeAll(fakeDate);
afterAll(() => {
  jest.useRealTimers();
});

describe('walks come out over HTTP as they are simulated', () => {
  const shown = SHIPPED.map((name) => shipped(name));
  const all = shown.flatMap(({ stage, walks }) =>
    walks.map((walk) => [walk.name, walk, stage.app.policy] as const),
  );
  test.each(all)('%s', async (_name, walk, policy) => {
    expect(await differencesOverWire(policy, walk)).toEqual([]);
  });

  const names = ['faults', 'sound'].flatMap((folder) =>
    readdirSync(join(EXAMPLES, folder)).map((name) => join(folder, name)),
  );
  test.each(names)('%s', async (name) => {
    const { policy: shown, walks: played } = await projectOf(name);
    for (const walk of played.filter((each) => !isPlain(each))) {
      expect(await differencesOverWire(shown, walk)).toEqual([]);
    }
  });
});

describe('walks that nobody thought of come out over HTTP as they are simulated', () => {
  const hold = (walks: fc.Arbitrary<Walk>, policy: Policy, numRuns: number) =>
    fc.assert(
      fc.asyncProperty(walks, async (walk) => {
        expect(await differencesOverWire(policy, walk)).toEqual([]);
      }),
      { numRuns },
    );

  test.each(SHIPPED)(
    'on the example %s',
    async (name) => {
      const { policy } = shipped(name).stage.app;
      await hold(walksOf(policy, 16), policy, 50);
    },
    300_000,
  );

  // Of the sound ones those that do what ordinary apps do.
  const sound = readdirSync(join(EXAMPLES, 'sound')).filter((name) => name >= '35');
  test.each([
    ...readdirSync(join(EXAMPLES, 'faults')).map((name) => join('faults', name)),
    ...sound.map((name) => join('sound', name)),
  ])(
    'on %s',
    async (name) => {
      const { policy } = await projectOf(name);
      await hold(walksOf(policy, 10), policy, 3);
    },
    60_000,
  );
});

/** Whether a walk goes over plain http: the stand-in has one address, and is told of that by a header that stays. */
function isPlain({ steps }: Walk): boolean {
  return steps.some(({ action }) => action.verb === 'visit' && action.address.startsWith('http:'));
}

/** An example with its walks. */
async function projectOf(
  name: string,
): Promise<{ readonly policy: Policy; readonly walks: readonly Walk[] }> {
  const source = sourceOf(name, readFileSync(join(EXAMPLES, name), 'utf8'));
  const { policy, walks } = await loadProject(source, []);
  if (policy === null) throw new Error('no policy');
  return { policy, walks };
}
