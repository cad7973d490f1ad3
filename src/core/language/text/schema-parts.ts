import * as z from 'zod';
import { parseDuration } from '../../time/duration.js';

// A policy is read once: code that Zod makes for a schema costs more than it saves, at 10,000 pages too.
z.config({ jitless: true });

/** The keys of every section by its label; `issues.ts` finds the label as the message of an issue about unknown keys. */
export const SECTIONS = new Map<
  string,
  { readonly keys: readonly string[]; readonly groups: KeyGroups | null }
>();

/** The keys of a section that has so many that they are told apart by what they are for. */
export type KeyGroups = readonly { readonly what: string; readonly keys: readonly string[] }[];

/** A map with fixed keys. Its label names it in messages. */
export function section<Shape extends z.ZodRawShape>(
  label: string,
  shape: Shape,
  groups: KeyGroups | null = null,
) {
  if (SECTIONS.has(label)) throw new Error(`two sections are called ${label}`);
  SECTIONS.set(label, { keys: Object.keys(shape), groups });
  return z.strictObject(shape, {
    error: (issue) => (issue.code === 'unrecognized_keys' ? label : `${label}, a map of keys and values`),
  });
}

/** Text; `expected` says in messages what it should have been. */
export const text = (expected: string) =>
  z.string({ error: expected }).min(1, { error: `${expected} cannot be empty` });

/** true or false. */
export const flag = z.boolean({ error: 'true or false' });

/** One of some words. */
export const choice = <const Words extends readonly [string, ...string[]]>(words: Words) =>
  z.enum(words, { error: wordList(words) });

/** `a, b or c`, or with another word before the last. */
export function wordList(words: readonly string[], last = 'or'): string {
  if (words.length === 1) return words[0] ?? '';
  return `${words.slice(0, -1).join(', ')} ${last} ${words.at(-1) ?? ''}`;
}

/** A list with at least one entry. */
export const listOf = <Item extends z.ZodType>(expected: string, item: Item) =>
  z.array(item, { error: expected }).min(1, { error: `${expected} cannot be empty` });

/** One item or a list of them; always gives a list. */
export const oneOrMore = <Item extends z.ZodType>(expected: string, item: Item) =>
  z
    .union([item, listOf(expected, item)], { error: expected })
    // The item itself is no list wherever this is used, so that a list is one of items.
    .transform((value) => (Array.isArray(value) ? value : [value]) as z.output<Item>[]);

/** A map with free keys. */
export const mapOf = <Value extends z.ZodType>(expected: string, value: Value) =>
  z.record(z.string(), value, { error: expected });

/** What an editor can tell of a duration. */
const DURATION = {
  pattern: '^(?=.)(\\d+d)?(\\d+h)?(\\d+m)?(\\d+s)?$',
  examples: ['45s', '30m', '8h', '14d', '1h30m'],
};

/** A duration in seconds. With `least` 1 it must be longer than nothing. */
export const duration = (least: 0 | 1 = 1) =>
  z
    .string({ error: 'a duration such as 45s, 30m or 1h30m' })
    .meta(DURATION)
    .transform((value, context) => {
      const seconds = parseDuration(value);
      if (typeof seconds === 'number' && seconds >= least) return seconds;
      const isDeadline = /-(?:idle|absolute|expiry|pause)$/.test(value);
      const message = isDeadline
        ? `a deadline is waited for as { past: ${value} } or { short-of: ${value} }`
        : typeof seconds === 'string'
          ? seconds
          : 'a duration of nothing means no time at all';
      context.addIssue({ code: 'custom', message });
      return z.NEVER;
    });
