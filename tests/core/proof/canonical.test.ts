import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { isAdministration } from '../../../src/core/steps/all-steps';
import { sourceOf } from '../../../src/core/language/text/source';
import type { Tab } from '../../../src/core/browser/state';
import type { Policy } from '../../../src/core/language/policy';
import { loadProject } from '../../../src/core/walks/project';
import { canonical } from '../../../src/core/proof/situations/canonical';
import { KeyWriter } from '../../../src/core/proof/situations/key';
import { limitsOf } from '../../../src/core/proof/time/limits';
import { takeMove, type Move, type Taken } from '../../../src/core/proof/situations/moves';
import { firstSituation } from '../../../src/core/proof/situations/situation';
import { answered, stageOf } from '../../../src/core/play/stage';
import { initialState, type AppState } from '../../../src/core/app/app';
import { instantOf } from '../../../src/core/time/clock';
import { walksOf } from '../../support/generated-walks';
import { harbour, policyText, project } from '../../support/policies';

const FAULTS = join(__dirname, '..', '..', '..', 'examples', 'faults');

/** One way of a move as it can be told from others: what was asked, what came of it, and what had to be so of time. */
function told({ played, answers, after, broken }: Taken): string {
  const { cookies } = played.browser;
  const kept = cookies.filter(
    ({ life, storedAt }) => life === null || after.zone.ages(storedAt).least < life,
  );
  const page = played.browser.tab.page;
  return [
    // Requests to providers and their answers are numbered, and nothing hangs on the numbers.
    ...played.exchanges.map((each) => JSON.stringify(answered(each)).replaceAll(/(asked|code)-\d+/g, '$1')),
    `at ${page?.address.path ?? '-'} ${page?.status ?? '-'}`,
    `holds ${kept.map(({ name }) => name).join(' ')}`,
    ...broken.map(({ law }) => `breaks ${law}`),
    answers.map(({ limit, isElapsed }) => `${isElapsed ? '>=' : '<'}${limit}`).join(' '),
  ].join('\n');
}

/** The moves of a generated walk, without those that are waits or several at once, and which way to go on at each. */
const movesOf = (policy: Policy, most: number) =>
  fc
    .tuple(walksOf(policy, most), fc.array(fc.nat(7), { minLength: most, maxLength: most }))
    .map(([walk, ways]) =>
      walk.steps.flatMap(({ action, browser }, at): { move: Move; way: number }[] =>
        action.verb === 'wait' ||
        action.verb === 'together' ||
        (action.verb === 'code' && action.given === 'late')
          ? []
          : [{ move: { browser, action }, way: ways[at] ?? 0 }],
      ),
    );

/** Goes the same ways from a situation as it came about and from its canonical form: nothing must tell them apart. */
function holdAlike(policy: Policy, numRuns: number): void {
  const stage = stageOf(policy);
  const limits = limitsOf(stage);
  const short = (situation: Parameters<typeof canonical>[0]) => canonical(situation, limits);
  const keys = new KeyWriter(policy.accounts);
  let compared = 0;
  fc.assert(
    fc.property(movesOf(policy, 14), (moves) => {
      let long = firstSituation(policy);
      let brief = short(long);
      let backs = 0;
      for (const { move, way } of moves) {
        // The canonical form keeps one page to go back to.
        if (move.action.verb === 'back' && (move.action.pages > 1 || ++backs > 1)) continue;
        if (move.action.verb !== 'back') backs = 0;
        const ways = takeMove(stage, long, move);
        const briefWays = takeMove(stage, brief, move);
        // What becomes of credentials that nobody has any more is asked of the one, and left out of the other.
        if (isAdministration(move.action) && briefWays.length < ways.length) break;
        expect(briefWays.map(told)).toEqual(ways.map(told));
        compared += ways.length;
        const [next, briefNext] = [ways[way % ways.length], briefWays[way % ways.length]];
        if (next === undefined || briefNext === undefined) continue;
        long = next.after;
        brief = short(briefNext.after);
        expect(keys.of(short(brief))).toBe(keys.of(brief));
      }
    }),
    { numRuns },
  );
  expect(compared).toBeGreaterThan(numRuns);
}

describe('a situation and its canonical form cannot be told apart by anything that follows', () => {
  test('on the harbour', () => {
    const { policy } = harbour();
    if (policy === null) throw new Error('no policy');
    holdAlike(policy, 150);
  });

  test.each(readdirSync(FAULTS))('on %s', async (name) => {
    const { policy } = await loadProject(sourceOf(name, readFileSync(join(FAULTS, name), 'utf8')), []);
    if (policy === null) throw new Error('no policy');
    holdAlike(policy, 15);
  });
});

