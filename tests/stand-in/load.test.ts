import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { Asked } from '../support/asked-stand-in';

const LOAD = join(__dirname, '..', 'support', 'load.mjs');
const PEOPLE = 800;

interface Seen {
  readonly requests: number;
  readonly wrong: readonly string[];
  readonly sessions: number;
  readonly tokens: number;
  readonly racers: number;
  readonly winners: number;
  readonly served?: number;
}

let asked: Asked;
afterEach(async () => {
  await asked.standIn.stop();
});

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

/** What is in use after everything unused is gone. */
function heapMebibytes(): number {
  collect();
  return process.memoryUsage().heapUsed / 2 ** 20;
}

const accounts = Array.from({ length: 50 }, (_, at) => `p${at}: { password: x, roles: [clerk] }`).join(', ');

test('under load every answer is right and none is lost, and memory stays level', async () => {
  asked = await Asked.start({
    accounts: `accounts: { ${accounts} }`,
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /hall: { for: signed-in }, /api/me: { for: signed-in, kind: api } }',
    login: 'login: { page: /in, submit: POST /in, by: both }',
    landing: 'landing: [{ otherwise: / }]',
    more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
  });
  const load = async (...more: readonly string[]): Promise<Seen> => {
    const { stdout } = await promisify(execFile)(process.execPath, [
      LOAD,
      asked.standIn.address,
      String(PEOPLE),
      '40',
      ...more,
    ]);
    return JSON.parse(stdout) as Seen;
  };
  const sizes: number[] = [];
  for (let round = 0; round < 3; round++) {
    const seen = await load();
    expect(seen.wrong).toEqual([]);
    expect(seen.requests).toBe(PEOPLE * 11);
    expect([seen.sessions, seen.tokens]).toEqual([PEOPLE, PEOPLE]);
    // One winner of each race for a rotating token.
    expect(seen.winners).toBe(seen.racers);
    const { state, entries } = asked.standIn.site;
    expect(state.sessions.filter(({ ended }) => ended === null)).toEqual([]);
    // What is remembered of requests is bounded, however many there were.
    expect(entries.length).toBeLessThan(2000);
    await asked.ask('POST', '/-/reset', { authorization: `Bearer ${asked.standIn.secret}` });
    expect(asked.standIn.site.state.sessions).toEqual([]);
    sizes.push(heapMebibytes());
  }
  // With resets under way many are refused, and nobody is taken for somebody else.
  const unsettled = await load(asked.standIn.secret);
  expect(unsettled.wrong).toEqual([]);
  expect(unsettled.served ?? 0).toBeGreaterThan(PEOPLE / 2);
  // The first round fills what is kept on purpose, such as the tokens that were verified lately.
  const [first = 0, second = 0, third = 0] = sizes;
  expect(Math.max(second, third) - first).toBeLessThan(15);
}, 400_000);
