import { PERSON, THIEF } from '../../../src/core/proof/choices/cast';
import { castsOf } from '../../../src/core/proof/prove';
import { limitsOf } from '../../../src/core/proof/time/limits';
import type { Move } from '../../../src/core/proof/situations/moves';
import { Scene } from '../../../src/core/proof/search/scene';
import { playSteps } from '../../../src/core/walks/runner';
import { plainStep, type Step } from '../../../src/core/steps/walk';
import { numbersFrom } from '../../support/numbers';
import { harbour } from '../../support/policies';

const STEPS = 1_000_000;

/** Steps that are possible in most situations; a walk ends at one that is not. */
const SELDOM: ReadonlySet<string> = new Set(['confirm', 'back', 'together', 'copy', 'code', 'duplicate-tab']);

/** What the proof leaves out, since it comes to the same as a visit. */
const AS_A_VISIT = (['reload', 'restore-browser'] as const).map((verb): Move => ({
  browser: PERSON,
  action: { verb },
}));

test('random walks of a million steps on the harbour break none of the laws that prove shows to hold', () => {
  const { stage } = harbour();
  const next = numbersFrom(Number(process.env['SEED'] ?? 20260101));
  const pick = <Of>(all: readonly Of[]): Of => all[Math.floor(next() * all.length)] as Of;
  const waits = Object.values(limitsOf(stage))
    .filter((limit): limit is number => typeof limit === 'number' && limit > 0)
    .flatMap((limit) => [1, limit - 1, limit, limit + 1]);
  const scenes = castsOf(stage, null).map((cast) => {
    const { moves } = new Scene(stage, cast);
    const often = [...moves.filter(({ action }) => !SELDOM.has(action.verb)), ...AS_A_VISIT];
    const ways = moves.filter(({ action }) => action.verb === 'login' || action.verb === 'copy');
    return { often, ways, seldom: moves.filter(({ action }) => SELDOM.has(action.verb)) };
  });
  const stepOf = ({ browser, action, connectsFrom }: Move): Step => ({
    ...plainStep(browser, action),
    connectsFrom: connectsFrom ?? '203.0.113.7',
  });
  const broken = new Set<string>();
  const kinds = new Set<string>();
  for (let played = 0; played < STEPS;) {
    const { often, ways, seldom } = pick(scenes);
    // Each copy is taken to a browser of its own.
    let copies = 0;
    const own = (move: Move): Move => {
      const { browser, action } = move;
      if (action.verb === 'copy') return { ...move, action: { ...action, to: `${THIEF}-${++copies}` } };
      return browser === THIEF ? { ...move, browser: `${THIEF}-${copies}` } : move;
    };
    const steps = Array.from({ length: 40 }, (): Step => {
      const chance = next();
      if (chance < 0.25) {
        const until = { kind: 'duration', seconds: pick(waits) } as const;
        return plainStep('browser', { verb: 'wait', until });
      }
      return stepOf(own(pick(chance < 0.4 ? ways : chance < 0.43 ? seldom : often)));
    });
    const result = playSteps(stage, steps);
    played += result.steps.length;
    for (const step of result.steps) {
      kinds.add(step.step.action.verb);
      for (const { law, weight } of step.broken) if (weight === 'law') broken.add(law);
    }
  }
  expect([...broken]).toEqual([]);
  expect(kinds.size).toBeGreaterThan(15);
}, 600_000);
