import { isSafe } from '../../http/messages.js';
import type { Gate, Question } from './gate.js';

/** Whether nothing is to be had at an address, whoever asks by whatever method. */
export function isNothingThere({ page, taskMethods }: Question['route']): boolean {
  return page === null && taskMethods.length === 0;
}

/** Whether a request gets the shell of a page that script guards in the browser, which the app gives to anybody. */
export function isShell({ route, method }: Pick<Question, 'route' | 'method'>): boolean {
  const { page, guard, task, isAnswered } = route;
  return page !== null && guard === 'browser' && isSafe(method) && task === null && isAnswered;
}

/** Whether an address asks whom it is for, before it says what there is. */
function isGuarded({ isAnswered, page, taskMethods, rule }: Question['route']): boolean {
  return isAnswered || (page === null && taskMethods.length > 0) || rule !== null;
}

/** Whom an address is for. Whoever owes a code may use the form for it, whomever its page is for. */
export const audience: Gate = (question) => {
  const { route } = question;
  if (!isGuarded(route) || isShell(question)) return null;
  const reason = question.admitted();
  const form = question.openForm();
  const { at } = route.grounds;
  if (form === 'code' && route.task === null) return { by: 'code-page', reason: 'served', at };
  return reason === 'served' || form !== null ? null : { by: 'audience', reason, at };
};
