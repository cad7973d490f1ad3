import { parseDocument } from 'yaml';
import type { Diagnostic, Source } from '../core/internal.js';
import { badSource } from './bad-source.js';

/** Reads JSON or YAML of any size that a machine may have written. */
export function readData(source: Source, what: string): { readonly data: unknown } | Diagnostic {
  const text = source.text.replace(/^\uFEFF/, '');
  const remedy = `name ${what}`;
  if (/^\s*[{[]/.test(text)) {
    try {
      return { data: JSON.parse(text) };
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      const at = Number(/position (\d+)/.exec(error.message)?.[1] ?? text.length);
      const isCutOff = at >= text.trimEnd().length || /unterminated/i.test(error.message);
      const says = isCutOff ? 'the file ends in the middle' : 'this is not valid JSON';
      return badSource(source, at, { problem: says, remedy: `${remedy}, whole as it was saved` });
    }
  }
  try {
    const document = parseDocument(text, { uniqueKeys: false, prettyErrors: false, logLevel: 'error' });
    const [fault] = document.errors;
    if (fault !== undefined) {
      return badSource(source, fault.pos[0], { problem: `not valid YAML: ${fault.message}`, remedy });
    }
    return { data: document.toJS({ maxAliasCount: 1000 }) };
  } catch (error) {
    if (!(error instanceof RangeError || error instanceof ReferenceError)) throw error;
    return badSource(source, 0, { problem: 'it nests too deep, or repeats itself without end', remedy });
  }
}
