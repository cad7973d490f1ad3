import { parentPort } from 'node:worker_threads';
import { setImmediate } from 'node:timers/promises';
import { loadProject, settleScene, sourceOf, stageOf, type Stage } from '../core/internal.js';
import type { ToMain, ToWorker } from './prove-jobs.js';

/** How often it is told how far it is, in milliseconds. */
const TELL_EVERY = 100;

const port = parentPort;
let isEnded = false;
let stage: Stage | null = null;

port?.on('message', (message: ToWorker) => {
  if (message.kind === 'end') isEnded = true;
  else void settle(message);
});

/** Settles one scene and tells how far it is meanwhile. Between two states it listens, so that it can be ended. */
async function settle({ file, text, job }: Extract<ToWorker, { kind: 'job' }>): Promise<void> {
  if (stage === null) {
    const { policy } = await loadProject(sourceOf(file, text), []);
    if (policy === null) throw new Error('the policy cannot be read');
    stage = stageOf(policy);
  }
  let told = Date.now();
  const outcome = await settleScene(stage, job, async (progress) => {
    if (Date.now() - told < TELL_EVERY) return isEnded;
    told = Date.now();
    tell({ kind: 'progress', progress });
    await setImmediate();
    return isEnded;
  });
  tell({ kind: 'outcome', outcome });
}

function tell(message: ToMain): void {
  port?.postMessage(message);
}
