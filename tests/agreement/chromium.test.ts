import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { Browser } from 'playwright-core';
import { ChromiumPlay, simulatedStep, type Simulated } from '../support/in-chromium';
import { playWalk } from '../../src/core/walks/runner';
import { standInOf } from '../support/over-the-wire';
import { isDoable } from '../support/doable';
import { startChromium } from '../support/person';
import { startOtherSite } from '../support/other-site';
import { EXAMPLES, project, shipped, SHIPPED } from '../support/policies';
import { PROGRAM } from '../support/program';

let browser: Browser;
let otherSite: Awaited<ReturnType<typeof startOtherSite>>;

beforeAll(async () => {
  browser = await startChromium();
  otherSite = await startOtherSite();
}, 180_000);

afterAll(async () => {
  await browser.close();
  otherSite.stop();
});

/** The address and the secret that a stand-in says it has. */
async function startedAs({ stdout, stderr }: ChildProcess): Promise<{ address: string; secret: string }> {
  let out = '';
  let err = '';
  return new Promise((settle) => {
    const look = () => {
      const [, secret] = /secret (\S+)/.exec(err) ?? [];
      if (out.includes('\n') && secret !== undefined) settle({ address: out.trim(), secret });
    };
    stdout?.on('data', (part: Buffer) => {
      out += part.toString();
      look();
    });
    stderr?.on('data', (part: Buffer) => {
      err += part.toString();
      look();
    });
  });
}

describe.each(SHIPPED)(
  'walks of %s come out in Chromium, against `cavrin serve`, as `cavrin walk` says',
  (name) => {
    const { stage, walks } = shipped(name);
    const file = join(EXAMPLES, name, 'cavrin.yaml');
    const doable = walks.filter(isDoable);
    let program: ChildProcess;
    let chromium: ChromiumPlay;
    let expected: ReadonlyMap<string, readonly Simulated[]>;

    beforeAll(async () => {
      program = spawn(process.execPath, [PROGRAM, 'serve', file, '--clock', 'virtual'], { stdio: 'pipe' });
      chromium = new ChromiumPlay(await startedAs(program), stage.app.policy, browser, otherSite.address);
      const args = [PROGRAM, 'walk', file, '--format', 'json'];
      const { stdout } = spawnSync(process.execPath, args, { encoding: 'utf8', maxBuffer: 1e8 });
      const { walks: told } = JSON.parse(stdout) as { walks: { name: string; steps: Simulated[] }[] };
      expected = new Map(told.map((walk) => [walk.name, walk.steps]));
    }, 180_000);

    afterAll(async () => {
      await chromium.end();
      program.kill('SIGTERM');
    });

    test('most of them can be done by a person', () => {
      expect(doable.length).toBeGreaterThan(walks.length * 0.7);
    });

    test.each(doable.map((walk) => [walk.name, walk] as const))(
      '%s',
      async (title, walk) => {
        await chromium.hold(walk, expected.get(title) ?? []);
      },
      180_000,
    );
  },
);

/** A page that script keeps people out of, for tokens kept in one place or another. */
const guarded = (kept: string) => `cavrin: 1
app: Guarded in the browser
origin: https://app.example
roles: { clerk: [], chief: [] }
accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] } }
pages:
  /:         { for: everyone }
  /in:       { for: everyone }
  /desk:
    for: [clerk]
    guard: browser
    loads: [GET /api/desk]
    parts: { stamp: { text: Stamp, for: [clerk], sends: PUT /api/desk }, sign: { text: Sign, for: [chief] }, sale: { text: Sale, for: { flags: { sale: on } } } }
  /safe:     { for: [chief], guard: browser }
  /api/desk: { for: [clerk], kind: api }
login: { page: /in, submit: POST /in, by: tokens, return: {} }
landing: [{ role: clerk, to: /desk }, { otherwise: /safe }]
logout: { submit: POST /out }
tokens: { access: { life: 5m, kept: ${kept} }, refresh: { life: 1h }, failed-refresh: login }
flags: { sale: off }
walks:
  - name: Everything script does
    steps:
      - { visit: /desk }
      - { login: ann }
      - { visit: /safe }
      - { visit: /desk }
      - { set-flag: { sale: on } }
      - { login: ann }
      - { wait: { past: access-expiry } }
      - { send: GET /api/desk }
      - { reload: }
      - { duplicate-tab: }
      - { send: GET /api/desk }
      - { close-tab: }
      - { new-tab: }
      - { visit: /desk }
      - { close-tab: }
      - { visit: /desk }
      - { login: ann }
      - { wait: { past: refresh-expiry } }
      - { send: GET /api/desk }
      - { login: bo }
      - { logout: }
      - { visit: /safe }
`;

describe('script keeps tokens where the policy says, guards, loads and refreshes as it is simulated', () => {
  test.each(['page', 'tab', 'browser', 'cookie'])(
    'kept: %s',
    async (kept) => {
      const { policy, stage, walks } = project(guarded(kept));
      const [walk] = walks;
      if (policy === null || walk === undefined) throw new Error('no policy');
      const standIn = await standInOf(policy);
      const chromium = new ChromiumPlay(standIn, policy, browser, otherSite.address);
      try {
        const { steps } = playWalk(stage, walk);
        const possible = {
          ...walk,
          steps: steps.filter(({ impossible }) => impossible === null).map(({ step }) => step),
        };
        expect(possible.steps.length).toBeGreaterThan(13);
        await chromium.hold(possible, playWalk(stage, possible).steps.map(simulatedStep));
      } finally {
        await chromium.end();
        await standIn.stop();
      }
    },
    180_000,
  );
});
