import { isMap, isSeq, parseDocument, stringify } from 'yaml';
import { writtenWalkStep, type Step } from '../core/internal.js';
import { visible } from './json.js';
import { hasUnseen } from './style.js';

/** A walk that is to be written down. */
export interface WrittenWalk {
  readonly name: string;
  readonly steps: readonly Step[];
}

/**
 * Walks as a file that `cavrin walk` plays, a line a step.
 *
 * @param head what a reader is told first, each line a comment
 */
export function walksYaml(walks: readonly WrittenWalk[], head: readonly string[] = []): string {
  const lines = walks.flatMap((walk) => walkLines(walk).map((line) => `  ${line}\n`));
  const told = head.map((line) => `# ${line}\n`).join('');
  return `${told}walks:${lines.length === 0 ? ' []' : ''}\n${lines.join('')}`;
}

function walkLines({ name, steps }: WrittenWalk): string[] {
  return [
    `- name: ${flow(name)}`,
    '  steps:',
    ...steps.map((step) => `    - ${flow(writtenWalkStep(step))}`),
  ];
}

/** Why a walk cannot be added to a text. */
export type NotAdded = 'no list of walks' | 'its name is there';

/**
 * A file of walks with one more at its end; all that is there stays as it is, byte for byte.
 *
 * @param text what the file has; null where there is none yet
 */
export function withWalk(text: string | null, walk: WrittenWalk): { readonly text: string } | NotAdded {
  if (text === null || text.trim() === '') return { text: walksYaml([walk]) };
  const document = parseDocument(text);
  const list = isMap(document.contents) ? document.get('walks') : undefined;
  if (document.errors.length > 0 || !isSeq(list) || !list.range) return 'no list of walks';
  const names = list.items.map((item) => (isMap(item) ? item.get('name') : undefined));
  if (names.includes(walk.name)) return 'its name is there';
  if (list.flow === true) return 'no list of walks';
  const [start, end] = list.range;
  const indent = ' '.repeat(start - text.lastIndexOf('\n', start - 1) - 1);
  const before = text.slice(0, end).trimEnd();
  const added = walkLines(walk).map((line) => `${indent}${line}\n`);
  const after = text.slice(before.length).replace(/^[^\S\n]*\n/, '');
  const whole = `${before}\n\n${added.join('')}${after}`;
  return hasAllAndOneMore(whole, document.toJS(), walk.name) ? { text: whole } : 'no list of walks';
}

/** Whether a text has the walks of another, and after them the one that was added. */
function hasAllAndOneMore(text: string, before: unknown, name: string): boolean {
  const read = parseDocument(text);
  const { walks: old, ...rest } = before as { walks: unknown[] };
  const { walks, ...others } = read.toJS() as { walks: { name?: unknown }[] };
  return (
    read.errors.length === 0 &&
    JSON.stringify([walks.slice(0, -1), others]) === JSON.stringify([old, rest]) &&
    walks.at(-1)?.name === name
  );
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
