import { accessLifeLong } from './access-life-long.js';
import { accessOutlivesRefresh } from './access-outlives-refresh.js';
import { attemptsWithoutLimit } from './attempts-without-limit.js';
import { audienceNobodyHolds } from './audience-nobody-holds.js';
import { audienceUnsatisfiable } from './audience-unsatisfiable.js';
import type { AnyCheck } from './check.js';
import { cookieLifeDiffers } from './cookie-life-differs.js';
import { cookieNeverKept } from './cookie-never-kept.js';
import { cookieNotSecure } from './cookie-not-secure.js';
import { cookieReadableByScript } from './cookie-readable-by-script.js';
import { cookieSentAcrossSites } from './cookie-sent-across-sites.js';
import { cookieStrictLosesLinks } from './cookie-strict-loses-links.js';
import { dataLaxerThanPage } from './data-laxer-than-page.js';
import { dataWithoutSecondFactor } from './data-without-second-factor.js';
import { decidedByOtherwise } from './decided-by-otherwise.js';
import { expectationImpossible } from './expectation-impossible.js';
import { expressionPastSegment } from './expression-past-segment.js';
import { graceTooLong } from './grace-too-long.js';
import { guardedInBrowserOnly } from './guarded-in-browser-only.js';
import { guestsOnlyReturns } from './guests-only-returns.js';
import { idleNeverReached } from './idle-never-reached.js';
import { keptForBackButton } from './kept-for-back-button.js';
import { landingNeverReached } from './landing-never-reached.js';
import { landingRefused } from './landing-refused.js';
import { landingUnmatched } from './landing-unmatched.js';
import { landingsDiffer } from './landings-differ.js';
import { leewayTooLong } from './leeway-too-long.js';
import { loginPageClosed } from './login-page-closed.js';
import { logoutByGet } from './logout-by-get.js';
import { logoutEndsTooLittle } from './logout-ends-too-little.js';
import { logoutLandingBounces } from './logout-landing-bounces.js';
import { menuHidesOpenPage } from './menu-hides-open-page.js';
import { menuLinkRefuses } from './menu-link-refuses.js';
import { noWayIn } from './no-way-in.js';
import { originInPlainHttp } from './origin-in-plain-http.js';
import { pageLooserThanRule } from './page-looser-than-rule.js';
import { patternRepeated } from './pattern-repeated.js';
import { redirectLoop } from './redirect-loop.js';
import { redirectTargetMissing } from './redirect-target-missing.js';
import { refreshReuseAccepted } from './refresh-reuse-accepted.js';
import { refreshUnshared } from './refresh-unshared.js';
import { refreshWithoutRotation } from './refresh-without-rotation.js';
import { returnAddressCareless } from './return-address-careless.js';
import { returnAddressUnused } from './return-address-unused.js';
import { roleUnused } from './role-unused.js';
import { rolesReadAtLogin } from './roles-read-at-login.js';
import { ruleNeverMatches } from './rule-never-matches.js';
import { ruleOrderDoubtful } from './rule-order-doubtful.js';
import { ruleUnsettled } from './rule-unsettled.js';
import { sealedOutlivesLogout } from './sealed-outlives-logout.js';
import { sessionIdKept } from './session-id-kept.js';
import { sessionWithoutLimit } from './session-without-limit.js';
import { stepAssertsNothing } from './step-asserts-nothing.js';
import { submitDiffers } from './submit-differs.js';
import { tokenEndpointClosed } from './token-endpoint-closed.js';
import { tokensKeptInBrowser } from './tokens-kept-in-browser.js';
import { tokensNeverUsed } from './tokens-never-used.js';
import { walkNameRepeated } from './walk-name-repeated.js';
import { writeLooserThanRead } from './write-looser-than-read.js';

/** Every check, in the order in which they are run and documented. */
export const ALL_CHECKS: readonly AnyCheck[] = Object.freeze([
  noWayIn,
  loginPageClosed,
  submitDiffers,
  attemptsWithoutLimit,
  sessionIdKept,
  redirectTargetMissing,
  redirectLoop,
  guestsOnlyReturns,
  landingRefused,
  landingUnmatched,
  landingNeverReached,
  landingsDiffer,
  logoutLandingBounces,
  ruleNeverMatches,
  ruleUnsettled,
  ruleOrderDoubtful,
  patternRepeated,
  expressionPastSegment,
  audienceUnsatisfiable,
  audienceNobodyHolds,
  writeLooserThanRead,
  pageLooserThanRule,
  decidedByOtherwise,
  roleUnused,
  dataLaxerThanPage,
  guardedInBrowserOnly,
  dataWithoutSecondFactor,
  menuLinkRefuses,
  menuHidesOpenPage,
  returnAddressCareless,
  returnAddressUnused,
  originInPlainHttp,
  cookieNeverKept,
  cookieNotSecure,
  cookieReadableByScript,
  cookieSentAcrossSites,
  cookieStrictLosesLinks,
  cookieLifeDiffers,
  sessionWithoutLimit,
  idleNeverReached,
  rolesReadAtLogin,
  sealedOutlivesLogout,
  keptForBackButton,
  logoutEndsTooLittle,
  logoutByGet,
  tokensNeverUsed,
  tokenEndpointClosed,
  tokensKeptInBrowser,
  accessOutlivesRefresh,
  accessLifeLong,
  leewayTooLong,
  refreshWithoutRotation,
  refreshReuseAccepted,
  graceTooLong,
  refreshUnshared,
  walkNameRepeated,
  stepAssertsNothing,
  expectationImpossible,
]);
