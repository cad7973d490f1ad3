import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sourceOf } from '../../src/core/language/source';
import type { Policy } from '../../src/core/language/policy';
import type { Walk } from '../../src/core/walks/walk';
import { loadProject } from '../../src/core/project';
import { walksOf } from '../support/generated-walks';
import { differencesOverWire } from '../support/over-the-wire';
import { harbour } from '../support/policies';

const FAULTS = join(__dirname, '..', '..', 'examples', 'faults');

beforeAll(() => {
  // Only the date is made up, for tough-cookie to judge lives by; timers and the network go on as ever.
  jest.useFakeTimers({
    doNotFake: [
      'setTimeout',
      'clearTimeout',
      'setInterval',
      'clearInterval',
      'setImmediate',
      'clearImmediate',
      'nextTick',
      'queueMicrotask',
      'performance',
      'hrtime',
    ],
  });
});
afterAll(() => {
  jest.useRealTimers();
});

describe('walks come out over HTTP as they are simulated', () => {
  const { policy, walks } = harbour();
  test.each(walks.map((walk) => [walk.name, walk] as const))('%s', async (_name, walk) => {
    if (policy === null) throw new Error('no policy');
    expect(await differencesOverWire(policy, walk)).toEqual([]);
  });

  test.each(readdirSync(FAULTS))('%s', async (name) => {
    const { policy: flawed, walks: shown } = await faultyProject(name);
    for (const walk of shown) expect(await differencesOverWire(flawed, walk)).toEqual([]);
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

  test('on the harbour', async () => {
    const { policy } = harbour();
    if (policy === null) throw new Error('no policy');
    await hold(walksOf(policy, 16), policy, 50);
  }, 300_000);

  test.each(readdirSync(FAULTS))(
    'on %s',
    async (name) => {
      const policy = await faulty(name);
      await hold(walksOf(policy, 10), policy, 3);
    },
    60_000,
  );
});

/** A policy that shows a fault, with the walks that show it. */
async function faultyProject(
  name: string,
): Promise<{ readonly policy: Policy; readonly walks: readonly Walk[] }> {
  const { policy, walks } = await loadProject(sourceOf(name, readFileSync(join(FAULTS, name), 'utf8')), []);
  if (policy === null) throw new Error('no policy');
  return { policy, walks };
}

const faulty = async (name: string) => (await faultyProject(name)).policy;
