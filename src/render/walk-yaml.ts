import { stringify } from 'yaml';
import { writtenWalkStep, type Step } from '../core/internal.js';
import { visible } from './json.js';
import { hasUnseen } from './style.js';

/** A walk that is to be written down. */
export interface WrittenWalk {
  readonly name: string;
  readonly steps: readonly Step[];
}

/** Walks as a file that `cavrin walk` plays, a line a step. */
export function walksYaml(walks: readonly WrittenWalk[]): string {
  const lines = walks.flatMap(({ name, steps }) => [
    `  - name: ${flow(name)}`,
    '    steps:',
    ...steps.map((step) => `      - ${flow(writtenWalkStep(step))}`),
  ]);
  return `walks:${lines.length === 0 ? ' []' : ''}\n${lines.map((line) => `${line}\n`).join('')}`;
}

function flow(value: unknown): string {
  const text = stringify(value, {
    collectionStyle: 'flow',
    lineWidth: 0,
    flowCollectionPadding: true,
  }).trimEnd();
  // JSON is YAML, and has a way to write what is not seen.
  return hasUnseen(text) ? visible(JSON.stringify(value)) : text;
}
