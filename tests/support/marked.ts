import { positionOf, sourceOf } from '../../src/core/language/text/source';

/** A text with » before the culprit, and the code and place that should be reported for it. */
export function marked(code: string, text: string): { expected: string; text: string } {
  const at = text.indexOf('»');
  const { line, column } = positionOf(sourceOf('', text), at);
  return { expected: `${code} ${line}:${column}`, text: text.replace('»', '') };
}
