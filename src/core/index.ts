/**
 * The public library of Cavrin: from a policy's text to verdicts, with nothing read, written or asked of the network.
 * docs/library.md shows three uses. Everything else in the package is internal.
 */
export { openPolicy, OpenPolicy, PolicyError, QuestionError } from './library/open-policy.js';
export type {
  Admission,
  Explanation,
  KnownVisitor,
  Proof,
  ProvedExposure,
  Verdict,
  WalkFile,
} from './library/open-policy.js';
export type { BrokenLaw, FilePlace, Finding, PlayedStep, PlayedWalk } from './library/results.js';
export type { AskedRequest } from './why/admission.js';
export type { Change, Step as ChangeStep } from './why/changes.js';
export type { Grid, GridRow } from './grid/grid.js';
export type { Change as PolicyChange, OneSided } from './diff/access.js';
export type { PolicyDiff } from './diff/policy-diff.js';
export type { SettingChange, SettingValue } from './diff/settings/facet.js';
export type { Direction } from './vocabulary/direction.js';
export type { Condition, GridState } from './grid/login-state.js';
export type { Severity } from './language/text/diagnostic.js';
export type { Method } from './http/messages.js';
export type { Reason } from './app/reasons.js';
export type { LawName } from './vocabulary/law-names.js';
export type { Seconds } from './time/duration.js';
