import { accessLifeLong } from './access-life-long.js';
import { accessOutlivesRefresh } from './access-outlives-refresh.js';
import { accountWithoutLogin } from './account-without-login.js';
import { afterWriteRefused } from './after-write-refused.js';
import { factSelfGiven } from './fact-self-given.js';
import { flagInPlaceOfRole } from './flag-in-place-of-role.js';
import { limitNeverReached } from './limit-never-reached.js';
import { loginTakesOthers } from './login-takes-others.js';
import { attemptsLimitDoubtful } from './attempts-limit-doubtful.js';
import { attemptsWithoutLimit } from './attempts-without-limit.js';
import { audienceNobodyHolds } from './audience-nobody-holds.js';
import { audienceUnsatisfiable } from './audience-unsatisfiable.js';
import { belowLeftOpen } from './below-left-open.js';
import { caseDiffers } from './case-differs.js';
import type { AnyCheck } from './check.js';
import { codeEasilyGuessed } from './code-easily-guessed.js';
import { confirmationUnused } from './confirmation-unused.js';
import { cookieLifeDiffers } from './cookie-life-differs.js';
import { cookieNamesClash } from './cookie-names-clash.js';
import { cookieMissesPages } from './cookie-misses-pages.js';
import { cookieDomainWide } from './cookie-domain-wide.js';
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
import { guessUndecided } from './guess-undecided.js';
import { guestsOnlyReturns } from './guests-only-returns.js';
import { hostOpensEverything } from './host-opens-everything.js';
import { idleNeverReached } from './idle-never-reached.js';
import { idleNeverRenewed } from './idle-never-renewed.js';
import { keptForBackButton } from './kept-for-back-button.js';
import { landingNeverReached } from './landing-never-reached.js';
import { landingRefused } from './landing-refused.js';
import { landingUnmatched } from './landing-unmatched.js';
import { landingsDiffer } from './landings-differ.js';
import { leewayTooLong } from './leeway-too-long.js';
import { linkForAnyBrowser } from './link-for-any-browser.js';
import { linkLivesLong } from './link-lives-long.js';
import { linkSkipsCode } from './link-skips-code.js';
import { linkTellsAccounts } from './link-tells-accounts.js';
import { loadsRefused } from './loads-refused.js';
import { loginPageClosed } from './login-page-closed.js';
import { loginWithoutEnd } from './login-without-end.js';
import { logoutByGet } from './logout-by-get.js';
import { logoutClearsTooLittle } from './logout-clears-too-little.js';
import { logoutEndsTooLittle } from './logout-ends-too-little.js';
import { logoutLandingBounces } from './logout-landing-bounces.js';
import { logoutOfShownOnly } from './logout-of-shown-only.js';
import { menuHidesOpenPage } from './menu-hides-open-page.js';
import { parameterUnbound } from './parameter-unbound.js';
import { partHidesOpenRequest } from './part-hides-open-request.js';
import { partRequestRefused } from './part-request-refused.js';
import { flagUnused } from './flag-unused.js';
import { barrierForgetsApi } from './barrier-forgets-api.js';
import { barrierShutsOutExempt } from './barrier-shuts-out-exempt.js';
import { barrierStopsOwnWay } from './barrier-stops-own-way.js';
import { barrierWithoutWay } from './barrier-without-way.js';
import { providerCountsAsFresh } from './provider-counts-as-fresh.js';
import { rememberCountsAsFresh } from './remember-counts-as-fresh.js';
import { roleLimitShadowed } from './role-limit-shadowed.js';
import { roleSparesCode } from './role-spares-code.js';
import { tenantForgotten } from './tenant-forgotten.js';
import { menuLinkRefuses } from './menu-link-refuses.js';
import { methodLooser } from './method-looser.js';
import { networkHostBits } from './network-host-bits.js';
import { noWayIn } from './no-way-in.js';
import { openRuleCrossesClosed } from './open-rule-crosses-closed.js';
import { originInPlainHttp } from './origin-in-plain-http.js';
import { ownerBranchOpen } from './owner-branch-open.js';
import { pageLooserThanRule } from './page-looser-than-rule.js';
import { pageNeedsSession } from './page-needs-session.js';
import { passwordChangeWithoutOld } from './password-change-without-old.js';
import { passwordEndsTooLittle } from './password-ends-too-little.js';
import { passwordInPlainHttp } from './password-in-plain-http.js';
import { patternLooksForeign } from './pattern-looks-foreign.js';
import { patternRepeated } from './pattern-repeated.js';
import { promiseContradicted } from './promise-contradicted.js';
import { providerAnswerUnchecked } from './provider-answer-unchecked.js';
import { providerMatchesAddress } from './provider-matches-address.js';
import { providerOutlivesLogout } from './provider-outlives-logout.js';
import { providerSkipsCode } from './provider-skips-code.js';
import { keyWithoutEnd } from './key-without-end.js';
import { keyInAddress } from './key-in-address.js';
import { actsForMore } from './acts-for-more.js';
import { actingOutlivesLogout } from './acting-outlives-logout.js';
import { actingReachesPassword } from './acting-reaches-password.js';
import { redirectLoop } from './redirect-loop.js';
import { redirectTargetMissing } from './redirect-target-missing.js';
import { refreshPastLongest } from './refresh-past-longest.js';
import { refreshReuseAccepted } from './refresh-reuse-accepted.js';
import { refreshUnshared } from './refresh-unshared.js';
import { refreshWithoutRotation } from './refresh-without-rotation.js';
import { rememberCountsAsCode } from './remember-counts-as-code.js';
import { rememberLifeLong } from './remember-life-long.js';
import { rememberWithoutRotation } from './remember-without-rotation.js';
import { returnAddressCareless } from './return-address-careless.js';
import { returnAddressUnused } from './return-address-unused.js';
import { roleUnused } from './role-unused.js';
import { rolesReadAtLogin } from './roles-read-at-login.js';
import { ruleBoundElsewhereOpen } from './rule-bound-elsewhere-open.js';
import { ruleNeverMatches } from './rule-never-matches.js';
import { ruleOrderDoubtful } from './rule-order-doubtful.js';
import { ruleSteppedAround } from './rule-stepped-around.js';
import { ruleUnsettled } from './rule-unsettled.js';
import { sealedOutlivesLogout } from './sealed-outlives-logout.js';
import { sessionIdKept } from './session-id-kept.js';
import { sessionWithoutLimit } from './session-without-limit.js';
import { signUpGivesMuch } from './sign-up-gives-much.js';
import { signUpSkipsCode } from './sign-up-skips-code.js';
import { signUpLandingRefused } from './sign-up-landing-refused.js';
import { stepAssertsNothing } from './step-asserts-nothing.js';
import { submitDiffers } from './submit-differs.js';
import { tokenEndpointClosed } from './token-endpoint-closed.js';
import { tokensKeptInBrowser } from './tokens-kept-in-browser.js';
import { tokensNeverUsed } from './tokens-never-used.js';
import { walkNameRepeated } from './walk-name-repeated.js';
import { wayClosedToGuests } from './way-closed-to-guests.js';
import { writeLeftOpen } from './write-left-open.js';
import { writeLooserThanRead } from './write-looser-than-read.js';
import { writeWithoutCode } from './write-without-code.js';
import { writeWithoutFreshLogin } from './write-without-fresh-login.js';

