import { hasUnseen } from './style.js';

/** A value as JSON (RFC 8259) for a file, with what a reader does not see as escapes. */
export function jsonText(value: unknown): string {
  return `${visible(JSON.stringify(value, null, 2))}\n`;
}

/** JSON in which every character is seen: those that are not are written by their code units (RFC 8259 §7). */
export function visible(json: string): string {
  if (!hasUnseen(json.replaceAll('\n', ''))) return json;
  return Array.from(json, (character) =>
    character !== '\n' && hasUnseen(character) ? codeUnits(character) : character,
  ).join('');
}

function codeUnits(character: string): string {
  return Array.from(
    { length: character.length },
    (_, at) => `\\u${character.charCodeAt(at).toString(16).padStart(4, '0')}`,
  ).join('');
}
