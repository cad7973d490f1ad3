import { Lexer } from 'yaml';
import type { Place } from './source.js';
import type { YamlText } from './yaml-text.js';

/** A comment that says that a line is guessed. */
export interface Guess {
  readonly text: string;
  readonly place: Place;
}

const GUESS = /^#\s*guess:\s*(.+)$/i;
/** Marks of the lexer that stand for no text. */
const MARKS = new Set(['\u0002', '\u0018', '\u001f']);

/** The comments of a file that start with `guess:`, as `cavrin draft` writes them. */
export function guessesIn({ source }: Pick<YamlText, 'source'>): Guess[] {
  if (!/#\s*guess:/i.test(source.text)) return [];
  const found: Guess[] = [];
  let at = 0;
  for (const token of new Lexer().lex(source.text)) {
    if (MARKS.has(token)) continue;
    const [, text] = token.startsWith('#') ? (GUESS.exec(token.trimEnd()) ?? []) : [];
    if (text !== undefined) {
      const place = { source, start: at, end: at + token.trimEnd().length };
      found.push({ text, place });
    }
    at += token.length;
  }
  return found;
}