/** Every check, in the order in which they are run and documented. */
export const ALL_CHECKS: readonly AnyCheck[] = Object.freeze([
  noWayIn,
  loginPageClosed,
  wayClosedToGuests,
  accountWithoutLogin,
  loginTakesOthers,
  confirmationUnused,
  signUpLandingRefused,
  signUpGivesMuch,
  signUpSkipsCode,
  submitDiffers,
  attemptsWithoutLimit,
  attemptsLimitDoubtful,
  codeEasilyGuessed,
  passwordChangeWithoutOld,
  passwordEndsTooLittle,
  linkLivesLong,
  linkSkipsCode,
  linkTellsAccounts,
  linkForAnyBrowser,
  providerAnswerUnchecked,
  providerMatchesAddress,
  providerOutlivesLogout,
  providerSkipsCode,
  providerCountsAsFresh,
  keyWithoutEnd,
  keyInAddress,
  actsForMore,
  actingOutlivesLogout,
  actingReachesPassword,
  sessionIdKept,
  redirectTargetMissing,
  parameterUnbound,
  redirectLoop,
  guestsOnlyReturns,
  landingRefused,
  afterWriteRefused,
  landingUnmatched,
  landingNeverReached,
  landingsDiffer,
  logoutLandingBounces,
  ruleNeverMatches,
  ruleUnsettled,
  ruleOrderDoubtful,
  patternRepeated,
  expressionPastSegment,
  ruleSteppedAround,
  audienceUnsatisfiable,
  audienceNobodyHolds,
  writeLooserThanRead,
  writeLeftOpen,
  methodLooser,
  writeWithoutCode,
  writeWithoutFreshLogin,
  belowLeftOpen,
  flagInPlaceOfRole,
  ownerBranchOpen,
  openRuleCrossesClosed,
  caseDiffers,
  ruleBoundElsewhereOpen,
  hostOpensEverything,
  networkHostBits,
  patternLooksForeign,
  promiseContradicted,
  pageLooserThanRule,
  decidedByOtherwise,
  roleUnused,
  flagUnused,
  tenantForgotten,
  factSelfGiven,
  barrierStopsOwnWay,
  barrierWithoutWay,
  barrierShutsOutExempt,
  barrierForgetsApi,
  dataLaxerThanPage,
  loadsRefused,
  pageNeedsSession,
  guardedInBrowserOnly,
  dataWithoutSecondFactor,
  roleSparesCode,
  menuLinkRefuses,
  menuHidesOpenPage,
  partRequestRefused,
  partHidesOpenRequest,
  returnAddressCareless,
  returnAddressUnused,
  originInPlainHttp,
  passwordInPlainHttp,
  cookieNeverKept,
  cookieNamesClash,
  cookieMissesPages,
  cookieDomainWide,
  cookieNotSecure,
  cookieReadableByScript,
  cookieSentAcrossSites,
  cookieStrictLosesLinks,
  cookieLifeDiffers,
  rememberLifeLong,
  rememberWithoutRotation,
  rememberCountsAsCode,
  rememberCountsAsFresh,
  sessionWithoutLimit,
  loginWithoutEnd,
  idleNeverRenewed,
  idleNeverReached,
  roleLimitShadowed,
  limitNeverReached,
  rolesReadAtLogin,
  sealedOutlivesLogout,
  keptForBackButton,
  logoutEndsTooLittle,
  logoutOfShownOnly,
  logoutClearsTooLittle,
  logoutByGet,
  tokensNeverUsed,
  tokenEndpointClosed,
  tokensKeptInBrowser,
  accessOutlivesRefresh,
  refreshPastLongest,
  accessLifeLong,
  leewayTooLong,
  refreshWithoutRotation,
  refreshReuseAccepted,
  graceTooLong,
  refreshUnshared,
  walkNameRepeated,
  stepAssertsNothing,
  expectationImpossible,
  guessUndecided,
]);
