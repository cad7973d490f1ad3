/** A value of YAML or JSON. */
export type Plain = string | number | boolean | null | readonly Plain[] | { readonly [key: string]: Plain };

/** What is said beside a line: how it was seen, or that it is guessed and why. */
export interface Beside {
  readonly seen?: string | null;
  /** What makes it a guess; `check` tells of it until the comment is gone. */
  readonly guess?: string | null;
}

/** An entry of a section: of a map where it has a key, of a list where it has none. */
export interface Line extends Beside {
  readonly key: string | null;
  readonly value: Plain;
}

/** A key at the top of a policy. */
export interface Section extends Beside {
  readonly key: string;
  readonly value: Plain | { readonly lines: readonly Line[] };
}

/** A walk in the words of the language. */
export interface DraftedWalk {
  readonly name: string;
  readonly steps: readonly Readonly<Record<string, Plain>>[];
}

/** A first policy, with walks and what could not be taken from the sources. */
export interface Draft {
  readonly sections: readonly Section[];
  readonly walks: readonly DraftedWalk[];
  readonly notes: readonly string[];
}

/** Whether a section has lines of its own. */
export function hasLines(value: Section['value']): value is { readonly lines: readonly Line[] } {
  return typeof value === 'object' && value !== null && 'lines' in value && Array.isArray(value.lines);
}
