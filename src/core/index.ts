/** The public library of Cavrin: pure computation, from text to verdicts. */
export { ALL_CHECKS } from './checks/all-checks.js';
export type { CheckMeta } from './checks/check.js';
export { runChecks } from './checks/run-checks.js';
export { hasErrors, inReadingOrder, type Diagnostic, type Severity } from './language/diagnostic.js';
export { formatDuration, parseDuration, type Seconds } from './language/duration.js';
export type { Policy } from './language/policy.js';
export { lineText, positionOf, sourceOf, type Place, type Position, type Source } from './language/source.js';
export type { Path, YamlText } from './language/yaml-text.js';
export { problem, type ProblemCode } from './language/problems.js';
export { LIMITS } from './language/yaml-text.js';
export { loadProject, readProject, type Project } from './project.js';
export { loadRegularLanguages } from './paths/regular-language.js';
export { playStep, playWalk, type StepResult, type WalkResult } from './walks/runner.js';
export { stageOf, type Exchange, type Stage } from './walks/stage.js';
export type { Step, Walk } from './walks/walk.js';
