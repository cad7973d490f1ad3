import { isMap, isSeq, parseDocument, stringify } from 'yaml';
import { writtenWalkStep, type Step } from '../core/internal.js';
import { visible } from './json.js';
import { hasUnseen } from './style.js';

/** A walk that is to be written down. */
export interface WrittenWalk {
  readonly name: string;
  readonly steps: readonly Step[];
}

/** A walk in the words of the language. */
export interface WalkInWords {
  readonly name: string;
  readonly steps: readonly Readonly<Record<string, unknown>>[];
}

/**
 * Walks as a file that `cavrin walk` plays, a line a step.
 *
 * @param head what a reader is told first, each line a comment
 */
export function walksYaml(walks: readonly WrittenWalk[], head: readonly string[] = []): string {
  return wordedWalksYaml(walks.map(inWords), head);
}

/** The same of walks that are in words already. */
export function wordedWalksYaml(walks: readonly WalkInWords[], head: readonly string[] = []): string {
  const lines = walks.flatMap((walk) => walkLines(walk).map((line) => `  ${line}\n`));
  const told = head.map((line) => `# ${line}\n`).join('');
  return `${told}walks:${lines.length === 0 ? ' []' : ''}\n${lines.join('')}`;
}

function inWords({ name, steps }: WrittenWalk): WalkInWords {
  return { name, steps: steps.map(writtenWalkStep) };
}

function walkLines({ name, steps }: WalkInWords): string[] {
  return [`- name: ${flowYaml(name)}`, '  steps:', ...steps.map((step) => `    - ${flowYaml(step)}`)];
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
  const added = walkLines(inWords(walk)).map((line) => `${indent}${line}\n`);
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

/** A value in one line of YAML, whatever text is in it. */
export function flowYaml(value: unknown): string {
  const text = flowOf(value);
  // JSON is YAML, and has a way to write what is not seen.
  return hasUnseen(text) ? visible(JSON.stringify(value)) : text;
}

function flowOf(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(flowOf).join(', ')}]`;
  if (typeof value !== 'object' || value === null) return scalarOf(value);
  const entries = Object.entries(value).filter(([, each]) => each !== undefined);
  if (entries.length === 0) return '{}';
  return `{ ${entries.map(([key, each]) => `${scalarOf(key)}: ${each === null ? '' : flowOf(each)}`).join(', ')} }`;
}

/** A scalar as it stands inside a map or list on one line. */
function scalarOf(value: unknown): string {
  const options = { collectionStyle: 'flow', lineWidth: 0, flowCollectionPadding: false } as const;
  return stringify([value], options).trimEnd().slice(1, -1);
}
