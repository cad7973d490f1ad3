import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sourceOf } from '../../../src/core/language/text/source';
import { stageOf } from '../../../src/core/play/stage';
import { castsOf, settleScene, verdictsOf } from '../../../src/core/proof/prove';
import { loadProject } from '../../../src/core/walks/project';

const SOUND = join(__dirname, '..', '..', '..', 'examples', 'sound');

test.each(readdirSync(SOUND))('all holds of the sound policy %s, and all of it is settled', async (name) => {
  const { policy } = await loadProject(sourceOf(name, readFileSync(join(SOUND, name), 'utf8')), []);
  if (policy === null) throw new Error('no policy');
  const stage = stageOf(policy);
  const casts = castsOf(stage, null);
  const outcomes = [];
  for (const cast of casts) {
    outcomes.push(await settleScene(stage, { cast, most: 6_000, withExposures: false }, () => false));
  }
  const verdicts = verdictsOf(policy, casts, outcomes, 'it was not looked at');
  const wrong = verdicts.flatMap(({ goal, finding }) => {
    if (finding.verdict === 'holds' || goal.law?.weight === 'advice') return [];
    return [`${goal.id}: ${finding.verdict === 'broken' ? finding.by.seen : finding.because}`];
  });
  expect(wrong).toEqual([]);
});
