import type { Outcome } from '../steps/outcome.js';
import type { Saying } from '../steps/saying.js';
import type { Step } from '../steps/walk.js';
import { sameAddress, type Difference } from './expectations.js';
import { eventOf } from '../steps/asking.js';

/** What a step says by itself and did not do, as a difference; null where its expectations say that it does not. */
export function unsaid(said: Saying, step: Step, { seenAs, why }: Outcome): Difference | null {
  if (isExpected(step, said.success)) return null;
  const who = seenAs === null || seenAs === 'guest' ? '' : `, seen as ${seenAs}`;
  const actual = said.actual ?? `${why ?? 'nothing was asked of the app'}${who}`;
  return { key: 'step', expected: said.what, actual };
}

/** Whether a step says itself that it does not do what it says. */
function isExpected(step: Step, success: readonly string[]): boolean {
  const { expects, expectBroken, action } = step;
  const { seenAs, why, status, lands, session } = expects;
  if (seenAs !== null || why !== null || session === 'none') return true;
  // A form that is shown again has a status of 200 too; a guest's logout is answered like any other.
  if (status !== null && (status >= 400 || eventOf(action) === 'logout')) return true;
  if (expectBroken.some((law) => law === 'way-in' || law === 'way-through')) return true;
  return lands !== null && !success.some((address) => sameAddress(pathOf(lands), pathOf(address)));
}

function pathOf(address: string): string {
  return address.split('?', 1)[0] ?? address;
}
