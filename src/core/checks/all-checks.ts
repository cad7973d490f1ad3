import { accessLifeLong } from './access-life-long.js';
import { accessOutlivesRefresh } from './access-outlives-refresh.js';
import { audienceNobodyHolds } from './audience-nobody-holds.js';
import { audienceUnsatisfiable } from './audience-unsatisfiable.js';
import type { AnyCheck } from './check.js';
import { cookieLifeDiffers } from './cookie-life-differs.js';
import { cookieNeverKept } from './cookie-never-kept.js';
import { cookieNotSecure } from './cookie-not-secure.js';
import { cookieReadableByScript } from './cookie-readable-by-script.js';
import { cookieSentAcrossSites } from './cookie-sent-across-sites.js';
import { decidedByOtherwise } from './decided-by-otherwise.js';
import { idleNeverReached } from './idle-never-reached.js';
import { landingNeverReached } from './landing-never-reached.js';
import { landingRefused } from './landing-refused.js';
import { landingUnmatched } from './landing-unmatched.js';
import { leewayTooLong } from './leeway-too-long.js';
import { loginPageClosed } from './login-page-closed.js';
import { loginSubmitDiffers } from './login-submit-differs.js';
import { logoutByGet } from './logout-by-get.js';
import { logoutEndsTooLittle } from './logout-ends-too-little.js';
import { logoutLandingBounces } from './logout-landing-bounces.js';
import { noWayIn } from './no-way-in.js';
import { originInPlainHttp } from './origin-in-plain-http.js';
import { pageLooserThanRule } from './page-looser-than-rule.js';
import { redirectLoop } from './redirect-loop.js';
import { redirectTargetMissing } from './redirect-target-missing.js';
import { refreshWithoutRotation } from './refresh-without-rotation.js';
import { returnAddressCareless } from './return-address-careless.js';
import { returnAddressUnused } from './return-address-unused.js';
import { roleUnused } from './role-unused.js';
import { ruleNeverMatches } from './rule-never-matches.js';
import { sessionWithoutLimit } from './session-without-limit.js';
import { tokensNeverUsed } from './tokens-never-used.js';
import { writeLooserThanRead } from './write-looser-than-read.js';

/** Every check, in the order in which they are run and documented. */
export const ALL_CHECKS: readonly AnyCheck[] = Object.freeze([
  noWayIn,
  loginPageClosed,
  loginSubmitDiffers,
  redirectTargetMissing,
  redirectLoop,
  landingRefused,
  landingUnmatched,
  landingNeverReached,
  logoutLandingBounces,
  ruleNeverMatches,
  audienceUnsatisfiable,
  audienceNobodyHolds,
  writeLooserThanRead,
  pageLooserThanRule,
  decidedByOtherwise,
  roleUnused,
  returnAddressCareless,
  returnAddressUnused,
  originInPlainHttp,
  cookieNeverKept,
  cookieNotSecure,
  cookieReadableByScript,
  cookieSentAcrossSites,
  cookieLifeDiffers,
  sessionWithoutLimit,
  idleNeverReached,
  logoutEndsTooLittle,
  logoutByGet,
  tokensNeverUsed,
  accessOutlivesRefresh,
  accessLifeLong,
  leewayTooLong,
  refreshWithoutRotation,
]);
