import { valueUnder } from './plain.js';
import type * as z from 'zod';
import { problem, type Report } from './problems.js';
import { SECTIONS } from './schema-parts.js';
import { nearest } from './suggestions.js';
import type { Path, YamlText } from './yaml-text.js';

type Issue = z.core.$ZodIssue;

/** What a reader of many broken entries can still take in; the rest is counted, not shown. */
const MOST_ISSUES = 100;

/** Reports what a schema found wrong with a text, each at its own place. */
export function reportIssues(issues: readonly Issue[], input: YamlText, report: Report): void {
  const told = issues.slice(0, MOST_ISSUES).flatMap((each) => settleUnion(each, input.value));
  // What has the wrong type is not told besides what a right one would have to be.
  const mistyped = new Set(
    told.flatMap(({ code, path }) => (code === 'invalid_type' ? [path.join('.')] : [])),
  );
  for (const issue of told.slice(0, MOST_ISSUES)) {
    if (issue.code !== 'too_small' || !mistyped.has(issue.path.join('.'))) reportIssue(issue, input, report);
  }
}

function reportIssue(issue: Issue, input: YamlText, report: Report): void {
  const path = pathOf(issue);
  if (issue.code === 'unrecognized_keys') {
    for (const key of issue.keys.slice(0, MOST_ISSUES)) reportKey(key, issue.message, path, input, report);
    return;
  }
  const value = valueAt(input.value, path);
  const place = input.placeOf(path);
  if (issue.code === 'custom') {
    report(problem('bad-value', { problem: issue.message }, place));
  } else if (value === undefined) {
    const key = String(path.at(-1) ?? '');
    report(problem('missing-key', { key, section: sectionName(path) }, input.placeOf(path.slice(0, -1))));
  } else if (issue.code === 'too_small' || issue.code === 'too_big') {
    report(problem('bad-value', { problem: issue.message }, place));
  } else {
    const words =
      issue.code === 'invalid_value' ? issue.values.filter((word) => typeof word === 'string') : [];
    const near = typeof value === 'string' ? nearest(value, words) : null;
    report(problem('wrong-type', { expected: issue.message, found: describe(value), near }, place));
  }
}

function reportKey(key: string, label: string, path: Path, input: YamlText, report: Report): void {
  const { keys: known = [], groups = null } = SECTIONS.get(label) ?? {};
  const near = nearest(key, known);
  const place = input.placeOfKey(path, key);
  report(
    problem(
      'unknown-key',
      { key, section: label, known, near, ...(groups === null ? {} : { groups }) },
      place,
    ),
  );
}

/**
 * Where a value may take one of several forms, what is wrong is told by the form it was meant to have: the one whose
 * type fits. Where none fits, or several do, the forms themselves are named.
 */
function settleUnion(issue: Issue, root: unknown): Issue[] {
  if (issue.code !== 'invalid_union') return [issue];
  const fitting = issue.errors.filter(
    (branch) => !branch.some((inner) => inner.path.length === 0 && isMismatch(inner)),
  );
  const [meant] = fitting;
  if (meant === undefined || fitting.length > 1) return [issue];
  return meant.flatMap((inner) => settleUnion({ ...inner, path: [...issue.path, ...inner.path] }, root));
}

function isMismatch(issue: Issue): boolean {
  return issue.code === 'invalid_type' || issue.code === 'invalid_value' || issue.code === 'invalid_union';
}

/** Where an issue is: keys and numbers alone, since nothing that is read has symbols. */
export function pathOf({ path }: Pick<Issue, 'path'>): Path {
  return path.filter((step) => typeof step !== 'symbol');
}

function sectionName(path: Path): string {
  const parent = path.slice(0, -1).filter((step) => typeof step === 'string');
  return parent.length === 0 ? 'the file' : parent.join('.');
}

function valueAt(root: unknown, path: Path): unknown {
  return path.reduce<unknown>(valueUnder, root);
}

/** A value in words, short enough for a sentence. */
function describe(value: unknown): string {
  if (value === null) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  if (typeof value === 'object') return 'a map';
  if (typeof value === 'string') return `the text ${value.length > 40 ? `${value.slice(0, 40)}…` : value}`;
  return typeof value === 'number' ? `the number ${value}` : `the value ${JSON.stringify(value)}`;
}
