import {
  differenceWords,
  positionOf,
  type Diagnostic,
  type StepResult,
  type Walk,
  type WalkResult,
} from '../core/internal.js';
import { actionWords } from './step-words.js';
import { printable } from './style.js';

/** A test case of a report. */
export interface JUnitCase {
  readonly walk: Walk;
  /** What is wrong, the first of it first; nothing where it passed. */
  readonly problems: readonly string[];
  /** Why it was not played; null where it was. */
  readonly skipped: string | null;
}

/** Walks as a JUnit report: a suite for each file, a test case for each walk. */
export function junit(results: readonly WalkResult[], app: string): string {
  return junitOf(
    results.map(({ walk, steps, passed }) => ({
      walk,
      problems: passed ? [] : steps.flatMap((step) => problemsOf(step, walk.input.source.file)),
      skipped: null,
    })),
    app,
  );
}

/** Test cases as a JUnit report: a suite for each file. */
export function junitOf(cases: readonly JUnitCase[], app: string): string {
  const files = new Map<string, JUnitCase[]>();
  for (const each of cases) {
    const { file } = each.walk.input.source;
    files.set(file, [...(files.get(file) ?? []), each]);
  }
  const suites = [...files].map(([file, own]) => suiteOf(file, own));
  const open = `<testsuites name="${escapeXml(app)}" ${counts(cases)}>`;
  return ['<?xml version="1.0" encoding="UTF-8"?>', open, ...suites, '</testsuites>', ''].join('\n');
}

/** What keeps walks from being played, as a JUnit report with one test case that has an error for each. */
export function junitOfFaults(faults: readonly Diagnostic[]): string {
  const cases = faults.map(({ code, message, place }) => {
    const file = place === null ? '' : place.source.file;
    const line = place === null ? 0 : positionOf(place.source, place.start).line;
    const where = place === null ? '' : ` file="${escapeXml(file)}" line="${line}"`;
    return [
      `    <testcase name="${escapeXml(code)}" classname="${escapeXml(file || 'input')}"${where} time="0">`,
      `      <error type="${escapeXml(code)}" message="${escapeXml(message)}">${escapeXml(message)}</error>`,
      '    </testcase>',
    ].join('\n');
  });
  const totals = `tests="${faults.length}" failures="0" errors="${faults.length}" skipped="0" time="0"`;
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<testsuites name="input" ${totals}>`,
    `  <testsuite name="input" ${totals}>`,
    ...cases,
    '  </testsuite>',
    '</testsuites>',
    '',
  ].join('\n');
}

function counts(cases: readonly JUnitCase[]): string {
  const failed = cases.filter(({ problems }) => problems.length > 0).length;
  const skipped = cases.filter((each) => each.skipped !== null).length;
  return `tests="${cases.length}" failures="${failed}" errors="0" skipped="${skipped}" time="0"`;
}

function suiteOf(file: string, own: readonly JUnitCase[]): string {
  const cases = own.map((each) => caseOf(file, each));
  return [`  <testsuite name="${escapeXml(file)}" ${counts(own)}>`, ...cases, '  </testsuite>'].join('\n');
}

function caseOf(file: string, { walk, problems, skipped }: JUnitCase): string {
  const { line } = positionOf(walk.input.source, walk.input.placeOf(walk.at).start);
  const attributes = `name="${escapeXml(walk.name)}" classname="${escapeXml(file)}" file="${escapeXml(file)}" line="${line}" time="0"`;
  const [first] = problems;
  const inside =
    skipped !== null
      ? `<skipped message="${escapeXml(skipped)}"/>`
      : first === undefined
        ? null
        : `<failure type="difference" message="${escapeXml(first)}">${escapeXml(problems.join('\n'))}</failure>`;
  return inside === null
    ? `    <testcase ${attributes}/>`
    : [`    <testcase ${attributes}>`, `      ${inside}`, '    </testcase>'].join('\n');
}

function problemsOf(result: StepResult, file: string): string[] {
  const { step, differences, impossible, broken } = result;
  const asked = actionWords(step);
  const place = `${file}, step ${Number(step.at.at(-1)) + 1} (${asked})`;
  const told = differences.map((each) => `${place}: ${differenceWords(each)}`);
  for (const { law, weight, seen } of broken) {
    if (weight === 'law') told.push(`${place}: breaks ${law}: ${seen}`);
  }
  return impossible === null ? told : [...told, `${place}: cannot be played: ${impossible}`];
}

/** Text for an XML attribute or element; characters that XML 1.0 §2.2 does not allow are shown by their code points. */
function escapeXml(text: string): string {
  return text
    .split('\n')
    .map(printable)
    .join('\n')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll('\n', '&#10;');
}
