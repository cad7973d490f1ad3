import fc from 'fast-check';
import { SHOWN } from '../../src/core/grid/grid';
import type { Method } from '../../src/core/http/messages';
import { openPolicy } from '../../src/core/library/open-policy';
import { ALONE, settleScene, verdictsOf } from '../../src/core/proof/prove';
import { sampleAddress } from '../../src/core/paths/coverage';
import type { Stage } from '../../src/core/play/stage';
import type { Outcome } from '../../src/core/steps/outcome';
import { plainStep, type Step, type Walk } from '../../src/core/steps/walk';
import { playSteps } from '../../src/core/walks/runner';
import { fakeDate } from '../support/fake-date';
import { differencesOverWire } from '../support/over-the-wire';
import { project } from '../support/policies';
import { richPolicies } from '../support/rich-policies';

beforeAll(fakeDate);
afterAll(() => {
  jest.useRealTimers();
});

const RUNS = Number(process.env['ANSWER_RUNS'] ?? 30);

/** Somebody signed in by the login, with the code where one is asked for; null for a guest. */
function loginSteps({ app: { policy } }: Stage, name: string | null): Step[] {
  const account = policy.accounts.get(name ?? '');
  if (name === null || account === undefined) return [];
  const login = policy.logins.find(
    ({ takes }) => takes === null || takes.some((each) => account.roles.has(each)),
  );
  return [
    plainStep('browser', {
      verb: 'login',
      account: name,
      password: account.password,
      passwordGiven: false,
      isWrong: false,
      role: null,
      remember: false,
      at: login?.name ?? null,
      with: null,
      from: null,
    }),
    ...(account.secondFactor ? [plainStep('browser', { verb: 'code', given: 'right' })] : []),
  ];
}

/** The step that asks as a browser does: script for what is for script. */
function asked({ app: { router } }: Stage, method: Method, address: string): Step {
  return method === 'GET' && router.find(method, address)?.kind !== 'api'
    ? plainStep('browser', { verb: 'visit', address, from: null })
    : plainStep('browser', { verb: 'send', method, address, from: null });
}

describe('every way to ask gives one answer', () => {
  test('walks, why, explain, admits, the grid and serve, over policies that nobody wrote', async () => {
    await fc.assert(
      fc.asyncProperty(richPolicies, async (text) => {
        await holdToOneAnother(text);
      }),
      { numRuns: RUNS },
    );
  }, 300_000);

  test('prove takes no page for closed to somebody to whom the grid shows it', async () => {
    let broken = 0;
    await fc.assert(
      fc.asyncProperty(richPolicies, async (text) => {
        const promise = await contradicted(text);
        if (promise === null) return;
        const stage = stageFrom(`${text.replace(/^promises: .*$/m, '')}\n${promise}\n`);
        const job = { cast: ALONE, most: 150, withExposures: false };
        const outcome = await settleScene(stage, job, () => false);
        const verdicts = verdictsOf(stage.app.policy, [ALONE], [outcome], 'it took too long');
        const verdict = verdicts.find(({ goal }) => goal.id === 'only-promised')?.finding.verdict;
        expect({ text, promise, verdict }).not.toMatchObject({ verdict: 'holds' });
        if (verdict === 'broken') broken++;
      }),
      { numRuns: Math.ceil(RUNS / 3) },
    );
    expect(broken).toBeGreaterThan(RUNS / 10);
  }, 300_000);
});

function stageFrom(text: string): Stage {
  const { stage, diagnostics } = project(text);
  expect(diagnostics).toEqual([]);
  return stage;
}

/** A promise that a page is reached by a role alone, where the grid shows it to somebody without that role; null for none. */
async function contradicted(text: string): Promise<string | null> {
  const { stage } = project(text);
  const { accounts, roles } = stage.app.policy;
  const { rows, states } = (await openPolicy(text)).grid('GET');
  for (const { page, cells } of rows) {
    for (const [at, cell] of cells.entries()) {
      const held = accounts.get(states[at]?.name ?? '')?.roles;
      const other = [...roles.keys()].find((role) => held?.has(role) === false);
      if (cell === SHOWN && other !== undefined) return `promises: [{ only: [${other}], reach: ${page} }]`;
    }
  }
  return null;
}

