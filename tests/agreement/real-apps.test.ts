import type { Browser } from 'playwright-core';
import type { Policy } from '../../src/core/language/policy';
import type { Walk } from '../../src/core/steps/walk';
import { fakeDate } from '../support/fake-date';
import { startChromium, startOtherSite } from '../support/person';
import { RealApp, RealPlay, realProject, START } from '../support/real-app';
import { isDoableFor, RealInChromium } from '../support/real-in-chromium';

const APPS = [
  ['server-rendered', false],
  ['sealed', true],
  ['single-page', false],
] as const;

/** What stays different, and is listed in docs/truth.md with its reason. */
const KNOWN: Record<string, readonly string[]> = {
  'server-rendered over HTTP': [
    'Which methods there are is answered by nobody, step 1: status simulated 204, real 404',
  ],
  'single-page over HTTP': [
    'An escape that is none leads to the shell, step 0: status simulated 200, real 400',
  ],
  'sealed in Chromium': [
    'A whole address of the app is as good as its path, step 1: simulated {"lands":"/shelf/7","seenAs":"ada","asked":["POST /sign-in 303","GET /shelf/7 200"],"holds":["session"]}, real {"lands":"/shelf","seenAs":"ada","asked":["POST /sign-in 303","GET /shelf 200"],"holds":["session"]}',
  ],
};

let steps = 0;
let browser: Browser;
let otherSite: Awaited<ReturnType<typeof startOtherSite>>;
beforeAll(async () => {
  browser = await startChromium();
  otherSite = await startOtherSite();
}, 180_000);
afterAll(async () => {
  await browser.close();
  otherSite.stop();
  const known = Object.values(KNOWN).flat().length;
  process.stderr.write(`${steps} steps of real apps: ${known} differences, all listed in docs/truth.md\n`);
});

describe.each(APPS)('%s', (name, hasProxy) => {
  let policy: Policy;
  let walks: readonly Walk[];
  beforeAll(async () => {
    ({ policy, walks } = await realProject(name));
  });
  afterEach(() => {
    jest.useRealTimers();
  });

  /** What differs over all walks, each against a fresh app; the next one starts while one is played with. */
  const differences = async (
    played: readonly Walk[],
    start: number,
    play: (app: RealApp, walk: Walk) => Promise<string[]>,
  ) => {
    const found: string[] = [];
    const fresh = () => RealApp.start(name, hasProxy, start);
    let next = fresh();
    for (const walk of played) {
      const app = await next;
      next = fresh();
      steps += walk.steps.length;
      try {
        found.push(...(await play(app, walk)));
      } finally {
        app.stop();
      }
    }
    (await next).stop();
    return found;
  };

  test('does over HTTP what is simulated', async () => {
    fakeDate();
    expect(walks.length).toBeGreaterThanOrEqual(20);
    const play = (app: RealApp, walk: Walk) => new RealPlay(policy, app).differences(walk);
    expect(await differences(walks, START, play)).toEqual(KNOWN[`${name} over HTTP`] ?? []);
  }, 300_000);

  test('does in Chromium what is simulated', async () => {
    const doable = walks.filter((walk) => isDoableFor(policy, walk));
    expect(doable.length).toBeGreaterThan(walks.length / 2);
    const start = Math.floor(Date.now() / 1000) * 1000;
    const play = (app: RealApp, walk: Walk) =>
      new RealInChromium(policy, app, browser, otherSite.address, start).differences(walk);
    expect(await differences(doable, start, play)).toEqual(KNOWN[`${name} in Chromium`] ?? []);
  }, 300_000);
});
