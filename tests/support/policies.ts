import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Diagnostic } from '../../src/core/language/text/diagnostic';
import { positionOf, sourceOf, type Source } from '../../src/core/language/text/source';
import { readProject, type Project } from '../../src/core/walks/project';
import { playWalk, type WalkResult } from '../../src/core/walks/runner';
import { stageOf, type Stage } from '../../src/core/play/stage';

export const EXAMPLES = join(__dirname, '..', '..', 'examples');
export const HARBOUR = join(EXAMPLES, 'harbour');
/** The examples that come with the program, by their folders. */
export const SHIPPED = ['harbour', 'fennel-row'] as const;

/** A small sound policy in parts, so that a test says only what it changes. `null` leaves a part out. */
const PARTS = {
  origin: 'origin: https://app.example',
  roles: 'roles: { clerk: [], chief: [clerk] }',
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] }, cy: { password: c-3 } }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }',
  rules: 'rules: []',
  login: 'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 5, within: 5m, pause: 5m } }',
  landing: 'landing: [{ role: chief, to: /safe }, { role: clerk, to: /desk }, { otherwise: / }]',
  logout: 'logout: { submit: POST /out }',
  session: 'session: { idle: 30m, absolute: 8h }',
  more: '',
};

/** The text of the small policy with some of its parts put otherwise. */
export function policyText(parts: Partial<Record<keyof typeof PARTS, string | null>> = {}): string {
  const all = Object.entries({ ...PARTS, ...parts }).map(([, text]) => text ?? '');
  return ['cavrin: 1', 'app: Test', ...all].join('\n');
}

/** Reads a policy with walks; whatever is wrong with them fails the test. */
export function project(policy: string, walks: readonly string[] = []): Project & { readonly stage: Stage } {
  const read = readProject(
    sourceOf('cavrin.yaml', policy),
    walks.map((text, at) => sourceOf(`walks/${at}.yaml`, text)),
  );
  if (read.policy === null || read.diagnostics.length > 0) {
    throw new Error(read.diagnostics.map(line).join('\n'));
  }
  return { ...read, stage: stageOf(read.policy) };
}

/** What is wrong with a policy and its walks, as `code line:column`. */
export function faults(policy: string, walks: readonly string[] = []): string[] {
  const sources = walks.map((text, at) => sourceOf(`walks/${at}.yaml`, text));
  return readProject(sourceOf('cavrin.yaml', policy), sources).diagnostics.map((each) => line(each));
}

/** A diagnostic as `code line:column`. */
export function line({ code, place }: Diagnostic): string {
  if (place === null) return code;
  const { line: row, column } = positionOf(place.source, place.start);
  return `${code} ${row}:${column}`;
}

/** Plays steps, written as the language has them, against a policy. */
export function playSteps(policy: string, steps: readonly string[]): WalkResult {
  const walks = `walks:\n  - name: test\n    steps:\n${steps.map((step) => `      - ${step}\n`).join('')}`;
  const read = project(policy, [walks]);
  const [walk] = read.walks;
  if (walk === undefined) throw new Error('no walk was read');
  return playWalk(read.stage, walk);
}

/** What differed from the expectations of the steps, one line each; empty where all were met. */
export function differences(result: WalkResult): string[] {
  return result.steps.flatMap((step, at) => [
    ...step.differences.map((each) => `${at}: ${each.key} ${each.expected} / ${each.actual}`),
    ...(step.impossible === null ? [] : [`${at}: ${step.impossible}`]),
  ]);
}

/** The harbour example as it ships. */
export function harbour(): Project & { readonly stage: Stage } {
  return shipped('harbour');
}

/** An example as it ships. */
export function shipped(name: (typeof SHIPPED)[number]): Project & { readonly stage: Stage } {
  const folder = join(EXAMPLES, name);
  const text = (...names: string[]): Source => {
    const file = join(folder, ...names);
    return sourceOf(file, readFileSync(file, 'utf8'));
  };
  const walks = readdirSync(join(folder, 'walks')).map((file) => text('walks', file));
  const read = readProject(text('cavrin.yaml'), walks);
  if (read.policy === null || read.diagnostics.length > 0) {
    throw new Error(read.diagnostics.map(line).join('\n'));
  }
  return { ...read, stage: stageOf(read.policy) };
}
