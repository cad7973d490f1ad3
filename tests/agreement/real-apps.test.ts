import type { Policy } from '../../src/core/language/policy';
import type { Walk } from '../../src/core/walks/walk';
import { RealApp, RealPlay, realProject } from '../support/real-app';

const DO_NOT_FAKE = [
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
] as const;

const APPS = [
  ['server-rendered', false],
  ['sealed', true],
  ['single-page', false],
] as const;

describe.each(APPS)('%s', (name, hasProxy) => {
  let policy: Policy;
  let walks: readonly Walk[];
  beforeAll(async () => {
    jest.useFakeTimers({ doNotFake: [...DO_NOT_FAKE] });
    ({ policy, walks } = await realProject(name));
  });
  afterAll(() => {
    jest.useRealTimers();
  });

  test('does over HTTP what is simulated', async () => {
    const found: string[] = [];
    for (const walk of walks) {
      const app = await RealApp.start(name, hasProxy);
      try {
        found.push(...(await new RealPlay(policy, app).differences(walk)));
      } finally {
        app.stop();
      }
    }
    expect(found).toEqual([]);
  }, 300_000);
});
