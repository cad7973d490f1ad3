import fc from 'fast-check';
import { THIEF, type Cast } from '../../../src/core/proof/choices/cast';
import { factsGiven } from '../../../src/core/proof/choices/fact-changes';
import { limitsOf } from '../../../src/core/proof/time/limits';
import type { Move } from '../../../src/core/proof/situations/moves';
import { ALONE, castsOf } from '../../../src/core/proof/prove';
import { Cover } from '../../../src/core/proof/search/cover';
import { goalMissed } from '../../../src/core/proof/search/goals';
import { Scene } from '../../../src/core/proof/search/scene';
import type { Stage } from '../../../src/core/play/stage';
import { stepWords } from '../../../src/core/steps/all-steps';
import { plainStep, type Step } from '../../../src/core/steps/walk';
import { playSteps } from '../../../src/core/walks/runner';
import { project } from '../../support/policies';
import { richPolicies } from '../../support/rich-policies';
import { numbersFrom } from '../../support/numbers';

const SEED = Number(process.env['SEED'] ?? 20260101);
const RUNS = Number(process.env['RICH_RUNS'] ?? 4);
const STEPS = Number(process.env['RICH_STEPS'] ?? 1_000);
/** A scene with more than that is left. */
const MOST_STATES = Number(process.env['RICH_STATES'] ?? 700);

type Pick = <Of>(all: readonly Of[]) => Of;

/** Every move of a cast as it is, with nothing merged: each address, each set of roles. */
function movesOf(stage: Stage, cast: Cast): Move[] {
  const { moves } = new Scene(stage, cast);
  const { policy } = stage.app;
  const roles = [...policy.roles.keys()];
  const sets = roles.reduce<string[][]>((all, role) => [...all, ...all.map((set) => [...set, role])], [[]]);
  const browsers = [...new Set(moves.map(({ browser }) => browser))];
  return [
    ...moves.filter(({ action }) => action.verb !== 'set-roles' && action.verb !== 'set-facts'),
    ...(cast.administrator
      ? sets.map((set): Move => ({
          browser: 'browser',
          action: { verb: 'set-roles', account: cast.account ?? '', roles: set },
        }))
      : []),
    ...(cast.administrator
      ? factsGiven(policy, policy.accounts.get(cast.account ?? '')?.facts ?? new Map()).map(
          (facts): Move => ({
            browser: 'browser',
            action: { verb: 'set-facts', account: cast.account ?? '', facts },
          }),
        )
      : []),
    // What the proof leaves out, since it comes to the same as a visit.
    ...browsers.flatMap((browser): Move[] =>
      browser === THIEF
        ? []
        : [
            { browser, action: { verb: 'reload' } },
            { browser, action: { verb: 'restore-browser' } },
          ],
    ),
    ...browsers.flatMap((browser) =>
      [...policy.pages.map(({ pattern: { text } }) => text), '/clubs/oak'].flatMap((text): Move[] => [
        { browser, action: { verb: 'visit', address: text, from: null } },
        { browser, action: { verb: 'send', method: 'POST', address: text, from: null } },
        { browser, action: { verb: 'send', method: 'GET', address: text, from: null } },
      ]),
    ),
  ];
}

/** Steps drawn at random; a walk ends at one that is not possible. */
function stepsOf(moves: readonly Move[], waits: readonly number[], pick: Pick): Step[] {
  const ways = moves.filter(({ action }) => ['login', 'copy', 'code'].includes(action.verb));
  const starts = ways.length === 0 ? moves : ways;
  let copies = 0;
  return Array.from({ length: 14 }, (_, at): Step => {
    const chance = pick([0, 1, 2, 3, 4, 5, 6, 7]);
    if (chance < 2 && at > 0) {
      return plainStep('browser', { verb: 'wait', until: { kind: 'duration', seconds: pick(waits) } });
    }
    const { browser, action, connectsFrom } = pick(chance === 2 || at === 0 ? starts : moves);
    // Each copy is taken to a browser of its own.
    if (action.verb === 'copy') {
      return plainStep(browser, { ...action, to: `${THIEF}-${++copies}` });
    }
    const own = browser === THIEF ? `${THIEF}-${copies}` : browser;
    return { ...plainStep(own, action), connectsFrom: connectsFrom ?? '203.0.113.7' };
  });
}

/** The goals that a cover of a scene does not show to hold; null where it has too many states. */
function missedIn(scene: Scene): ReadonlySet<string> | null {
  const cover = new Cover(scene);
  if (!cover.go(MOST_STATES)) return null;
  return new Set([...cover.all()].flatMap(({ misses }) => [...misses].map(goalMissed)));
}

test('on policies that have everything at once no walk breaks what a cover shows to hold', () => {
  let held = 0;
  let broken = 0;
  let covered = 0;
  const next = numbersFrom(SEED);
  const pick: Pick = (all) => all[Math.floor(next() * all.length)] as never;
  for (const text of fc.sample(richPolicies, { numRuns: RUNS, seed: SEED })) {
    const { stage } = project(text);
    const waits = Object.values(limitsOf(stage))
      .filter((limit): limit is number => typeof limit === 'number' && limit > 0)
      .flatMap((limit) => [1, limit - 1, limit]);
    const casts = castsOf(stage, null);
    const alone = missedIn(new Scene(stage, ALONE));
    if (alone === null) continue;
    // All scenes of a policy would take long: two of them, the administrator's more often than others.
    const drawn = [pick(casts), pick(casts.filter(({ administrator }) => administrator))];
    for (const cast of new Set(drawn)) {
      const scene = new Scene(stage, cast);
      const missed = missedIn(scene);
      if (missed === null) continue;
      // What comes of forms and of single pages is seen where nobody else takes part.
      const holding = new Set(scene.goals.flatMap(({ id }) => (missed.has(id) || alone.has(id) ? [] : [id])));
      if (cast.account !== null) holding.delete('return-kept');
      covered += 1;
      held += holding.size;
      const moves = movesOf(stage, cast);
      for (let played = 0; played < STEPS;) {
        const { steps } = playSteps(stage, stepsOf(moves, [1, 1, ...waits], pick));
        played += steps.length;
        broken += steps.flatMap((step) => step.broken).length;
        const at = steps.findIndex((step) => step.broken.some(({ law }) => holding.has(law)));
        if (at < 0) continue;
        const told = steps
          .slice(0, at + 1)
          .map(({ step: { browser, action } }) => `${browser}: ${stepWords(action)}`);
        throw new Error([JSON.stringify(cast), ...told, JSON.stringify(steps[at]?.broken), text].join('\n'));
      }
    }
  }
  expect(covered).toBeGreaterThan(RUNS / 3);
  expect(held).toBeGreaterThan(covered * 8);
  expect(broken).toBeGreaterThan(covered);
  if (process.env['RICH_TOLD'] !== undefined) console.log({ covered, held, broken });
}, 3_000_000);