async function holdToOneAnother(text: string): Promise<void> {
  const { stage, input } = project(text);
  if (input === null) throw new Error('no text');
  const { policy, router } = stage.app;
  const open = await openPolicy(text);
  const addresses = [...policy.pages.map(({ pattern }) => sampleAddress(pattern, () => 'x')), '/nowhere'];
  const picksRole = policy.logins.some(({ asRole }) => asRole);
  const people = [...policy.accounts.values()].filter(({ key, state }) => !key && state === 'active');
  for (const account of [null, ...people]) {
    const before = loginSteps(stage, account?.name ?? null);
    for (const method of METHODS_TRIED) {
      const grid = open.grid(method);
      const column = grid.states.findIndex(
        ({ name, alike }) => name === (account?.name ?? 'guest') || alike.includes(account?.name ?? ''),
      );
      for (const address of addresses) {
        const route = router.find(method, address);
        const isCall = route?.kind === 'api';
        const of = `${method} ${address} by ${account?.name ?? 'a guest'}`;
        const outcome = outcomeOf(stage, [...before, asked(stage, method, address)]);
        const { lands, status, why } = outcome;
        const reason = why === null || why === 'forwarded' ? 'served' : why;
        const explained = open.explain(`${method} ${address}`, account === null ? {} : { as: account.name });
        expect({ of, ...explained }).toMatchObject({ of, reason, lands, status });

        const cell = grid.rows.find(({ page }) => page === address)?.cells[column];
        if (cell !== undefined) expect({ of, cell }).toEqual({ of, cell: cellFor(outcome, address, isCall) });

        // What an endpoint does is more than whom it is for, and so is what a page loads, and where it sends people on.
        const page = route?.page ?? null;
        if (page !== null && (page.loads.length > 0 || page.forward !== null)) continue;
        if (route?.task !== null || NO_AUDIENCE.has(reason)) continue;
        // Nor does a server tell it of somebody whom the app does not know, or knows by one of their roles.
        if (account !== null && (explained.seenAs !== account.name || picksRole)) continue;
        const visitor = account && { account: account.name, secondFactor: account.secondFactor };
        const admission = open.admits({ method, address }, visitor);
        expect({ of, ...admission }).toEqual({
          of,
          admitted: explained.admitted,
          reason: explained.reason,
          decidedBy: explained.decidedBy,
        });
      }
    }
    const visits = addresses.map((address) => asked(stage, 'GET', address));
    const walk: Walk = { name: 'all pages', input, at: [], steps: [...before, ...visits], expectBroken: [] };
    expect(await differencesOverWire(policy, walk)).toEqual([]);
  }
}

/** What a walk's last step came to. */
function outcomeOf(stage: Stage, steps: readonly Step[]): Outcome {
  const last = playSteps(stage, steps).steps.at(-1);
  if (last === undefined) throw new Error('no step was played');
  return last.outcome;
}

/** What the grid has to show for what a request came to: of a page whether it is shown, whatever it loads. */
function cellFor({ lands, status, refused, why }: Outcome, address: string, isCall: boolean): string {
  if (why === 'redirect-loop') return why;
  if (isCall) return status !== null && status < 300 ? SHOWN : String(status);
  if (refused !== null) return String(refused.status);
  const [path = address] = lands?.split('?', 1) ?? [];
  return path === address ? SHOWN : path;
}

const METHODS_TRIED: readonly Method[] = ['GET', 'POST', 'DELETE'];

/** What comes about by more than who asks for what. */
const NO_AUDIENCE: ReadonlySet<string> = new Set(['redirect-loop', 'csrf-refused']);
