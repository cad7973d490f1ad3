import { Hindered } from './hindered.js';
import { inTime } from './in-time.js';

const LEFT = /Execution context was destroyed|Target closed|frame was detached|Cannot find context/;

/** How long a page that was left has to come to the next, in milliseconds. */
const PAUSE = 20;

/** A page may be gone before the browser has told that its script has run. */
export function ignoreLeaving(error: unknown): void {
  if (!LEFT.test(String(error))) throw error;
}

/**
 * What a page answers. One that is left meanwhile is looked at again as it is then.
 *
 * @param patience for so many milliseconds
 * @param isOnce whether it asks the app something, which must not be done twice
 * @throws Hindered where it does not answer, as its script goes on without end, say
 */
export async function answered<Found>(
  look: () => Promise<Found>,
  patience: number,
  isOnce = false,
): Promise<Found> {
  const end = Date.now() + patience;
  const seconds = `${patience / 1000}s`;
  for (;;) {
    try {
      return await inTime(look(), patience, () => {
        throw new Hindered(
          `the page cannot be looked at within ${seconds}: its script goes on without end, or it is huge`,
        );
      });
    } catch (error) {
      ignoreLeaving(error);
      if (isOnce) throw new Hindered('the page was left before the app had answered its call');
      if (Date.now() > end) {
        throw new Hindered(`the page goes on to another again and again for ${seconds}`);
      }
      await new Promise((go) => setTimeout(go, PAUSE));
    }
  }
}
