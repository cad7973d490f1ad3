import {
  gridCsv,
  type Comparison,
  type Diagnostic,
  type Explained,
  type Grid,
  type LoginState,
  type YamlText,
} from '../core/internal.js';
import { coverageJson } from './coverage/coverage-json.js';
import {
  coverageLcov,
  coverageMarkdown,
  coverageText,
  type ShownCoverage,
} from './coverage/coverage-text.js';
import { diagnosticsText } from './diagnostics-text.js';
import { diffJson } from './diff/diff-json.js';
import { diffMarkdown } from './diff/diff-markdown.js';
import { diffText } from './diff/diff-text.js';
import type { Compared } from './diff/diff-words.js';
import { againstJson } from './draft/against-json.js';
import { againstText, type ShownAgainst } from './draft/against-text.js';
import { draftJson } from './draft/draft-json.js';
import { draftSummary, type DraftLook, type ShownDraft } from './draft/draft-text.js';
import { doubtJson } from './doubt/doubt-json.js';
import { doubtMarkdown, doubtText, type ShownDoubt } from './doubt/doubt-text.js';
import { findingsJson } from './findings-json.js';
import { comparisonJson, gridJson, gridMarkdown } from './grid-formats.js';
import { comparisonText, gridText } from './grid-text.js';
import { junit, junitOfFaults } from './junit.js';
import { liveDiagnostics, liveJson, liveJUnit } from './live-formats.js';
import { liveText, type LiveLook, type ShownRun } from './live-text.js';
import { proofJson } from './proof-json.js';
import { proofText, type Proof, type ProofLook } from './proof-text.js';
import { sarif } from './sarif.js';
import type { Look } from './style.js';
import { walksJson } from './walks-json.js';
import { walksText, type PlayedWalks, type WalksLook } from './walks-text.js';
import { findingsMarkdown, proofMarkdown, walksMarkdown } from './result-markdown.js';
import { whyJson, whyText, type WhyLook } from './why-text.js';

/** A form in which a command gives its result. `text`, for people, is the first of every command. */
export interface OutputFormat<Result, Shown extends Look = Look> {
  /** What follows `--format`. */
  readonly name: string;
  /** Its row in docs/json.md. */
  readonly is: string;
  write(result: Result, look: Shown): string;
  /** What is wrong with the input, where that has this form too; left out, it is told on standard error alone. */
  faults?(faults: readonly Diagnostic[], version: string): string;
}

/** What a command can give, of which `text` is the usual. */
export type Formats<Result, Shown extends Look = Look> = readonly OutputFormat<Result, Shown>[];

const json = (is: string) => ({ name: 'json', is, faults: findingsJson }) as const;

const markdown = { name: 'markdown', is: 'the same for the comment of a review' } as const;

/** What `cavrin check` found, and in words what it read. */
export interface Found {
  readonly findings: readonly Diagnostic[];
  readonly read: string;
  /** The version of the program that looked. */
  readonly version: string;
}

export const CHECK_FORMATS: Formats<Found> = [
  {
    name: 'text',
    is: 'findings with excerpts',
    write: ({ findings, read }, look) => diagnosticsText(findings, look, read),
  },
  { ...json('`cavrin/findings`'), write: ({ findings }) => findingsJson(findings) },
  { ...markdown, write: ({ findings, read }) => findingsMarkdown(findings, read) },
  {
    name: 'sarif',
    is: 'SARIF 2.1.0, for whoever shows findings beside the source',
    write: ({ findings, version }) => sarif(findings, { version }),
    faults: (faults, version) => sarif(faults, { version }),
  },
];

export const WALK_FORMATS: Formats<PlayedWalks, WalksLook> = [
  {
    name: 'text',
    is: 'a line a step',
    write: ({ results, app, input }, look) => walksText(results, app, input, look),
  },
  { ...json('`cavrin/walks`'), write: ({ results, app, input }) => walksJson(results, app, input) },
  { ...markdown, write: walksMarkdown },
  {
    name: 'junit',
    is: 'JUnit XML, a test case a walk',
    write: ({ results, app }) => junit(results, app),
    faults: junitOfFaults,
  },
];

/** A table of who lands where. */
export interface ShownGrid {
  readonly grid: Grid;
  readonly app: string;
  readonly file: string;
}

