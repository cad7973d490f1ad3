/** What the other rooms of the program use of the core. The public library is `index.ts`. */
export { audienceWords } from './audience/all-conditions.js';
export { LAW_NAMES } from './vocabulary/law-names.js';
export { ALL_CHECKS } from './checks/all-checks.js';
export { runChecks } from './checks/run-checks.js';
export { hasErrors, inReadingOrder, type Diagnostic, type Severity } from './language/text/diagnostic.js';
export { formatDuration, parseDuration, type Seconds } from './time/duration.js';
export type { Account, Login, Policy } from './language/policy.js';
export { lineText, positionOf, sourceOf, type Place, type Source } from './language/text/source.js';
export type { Path, YamlText } from './language/text/yaml-text.js';
export { problem } from './language/text/problems.js';
export { guessesIn, type Guess } from './language/text/guesses.js';
export { isWritten, LIMITS } from './language/text/yaml-text.js';
export { loadProject, readProject } from './walks/project.js';
export { loadRegularLanguages } from './paths/regular-language.js';
export { playSteps, playWalk, reachedPages, type StepResult, type WalkResult } from './walks/runner.js';
export { coverageOf, type CoveredGroup, type CoveredItem, type Coverage } from './coverage/coverage.js';
export { Doubt, WATCHERS, type Doubted, type InDoubt, type Watcher } from './doubt/doubt.js';
export { mistakesIn } from './doubt/mistakes.js';
export { proposalsFor, type ProposedWalk } from './coverage/propose.js';
export { recordedWalk, type Happening } from './walks/recording.js';
export { expectingWhatCame, tryFurther, tryOut, type Trial } from './walks/trial.js';
export { readTyped, TYPED, typedIn, type TypedStep, type WrittenStep } from './steps/typed.js';
export { differenceWords } from './walks/expectations.js';
export { answered, answerTo, stageOf, type Answered, type Exchange, type Stage } from './play/stage.js';
export { holdingOf, holdingsOf, recordsOf, type Holding, type Recorded } from './credentials/panel.js';
export { FixedClock, type Clock } from './time/clock.js';
export {
  administer,
  deedOf,
  isAdministration,
  stepWords,
  taleOf,
  type Administration,
} from './steps/all-steps.js';
export { outcomeOf } from './steps/outcome.js';
export type { Completed } from './steps/typed-form.js';
export type { Given } from './steps/step-kind.js';
export type { Send } from './steps/send.js';
export {
  entrantOf,
  givenBy,
  hasTrait,
  isDeed,
  isPause,
  linkOf,
  newcomerOf,
  pauseSeconds,
  plantedBy,
  receiverOf,
  requestOf,
} from './steps/asking.js';
export { writtenWalkStep } from './walks/written.js';
export { handle, indexOf, initialState, type AppState } from './app/app.js';
export { keyFault } from './app/keys.js';
export { isActedFor, mayAct } from './app/acting.js';
export type { Decided } from './app/respond-to.js';
export { pathOf } from './app/endpoints.js';
export { TOKEN_COOKIES } from './app/token-cookies.js';
export { RIGHT_CODE } from './app/second-factor.js';
export { clientOf } from './browser/client.js';
export { begin, receive } from './browser/browser.js';
export { formNames, passedOn } from './browser/forms.js';
export { LONGEST_FROZEN, thawed } from './browser/tabs.js';
export {
  NEW_BROWSER,
  type BrowserState,
  type Claims,
  type Deed,
  type Fill,
  type Flight,
  type PageBody,
  type Purpose,
  type Turn,
} from './browser/state.js';
export { acceptedReturn } from './app/return-address.js';
export type { Endpoint } from './language/policy.js';
export { filledIn as filledPath } from './app/page.js';
export { landingEntry } from './app/landing.js';
export { cookieHeader, copyOf, ownOf, storeCookies, type CookieJar } from './browser/cookie-jar.js';
export { given } from './credentials/holdings.js';
export { parameterOf, withParameter } from './http/address.js';
export { normalisePath } from './paths/normalise.js';
export { shownIn } from './app/own-cookies.js';
export { cookieValue, readSetCookie, type SetCookie } from './http/cookies.js';
export {
  LOGIN_WANTED,
  respond,
  type Body,
  type FormName,
  type HttpRequest,
  type HttpResponse,
} from './http/messages.js';
export type { Step, Walk } from './steps/walk.js';
export { compareGrid, gridCsv, isOfAccounts, type Comparison } from './grid/agreed.js';
export type { Change as PolicyChange, OneSided } from './diff/access.js';
export { diffPolicies, worstOf, type PolicyDiff, type Worst } from './diff/policy-diff.js';
export {
  compareOutcomes,
  type Bound,
  type BoundChange,
  type Outcome as PolicyOutcome,
  type OutcomeDiff,
  type VerdictChange,
} from './diff/verdicts.js';
export { settingChanges } from './diff/settings/policy-settings.js';
export type { SettingChange, SettingValue } from './diff/settings/facet.js';
export type { Direction, Sides } from './vocabulary/direction.js';
export { gridOf, SHOWN, type Grid } from './grid/grid.js';
export { landingMap, type Landing } from './overview/landing-map.js';
export { limitsOf, type Limit } from './overview/limits.js';
export { rowReasons, type CellReason, type RowReasons } from './overview/cell-reasons.js';
export { stateMap, type StateMap } from './overview/state-map.js';
export {
  asItself,
  CONDITIONS,
  guestState,
  reach,
  stateName,
  type Condition,
  type LoginState,
} from './grid/login-state.js';
export { explainRequest, type Explained } from './why/explain-request.js';
export type { Change, Step as ChangeStep } from './why/changes.js';
export { readRequestLine } from './why/request-line.js';
export { isMethod, isSafe, METHODS, type Method } from './http/messages.js';
export { parseCookieDate } from './http/cookie-date.js';
export { membersIn } from './draft/tokens-found.js';
export { parseNetwork, SOME_CLIENT } from './http/client-address.js';
export { nameFault, STAND_IN_COOKIE } from './language/text/name-reader.js';
export { jsonSchemaOf } from './walks/json-schema.js';
export { nearest } from './language/text/suggestions.js';
export { factChanges, flags as flagsSchema } from './audience/written.js';
export { writtenFacts, writtenFlags } from './steps/administration.js';
export { AUDIENCE_WORDS, type AskedFact, type Audience } from './vocabulary/audience.js';
export { ALONE, castsOf, isUnasked, MOST_STATES, settleScene, verdictsOf } from './proof/prove.js';
export type { Participants, Verdict } from './proof/prove.js';
export type { Job, SceneOutcome } from './proof/known/scene-outcome.js';
export { keepScene, readKeptScene, keptSceneSchema, type KeptScene } from './proof/known/kept-scene.js';
export { sceneMatter } from './proof/known/scene-matter.js';
export type { Cast } from './proof/choices/cast.js';
export type { Counterexample } from './proof/search/counterexample.js';
export type { Exposure } from './proof/exposure/exposure.js';
export { goalsOf, lawOf, type Goal } from './proof/search/goals.js';
export type { Finding, Progress } from './proof/search/scene-proof.js';
export { DEADLINES } from './vocabulary/deadlines.js';
export { CREDENTIALS, credentialWords, recordWords, type Credential } from './vocabulary/credentials.js';
export { once } from './language/text/once.js';
export { withoutSilentPages } from './real-app/silent-pages.js';
export { Secrets } from './real-app/secrets.js';
export { liveJsonSchema } from './real-app/live-schema.js';
export { askedAtEnd } from './real-app/asked-at-end.js';
export { readLiveText } from './real-app/live-text.js';
export {
  filledWith,
  hintsFor,
  type DeedName,
  type Done,
  type FormHints,
  type LiveConfig,
  type Start,
  type Text,
} from './real-app/live-config.js';
export { PROVIDER_COOKIE, providerAt } from './provider/provider.js';
export { PROVIDER_PATHS } from './vocabulary/provider-paths.js';
export { stateCookie } from './app/provider-login.js';
export type { IdentityProvider } from './language/policy.js';
export { linkCookie } from './app/link-login.js';
export { linkRules } from './app/link-rules.js';
export { loginOfForm } from './app/logins.js';
export { ASPECTS, SOMEBODY, type Aspect, type Message, type Observed } from './real-app/observation.js';
export {
  CLASS_ORDER,
  DIFFERENCE_CLASSES,
  compareStep,
  type DifferenceClass,
} from './real-app/compare-step.js';
export { targetIn } from './real-app/divergence.js';
export {
  findingsOf,
  type LiveFinding,
  type LiveStep,
  type LiveWalk,
  type Showing,
} from './real-app/findings.js';
export { slotsOf, timetableOf, type Timetable } from './real-app/timetable.js';
export { descriptionOf } from './real-app/described-by.js';
export {
  judgedIn,
  type DescribedFinding,
  settled,
  type Judged,
  type LiveResult,
  type SettledFindings,
} from './real-app/live-result.js';
export { driversFor, type Driver } from './real-app/drivers.js';
export { slackened } from './real-app/real-time.js';
export { compareWithPolicy, type AgainstPolicy } from './draft/compare.js';
export { draftOf } from './draft/draft.js';
export {
  hasLines,
  type Draft,
  type DraftedWalk,
  type Line as DraftedLine,
  type Section as DraftedSection,
} from './draft/drafted.js';
export type {
  DescribedAccess,
  DescribedRequest,
  DescribedScheme,
  Description,
  Evidence,
  Exchange as RecordedExchange,
  Recording,
} from './draft/evidence.js';