test('history and numbers make no difference', () => {
  const { policy, stage } = project(policyText());
  if (policy === null) throw new Error('no policy');
  const login: Move['action'] = {
    verb: 'login',
    account: 'ann',
    password: 'a-1',
    passwordGiven: false,
    at: null,
    with: null,
    isWrong: false,
    role: null,
    remember: false,
    from: null,
  };
  const after = (verbs: readonly Move['action'][]) => {
    let situation = firstSituation(policy);
    for (const action of verbs) {
      // The way on which no limit has passed.
      const taken = takeMove(stage, situation, { browser: 'browser', action }).at(-1);
      situation = canonical(taken?.after ?? situation, limitsOf(stage));
    }
    return situation;
  };
  const home: Move['action'] = { verb: 'visit', address: '/', from: null };
  const once = after([login, home, home]);
  const again = after([login, { verb: 'logout' }, login, home, { verb: 'logout' }, login, home, home]);
  const keys = new KeyWriter(policy.accounts);
  expect(keys.of(again)).toBe(keys.of(once));
  expect(again.zone.includes(once.zone) && once.zone.includes(again.zone)).toBe(true);
});

/** What a value is not: a change of each thing that is in it, one at a time. */
function others(value: unknown): unknown[] {
  if (typeof value === 'string') return [`${value}x`];
  if (typeof value === 'number') return [value + 1];
  if (typeof value === 'boolean') return [!value];
  if (value === null) return ['x'];
  if (value instanceof Set) return [new Set([...(value as Set<string>), 'x'])];
  if (value instanceof Map) {
    const all = [...(value as Map<string, unknown>)];
    return all.flatMap(([key, of]) => [
      new Map(all.filter(([each]) => each !== key)),
      ...others(of).map((other) => new Map(all).set(key, other)),
    ]);
  }
  if (Array.isArray(value)) {
    const all = value as readonly unknown[];
    return all.flatMap((of, at) => [all.toSpliced(at, 1), ...others(of).map((each) => all.with(at, each))]);
  }
  return Object.entries(value as object).flatMap(([key, of]) =>
    others(of).map((each) => ({ ...(value as object), [key]: each })),
  );
}

/** An app in which there is one of everything that it can remember. */
function everything(): AppState {
  const at = instantOf(1);
  const acting = { account: 'bo', since: at };
  return {
    ...initialState(project(policyText()).stage.app.policy),
    logins: 1,
    sessions: [
      {
        ...{
          account: 'ann',
          login: 0,
          startedAt: at,
          activeAt: at,
          ended: null,
          family: 0,
          roles: new Set(['clerk']),
        },
        ...{ asRole: null, secondFactor: false, resumed: false, half: false, asked: '/a', secret: 1, acting },
        ...{ code: { sentAt: at, wrong: 0, remember: false, by: 0 }, tokens: 0 },
      },
    ],
    families: [{ account: 'ann', login: 0, startedAt: at, ended: null, asRole: null, secondFactor: false }],
    accessTokens: [{ family: 0, roles: new Set(['clerk']), issuedAt: at, renewed: false }],
    refreshTokens: [{ family: 0, issuedAt: at, replaced: { at, access: 0, refresh: 0 } }],
    attempts: new Map([['ann', { failures: [at], pausedAt: null }]]),
    providerSessions: [{ provider: 'p', person: 'ann', startedAt: at, ended: false }],
    links: [{ kind: 'reset', account: 'ann', sentAt: at, used: false }],
    remembered: [{ account: 'ann', login: 0, issuedAt: at, used: false, ended: false }],
    keys: [{ account: 'bot', madeAt: at, replacedAt: null, revoked: false }],
    acting: new Map([['ann', acting]]),
    joined: new Map([['ann', at]]),
    flags: new Set(['sale']),
  };
}

test('whatever an app remembers tells its situations apart', () => {
  const state = everything();
  const keys = new KeyWriter(state.accounts);
  const at = (each: AppState) => ({ ...firstSituation(project(policyText()).stage.app.policy), state: each });
  const matters = { shown: (tab: Tab) => tab, followsForms: true };
  // How many tokens a form has had is told by that of the page, how many logins there were by the records that go back to them, and
  // requests under way come to nothing more.
  const left = new Set(['accounts', 'logins', 'codes', 'asked']);
  const size = (value: unknown) =>
    (value as { length?: number; size?: number }).length ?? (value as Set<string>).size;
  for (const [name, value] of Object.entries(state).filter(([each]) => !left.has(each))) {
    for (const other of others(value)) {
      const said = JSON.stringify(other, (_, each: unknown) =>
        each instanceof Map ? [...(each as Map<string, unknown>)] : each,
      );
      if (said.includes('"tokens":1')) continue;
      const after = at({ ...state, [name]: other });
      expect([name, said, keys.of(after) === keys.of(at(state))]).toEqual([name, said, false]);
      // The same where only what has changed is written; no move takes a record away.
      if (size(other) < size(value)) continue;
      const [none, some] = [at({ ...state }), after].map((each) =>
        keys.ofDifference(at(state), each, matters),
      );
      expect([name, said, some === none]).toEqual([name, said, false]);
    }
  }
});
