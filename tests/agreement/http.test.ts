import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sourceOf } from '../../src/core/language/source';
import { loadProject } from '../../src/core/project';
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
    const { policy: flawed, walks: shown } = await loadProject(
      sourceOf(name, readFileSync(join(FAULTS, name), 'utf8')),
      [],
    );
    if (flawed === null) throw new Error('no policy');
    for (const walk of shown) expect(await differencesOverWire(flawed, walk)).toEqual([]);
  });
});
