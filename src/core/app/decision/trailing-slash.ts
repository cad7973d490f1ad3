import type { Gate } from './gate.js';

const AT = ['routing', 'trailing-slash'];

/** An address with a slash at its end is sent on to the one without, where the app does that. */
export const trailingSlash: Gate = ({ route }) =>
  route.hasSlash ? { by: 'trailing-slash', reason: 'forwarded', at: AT } : null;
