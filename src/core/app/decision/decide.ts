import { acting } from './acting.js';
import { audience } from './audience.js';
import { barrier } from './barrier.js';
import type { Decision, Gate, Question } from './gate.js';
import { https } from './https.js';
import { ownForm } from './own-form.js';
import { trailingSlash } from './trailing-slash.js';
import { method, nothingThere, options, page, task } from './what-is-there.js';

/** What is looked at for a request, in order: the first that says something decides. */
const GATES: readonly Gate[] = [
  https,
  trailingSlash,
  barrier,
  acting,
  ownForm('before-guard'),
  audience,
  ownForm('after-guard'),
  options,
  task,
  nothingThere,
  method,
  page,
];

/** Decides a request whose path can be read. */
export function decide(question: Question): Decision {
  for (const gate of GATES) {
    const decision = gate(question);
    if (decision !== null) return decision;
  }
  throw new Error('the last gate lets nothing pass');
}
