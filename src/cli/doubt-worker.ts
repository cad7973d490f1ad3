import { parentPort, workerData } from 'node:worker_threads';
import { Doubt, loadProject } from '../core/internal.js';
import type { InDoubtTexts, Judged } from './doubt-jobs.js';

const { policy: policySource, walks: walkSources, agreed } = workerData as InDoubtTexts;

// The policy was read before: what is read here is what each core needs of it.
const ready = loadProject(policySource, walkSources).then(({ policy, input, walks }) => {
  if (policy === null || input === null) throw new Error('the policy cannot be read');
  return new Doubt({ policy, input, walks, walkSources, agreed });
});

parentPort?.on('message', (index: number) => {
  void ready.then((work) => {
    const mistake = work.mistakes[index];
    const judged: Judged = { index, doubted: mistake === undefined ? null : work.judge(mistake) };
    parentPort?.postMessage(judged);
  });
});
