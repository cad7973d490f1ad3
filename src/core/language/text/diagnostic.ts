import type { Place } from './source.js';

/** error: the input cannot be used, or cannot work. warning: careless. advice: worth a thought. */
export type Severity = 'error' | 'warning' | 'advice';

/** Something to say about an input. It holds no position, excerpt or colour in its message: a renderer adds those. */
export interface Diagnostic {
  /** A stable kebab-case name, the same in every output. */
  readonly code: string;
  readonly severity: Severity;
  readonly message: string;
  /** Where the culprit stands; null when no text of it exists, as for a file that cannot be read. */
  readonly place: Place | null;
  /** Other places that take part, each with what it has to do with it. */
  readonly related: readonly { readonly place: Place; readonly message: string }[];
  /** One action that would mend it; null when none is known. */
  readonly hint: string | null;
  /** What would show it: the request, by whom, and the answer; left out where there is none. */
  readonly shownBy?: string;
}

/** Whether any of the diagnostics forbids using the input. */
export function hasErrors(diagnostics: readonly Diagnostic[]): boolean {
  return diagnostics.some((diagnostic) => diagnostic.severity === 'error');
}

/** Sorts by file as first met, then by offset, so that a report reads from top to bottom. */
export function inReadingOrder(diagnostics: readonly Diagnostic[]): Diagnostic[] {
  const files = [...new Set(diagnostics.map((diagnostic) => diagnostic.place?.source.file ?? ''))];
  const rank = (diagnostic: Diagnostic) => files.indexOf(diagnostic.place?.source.file ?? '');
  return [...diagnostics].sort(
    (a, b) =>
      rank(a) - rank(b) || (a.place?.start ?? 0) - (b.place?.start ?? 0) || (a.code < b.code ? -1 : 1),
  );
}
