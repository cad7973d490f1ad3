import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FixedClock } from '../../../src/core/time/clock';
import { initialState } from '../../../src/core/app/app';
import { administer, isAdministration } from '../../../src/core/steps/all-steps';
import { answerTo, answered, type Stage } from '../../../src/core/play/stage';
import { playSteps, playWalk } from '../../../src/core/walks/runner';
import { recordedWalk, type Happening } from '../../../src/core/walks/recording';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import type { Step, Walk } from '../../../src/core/steps/walk';
import { EXAMPLES, project, SHIPPED } from '../../support/policies';

beforeAll(loadRegularLanguages);

/** What an app that runs would see of a walk. */
function happeningsOf(stage: Stage, steps: readonly Step[]): Happening[] {
  let state = initialState(stage.app.policy);
  return playSteps(stage, steps).steps.flatMap(({ step, time, played }): Happening[] => {
    const clock = new FixedClock(time);
    if (isAdministration(step.action)) {
      state = administer(stage.app.policy, state, step.action, clock);
      return [{ what: 'administration', time, administration: step.action }];
    }
    return played.exchanges.map(({ request }) => {
      const before = state;
      const decided = answerTo(stage, state, request, clock);
      ({ state } = decided);
      return { what: 'request', time, browser: step.browser, request, decided, before };
    });
  });
}

/** Steps that no app sees, or that a recording cannot tell from others. */
const UNSEEN = new Set([
  'copy',
  'plant',
  'together',
  'close-browser',
  'open-browser',
  'clear-cookies',
  'new-tab',
  'close-tab',
  'back',
  'plant-answer',
  'logout-provider',
]);
const isSeen = ({ action, connectsFrom }: Step) =>
  !UNSEEN.has(action.verb) &&
  connectsFrom === null &&
  !('with' in action && action.with !== null) &&
  !('from' in action && action.from !== null);

const WALKS = SHIPPED.flatMap((name) => {
  const folder = join(EXAMPLES, name);
  const files = readdirSync(join(folder, 'walks')).sort();
  return [
    [
      name,
      readFileSync(join(folder, 'cavrin.yaml'), 'utf8'),
      files.map((file) => readFileSync(join(folder, 'walks', file), 'utf8')),
    ] as const,
  ];
});

test.each(WALKS)(
  'walks of the example %s, recorded while they are played, come to the same end',
  (_name, policy, files) => {
    const { walks, stage } = project(policy, files);
    const whole = walks.filter(({ steps }) => steps.every(isSeen));
    expect(whole.length).toBeGreaterThan(15);
    const otherwise = whole.flatMap((walk: Walk) => {
      const first = playWalk(stage, walk);
      const recorded = recordedWalk(stage, happeningsOf(stage, walk.steps));
      const again = playSteps(stage, recorded.steps);
      const requests = ({ steps }: typeof again) =>
        steps.flatMap(({ played }) => played.exchanges.map((each) => JSON.stringify(answered(each))));
      const isSame = JSON.stringify(requests(first)) === JSON.stringify(requests(again));
      return isSame && again.passed && recorded.unlike.length === 0
        ? []
        : [{ walk: walk.name, unlike: recorded.unlike, passed: again.passed, isSame }];
    });
    expect(otherwise).toEqual([]);
  },
);
