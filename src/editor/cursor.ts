import { isMap, isNode, isPair, isScalar, isSeq, type Node } from 'yaml';
import type { Path } from '../core/internal.js';
import { halfWritten } from './half-written.js';

/** What stands at a place of a YAML text. */
export interface Cursor {
  /** The keys and indexes from the root to the key or value there. */
  readonly path: Path;
  readonly isKey: boolean;
  /** The text of the scalar there; empty where there is none. */
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

/**
 * What stands at an offset of a text, which may be half written.
 *
 * @returns null where nothing stands there that has a place of its own
 */
export function cursorAt(text: string, offset: number): Cursor | null {
  const contents = halfWritten(text)?.contents ?? null;
  return isNode(contents) ? within(contents, [], offset) : null;
}

function within(node: Node, path: Path, offset: number): Cursor | null {
  const inside = (each: unknown): each is Node =>
    isMap(each) || isSeq(each) || isScalar(each) ? holds(each, offset) : false;
  if (isMap(node)) {
    for (const pair of node.items) {
      const key = isScalar(pair.key) ? String(pair.key.value) : '';
      if (inside(pair.key)) return scalarAt(pair.key, [...path, key], true);
      if (inside(pair.value)) return within(pair.value, [...path, key], offset);
    }
    return null;
  }
  if (isSeq(node)) {
    for (const [at, item] of node.items.entries()) {
      if (!isPair(item) && inside(item)) return within(item, [...path, at], offset);
    }
    return null;
  }
  return scalarAt(node, path, false);
}

function scalarAt(node: Node, path: Path, isKey: boolean): Cursor {
  const [start = 0, end = 0] = node.range ?? [];
  const value: unknown = isScalar(node) ? node.value : '';
  const text = ['string', 'number', 'boolean'].includes(typeof value) ? (value as string) : '';
  return { path, isKey, text, start, end };
}

function holds({ range }: Node, offset: number): boolean {
  return range !== undefined && range !== null && offset >= range[0] && offset <= range[1];
}

/**
 * Where something is being written: the path of the map or list that it belongs to, and the key whose value it is.
 * The word that is begun is put in the place of a whole one, since a half-written text has no value there yet.
 */
export function writingAt(
  text: string,
  offset: number,
): { readonly cursor: Cursor; readonly typed: string } | null {
  const typed = /[^\s,[\]{}:"']*$/.exec(text.slice(0, offset))?.[0] ?? '';
  const begun = offset - typed.length;
  const rest = /^[^\s,[\]{}:"']*/.exec(text.slice(offset))?.[0] ?? '';
  const whole = `${text.slice(0, begun)}${STAND_IN}${text.slice(offset + rest.length)}`;
  const cursor = cursorAt(whole, begun + 1) ?? cursorAt(`${whole}:`, begun + 1);
  return cursor === null ? null : { cursor, typed };
}

const STAND_IN = 'xbeingwrittenx';
