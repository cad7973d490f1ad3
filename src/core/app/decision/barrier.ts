import type { Gate } from './gate.js';

/** The first barrier that stops the visitor. */
export const barrier: Gate = (question) => {
  const found = question.stoppedBy();
  return found === null ? null : { by: 'barrier', reason: 'barrier', at: found.at, barrier: found };
};
