import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { Browser } from 'playwright-core';
import type { Policy } from '../../src/core/language/policy';
import type { StepResult } from '../../src/core/walks/runner';
import { isDoable, Person, startChromium, startOtherSite } from '../support/person';
import { HARBOUR, harbour } from '../support/policies';
import { PROGRAM } from '../support/program';
import { steer, told } from '../support/over-the-wire';
import { sendOver } from '../support/wire-browser';

const POLICY = join(HARBOUR, 'cavrin.yaml');

interface WalkJson {
  readonly name: string;
  readonly steps: readonly {
    readonly time: number;
    readonly lands: string | null;
    readonly exchanges: readonly Parameters<typeof told>[0][];
  }[];
}

const { policy, walks } = harbour();
const doable = walks.filter(isDoable);
let standIn: { readonly address: string; readonly secret: string };
let program: ChildProcess;
let browser: Browser;
let otherSite: Awaited<ReturnType<typeof startOtherSite>>;
let expected: ReadonlyMap<string, WalkJson>;

beforeAll(async () => {
  program = spawn(process.execPath, [PROGRAM, 'serve', POLICY, '--clock', 'virtual'], { stdio: 'pipe' });
  standIn = await startedAs(program);
  browser = await startChromium();
  otherSite = await startOtherSite();
  const { stdout } = spawnSync(process.execPath, [PROGRAM, 'walk', POLICY, '--format', 'json'], {
    encoding: 'utf8',
    maxBuffer: 1e8,
  });
  const { walks: simulated } = JSON.parse(stdout) as { walks: WalkJson[] };
  expected = new Map(simulated.map((walk) => [walk.name, walk]));
}, 60_000);

/** People whose browsers are used again, made as good as new between walks. */
const people: Person[] = [];

/** Somebody at a browser that knows nothing; one who will close it has it to themselves. */
function personAt(policy: Policy, number: number, closes: boolean): Person {
  const fresh = () => new Person(standIn.address, otherSite.address, policy, browser, closes);
  if (closes) return fresh();
  const known = people[number] ?? fresh();
  people[number] = known;
  return known;
}

afterAll(async () => {
  for (const person of people) await person.end();
  await browser.close();
  otherSite.stop();
  program.kill('SIGTERM');
});

/** The address and the secret that a stand-in says it has. */
async function startedAs({ stdout, stderr }: ChildProcess): Promise<typeof standIn> {
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

async function ask<Answer>(path: string): Promise<Answer> {
  const { body } = await sendOver(standIn.address, 'GET', path, { host: new URL(standIn.address).host });
  return JSON.parse(body) as Answer;
}

test('most walks of the harbour can be done by a person', () => {
  expect(doable.length).toBeGreaterThan(walks.length * 0.7);
});

describe('walks come out in Chromium as `cavrin walk` says', () => {
  test.each(doable.map((walk) => [walk.name, walk] as const))(
    '%s',
    async (name, walk) => {
      if (policy === null) throw new Error('no policy');
      await steer(standIn, 'reset');
      const { now: start } = await ask<{ now: number }>('/-/now');
      const here = new Map<string, Person>();
      const closes = walk.steps.some(({ action }) => action.verb === 'close-browser');
      try {
        for (const [at, step] of walk.steps.entries()) {
          const { action } = step;
          const simulated = expected.get(name)?.steps[at];
          if (simulated === undefined) throw new Error('a step that was not simulated');
          const person = here.get(step.browser) ?? personAt(policy, here.size, closes);
          here.set(step.browser, person);
          await steer(standIn, 'clock', { to: String(start + simulated.time) });
          const before = (await ask<{ number: number }[]>('/-/requests')).at(-1)?.number ?? 0;
          if (isSteering(action.verb)) await steer(standIn, action.verb, fieldsOf(action));
          else if (action.verb !== 'wait') await person.act(step, await latestLink());
          const seen = (await ask<Parameters<typeof told>[0][]>(`/-/requests?after=${before}`)).map(told);
          expect([step.at, ...seen]).toEqual([step.at, ...simulated.exchanges.map(told)]);
          if (person.lands() !== null) expect(unsealed(person.lands())).toBe(simulated.lands);
        }
      } finally {
        for (const person of here.values()) await person.leave();
      }
    },
    60_000,
  );
});

type Verb = StepResult['step']['action']['verb'];

function isSteering(verb: Verb): boolean {
  return ['suspend', 'delete-account', 'set-roles', 'set-password', 'restart-app'].includes(verb);
}

function fieldsOf(action: object): Record<string, string> {
  const fields = Object.entries(action).filter(([name]) => name !== 'verb');
  return Object.fromEntries(fields.map(([name, value]) => [name, [value].flat().join(',')]));
}

async function latestLink(): Promise<string> {
  const { messages } = await ask<{ messages: { kind: string; text: string }[] }>('/-/state');
  return messages.findLast(({ kind }) => kind === 'link')?.text ?? '/';
}

/** The secret of a link is sealed on the wire. */
function unsealed(address: string | null): string | null {
  return address?.replace(/(confirm-\d+)\.[\w-]+/, '$1') ?? null;
}
