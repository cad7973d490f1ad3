import type { Diagnostic } from './diagnostic.js';

/** What a reader can take in of one kind; the rest is counted. */
const MOST_OF_A_KIND = 50;

/** Of each kind of diagnostic only the first, with the count of the others. */
export class Capped {
  private readonly kinds = new Map<string, { readonly shown: Diagnostic[]; left: number }>();

  add(diagnostic: Diagnostic): void {
    const kind = this.kinds.get(diagnostic.code);
    if (kind === undefined) this.kinds.set(diagnostic.code, { shown: [diagnostic], left: 0 });
    else if (kind.shown.length < MOST_OF_A_KIND) kind.shown.push(diagnostic);
    else kind.left += 1;
  }

  /** All that is to be told. */
  get diagnostics(): Diagnostic[] {
    return [...this.kinds].flatMap(([code, { shown, left }]) => {
      const [first] = shown;
      if (left === 0 || first === undefined) return shown;
      const message = `${left} more of this kind ${left === 1 ? 'is' : 'are'} left out`;
      const rest = { code, severity: first.severity, message, place: null, related: [], hint: null };
      return [...shown, rest];
    });
  }
}
