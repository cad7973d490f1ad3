/** What the other rooms of the program use of the core. The public library is `index.ts`. */
export { LAW_NAMES } from './vocabulary/law-names.js';
export { ALL_CHECKS } from './checks/all-checks.js';
export { runChecks } from './checks/run-checks.js';
export { hasErrors, inReadingOrder, type Diagnostic, type Severity } from './language/diagnostic.js';
export { formatDuration, parseDuration, type Seconds } from './time/duration.js';
export type { Account, Login, Policy } from './language/policy.js';
export { lineText, positionOf, sourceOf, type Place, type Source } from './language/source.js';
export type { Path, YamlText } from './language/yaml-text.js';
export { problem } from './language/problems.js';
export { LIMITS } from './language/yaml-text.js';
export { loadProject, readProject } from './walks/project.js';
export { loadRegularLanguages } from './paths/regular-language.js';
export { playSteps, playWalk, type StepResult, type WalkResult } from './walks/runner.js';
export { differenceWords } from './walks/expectations.js';
export { answered, stageOf, type Answered, type Exchange, type Stage } from './play/stage.js';
export { holdingOf, holdingsOf, recordsOf, type Holding, type Recorded } from './credentials/panel.js';
export { FixedClock, type Clock } from './time/clock.js';
export { administer, stepWords, type Administration } from './steps/all-steps.js';
export { writtenWalkStep } from './walks/written.js';
export { handle, indexOf, initialState, type AppState } from './app/app.js';
export { respondTo, type Decided } from './app/respond-to.js';
export { pathOf } from './app/router.js';
export { TOKEN_COOKIES } from './app/token-cookies.js';
export { RIGHT_CODE } from './app/second-factor.js';
export { clientOf } from './browser/client.js';
export { parameterOf } from './http/address.js';
export { normalisePath } from './paths/normalise.js';
export { shownIn } from './app/own-cookies.js';
export { cookieValue, readSetCookie } from './http/cookies.js';
export type { Body, FormName, HttpRequest } from './http/messages.js';
export type { Step, Walk } from './steps/walk.js';
export { compareGrid, gridCsv, type Comparison } from './grid/agreed.js';
export { diffPolicies, type Change as PolicyChange, type PolicyDiff } from './grid/diff.js';
export { gridOf, SHOWN, type Grid } from './grid/grid.js';
export {
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
export { isSafe, METHODS, type Method } from './http/messages.js';
export { parseNetwork, SOME_CLIENT } from './http/client-address.js';
export { STAND_IN_COOKIE } from './language/name-reader.js';
export { jsonSchemaOf } from './walks/json-schema.js';
export { nearest } from './language/suggestions.js';
export type { Audience } from './vocabulary/audience.js';
export { ALONE, castsOf, MOST_STATES, settleScene, verdictsOf } from './proof/prove.js';
export type { Participants, Verdict } from './proof/prove.js';
export type { Job, SceneOutcome } from './proof/known/scene-outcome.js';
export { keepScene, readKeptScene, keptSceneSchema, type KeptScene } from './proof/known/kept-scene.js';
export { sceneMatter } from './proof/known/scene-matter.js';
export type { Cast } from './proof/choices/cast.js';
export type { Counterexample } from './proof/search/counterexample.js';
export type { Exposure } from './proof/exposure/exposure.js';
export { goalsOf, lawOf, type Goal } from './proof/search/goals.js';
export type { Finding, Progress } from './proof/search/scene-proof.js';
export { CREDENTIALS, recordWords } from './vocabulary/credentials.js';
export { once } from './language/once.js';
