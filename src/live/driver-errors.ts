import { Hindered } from './hindered.js';

/** How what steers the browser begins its errors: what was called, and what came of it; a log of the call follows. */
const OF_DRIVER =
  /^(?:page|elementHandle|jsHandle|frame|locator|browser|browserContext|browserType|response|request|clock)\.\w+: (.*)/;
const CLOSED = /Target page, context or browser has been closed|Target crashed|Page crashed/;

/** An error of what steers the browser in words, without its log, which may hold what was typed; null for any other error. */
export function driverWords(error: unknown): string | null {
  if (!(error instanceof Error)) return null;
  const [first = ''] = error.message.split('\n', 1);
  const said = OF_DRIVER.exec(first)?.[1];
  if (CLOSED.test(first)) return 'the browser ended by itself';
  return said === undefined ? null : `the browser says: ${said.replace(/\.$/, '')}`;
}

/**
 * The same with what was to be done, as what hinders a person.
 *
 * @throws the error itself where it is no other program's
 */
export function hinderedBy(error: unknown, deed: string): Hindered {
  if (error instanceof Hindered) return error;
  const words = driverWords(error);
  if (words === null) throw error;
  return new Hindered(`${deed}: ${words}`);
}
