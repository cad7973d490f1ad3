import { audienceUnsatisfiable } from './audience-unsatisfiable.js';
import type { AnyCheck } from './check.js';
import { landingRefused } from './landing-refused.js';
import { landingUnmatched } from './landing-unmatched.js';
import { loginPageClosed } from './login-page-closed.js';
import { logoutEndsTooLittle } from './logout-ends-too-little.js';
import { noWayIn } from './no-way-in.js';
import { redirectLoop } from './redirect-loop.js';
import { redirectTargetMissing } from './redirect-target-missing.js';
import { returnAddressCareless } from './return-address-careless.js';
import { ruleNeverMatches } from './rule-never-matches.js';
import { sessionWithoutLimit } from './session-without-limit.js';

/** Every check, in the order in which they are run and documented. */
export const ALL_CHECKS: readonly AnyCheck[] = Object.freeze([
  noWayIn,
  loginPageClosed,
  redirectTargetMissing,
  redirectLoop,
  landingRefused,
  landingUnmatched,
  ruleNeverMatches,
  audienceUnsatisfiable,
  returnAddressCareless,
  sessionWithoutLimit,
  logoutEndsTooLittle,
]);