export const GRID_FORMATS: Formats<ShownGrid> = [
  { name: 'text', is: 'a table', write: ({ grid, app, file }, look) => gridText(grid, app, file, look) },
  { name: 'csv', is: 'a table to agree on', write: ({ grid }) => gridCsv(grid) },
  { ...json('`cavrin/grid`'), write: ({ grid, app, file }) => gridJson(grid, app, file) },
  { name: 'markdown', is: 'a table for a page', write: ({ grid }) => gridMarkdown(grid) },
];

/** How a table differs from one that was agreed on. */
export interface ShownComparison {
  readonly comparison: Comparison;
  readonly table: string;
}

export const COMPARISON_FORMATS: Formats<ShownComparison> = [
  {
    name: 'text',
    is: 'what differs',
    write: ({ comparison, table }, look) => comparisonText(comparison, table, look),
  },
  {
    ...json('`cavrin/grid-comparison`'),
    write: ({ comparison, table }) => comparisonJson(comparison, table),
  },
];

export const DIFF_FORMATS: Formats<Compared> = [
  { name: 'text', is: 'what changed for whom, and what else it means', write: diffText },
  { ...json('`cavrin/diff`'), write: diffJson },
  { ...markdown, write: diffMarkdown },
];

/** A request explained, and whose it is. */
export interface ShownRequest {
  readonly explained: Explained;
  readonly who: LoginState;
  readonly input: YamlText;
}

export const WHY_FORMATS: Formats<ShownRequest, WhyLook> = [
  {
    name: 'text',
    is: 'what decides it',
    write: ({ explained, who, input }, look) => whyText(explained, who, input, look),
  },
  { ...json('`cavrin/why`'), write: ({ explained, who, input }) => whyJson(explained, who, input) },
];

export const DRAFT_FORMATS: Formats<ShownDraft, DraftLook> = [
  { name: 'text', is: 'what was written and guessed, and what comes out otherwise', write: draftSummary },
  { ...json('`cavrin/draft`'), write: draftJson },
];

export const AGAINST_FORMATS: Formats<ShownAgainst> = [
  {
    name: 'text',
    is: 'what only the sources have, what only the policy has, and what is otherwise',
    write: againstText,
  },
  { ...json('`cavrin/draft-against`'), write: againstJson },
];

export const COVERAGE_FORMATS: Formats<ShownCoverage> = [
  { name: 'text', is: 'a table of counts, and what no walk touches', write: coverageText },
  { ...json('`cavrin/coverage`'), write: coverageJson },
  { ...markdown, write: coverageMarkdown },
  { name: 'lcov', is: 'an LCOV tracefile of the lines of the policy, for editors', write: coverageLcov },
];

export const DOUBT_FORMATS: Formats<ShownDoubt> = [
  { name: 'text', is: 'the score, and what nobody would notice', write: doubtText },
  { ...json('`cavrin/doubt`'), write: doubtJson },
  { ...markdown, write: doubtMarkdown },
];

export const PROVE_FORMATS: Formats<Proof, ProofLook> = [
  { name: 'text', is: 'a verdict a law, and how long things last', write: proofText },
  { ...json('`cavrin/proof`'), write: proofJson },
  { ...markdown, write: proofMarkdown },
];

export const LIVE_FORMATS: Formats<ShownRun, LiveLook> = [
  { name: 'text', is: 'a block for each difference', write: liveText },
  { ...json('`cavrin/live`'), write: liveJson },
  { name: 'junit', is: 'JUnit XML, a test case a walk', write: liveJUnit, faults: junitOfFaults },
  {
    name: 'sarif',
    is: 'SARIF 2.1.0, a result for each difference, at its place in the policy',
    write: (run) => sarif(liveDiagnostics(run), { version: run.version }),
    faults: (faults, version) => sarif(faults, { version }),
  },
];

/** The forms of every command, as docs/json.md lists them. */
export const FORMATS_OF = {
  check: CHECK_FORMATS,
  walk: WALK_FORMATS,
  grid: GRID_FORMATS,
  'grid --against': COMPARISON_FORMATS,
  diff: DIFF_FORMATS,
  why: WHY_FORMATS,
  draft: DRAFT_FORMATS,
  'draft --into': AGAINST_FORMATS,
  coverage: COVERAGE_FORMATS,
  doubt: DOUBT_FORMATS,
  prove: PROVE_FORMATS,
  live: LIVE_FORMATS,
} as const;
