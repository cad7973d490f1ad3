import { parseDocument, type Document } from 'yaml';
import { LIMITS } from '../core/internal.js';

/** A text of YAML that may be half written; null where it is too long or nests too deep to be looked at. */
export function halfWritten(text: string): Document | null {
  if (text.length > LIMITS.bytes) return null;
  try {
    return parseDocument(text, { logLevel: 'silent', uniqueKeys: false });
  } catch (error) {
    // The parser recurses: what nests thousands deep is more than its stack holds.
    if (error instanceof RangeError) return null;
    throw error;
  }
}
