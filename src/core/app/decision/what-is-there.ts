import { isNothingThere } from './audience.js';
import type { Gate } from './gate.js';

/** OPTIONS asks by which methods an address answers (RFC 9110 §9.3.7). */
export const options: Gate = ({ route, method }) =>
  method === 'OPTIONS' && !isNothingThere(route)
    ? { by: 'options', reason: 'served', at: route.grounds.at }
    : null;

/** What the app does there of its own. */
export const task: Gate = ({ route }) =>
  route.task === null ? null : { by: 'task', reason: 'served', at: route.grounds.at };

/** Neither a page nor anything that the app does. */
export const nothingThere: Gate = ({ route }) =>
  isNothingThere(route)
    ? { by: 'nothing-there', reason: 'unknown-page', at: route.rule?.at ?? ['pages'] }
    : null;

/** A page, or what the app does there, by another method. */
export const method: Gate = ({ route: { isAnswered, page, grounds } }) =>
  isAnswered
    ? null
    : {
        by: 'method',
        reason: 'method-not-allowed',
        at: page === null ? grounds.at : [...page.at, 'methods'],
      };

/** The page itself. */
export const page: Gate = ({ route }) => ({ by: 'page', reason: 'served', at: route.grounds.at });
