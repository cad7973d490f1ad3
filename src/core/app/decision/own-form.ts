import type { Gate } from './gate.js';

const AT = ['csrf'];

/** Forms of other sites are refused, before the guard is asked or after it. */
export function ownForm(order: 'before-guard' | 'after-guard'): Gate {
  return (question) =>
    question.app.policy.csrf?.order === order && question.isForeign()
      ? { by: 'own-form', reason: 'csrf-refused', at: AT }
      : null;
}
