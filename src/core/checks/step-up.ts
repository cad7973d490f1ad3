import type { Audience } from '../vocabulary/audience.js';

/** Whether an audience asks for a one-time code. */
export function asksForCode(audience: Audience): boolean {
  return audience.who === 'some' && audience.secondFactor;
}

/** Whether an audience asks for a login of the last minutes. */
export function asksForFreshLogin(audience: Audience): boolean {
  return audience.who === 'some' && audience.loginWithin !== null;
}

/** An audience without what a visitor can do on the spot: give a code, log in again. */
export function withoutStepUp(audience: Audience): Audience {
  return audience.who === 'some' ? { ...audience, secondFactor: false, loginWithin: null } : audience;
}
