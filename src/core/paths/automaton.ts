import type { CharSet, NFA } from 'refa';

/**
 * A set of paths as a finite automaton that reads one character after the other, beginning in state 0. Matching takes time in
 * proportion to the path, whatever the expression was, so that no costly one can hold the program up.
 */
export interface RegularLanguage {
  /** The class of each ASCII character; characters of one class are never told apart. */
  readonly classOf: Uint8Array;
  /** The state after a state and a character; -1 where nothing can follow any more. */
  step(state: number, unit: number): number;
  isAccepting(state: number): boolean;
  /** Whether a path is in the language. */
  has(path: string): boolean;
  /** What a step costs, counted in steps of an automaton that is written out. */
  readonly cost: number;
}

// A path is framed by marks that stand in for ^ and $, so that these become characters like any other.
export const START = 1;
export const END = 2;
export const FIRST = 0x21;
export const LAST = 0x7e;

/** An automaton whose states are all written out. */
export class Table implements RegularLanguage {
  readonly cost = 1;

  /**
   * @param next the state after a state and a class, at `state * classes + class`
   */
  constructor(
    readonly classOf: Uint8Array,
    private readonly classes: number,
    private readonly next: Int32Array,
    private readonly accepting: readonly boolean[],
  ) {}

  step(state: number, unit: number): number {
    return this.next[state * this.classes + (this.classOf[unit] ?? 0)] ?? -1;
  }

  isAccepting(state: number): boolean {
    return this.accepting[state] === true;
  }

  has(path: string): boolean {
    let state = 0;
    for (let at = 0; at < path.length; at++) {
      const unit = path.charCodeAt(at);
      if (unit > LAST) return false;
      state = this.step(state, unit);
      if (state < 0) return false;
    }
    return this.isAccepting(state);
  }
}

/**
 * An automaton that is in several states at once: to write out which would take more room than its expression is worth. A
 * path is followed through all of them, so that matching takes time in proportion to the path and to the expression.
 */
export class Followed implements RegularLanguage {
  readonly cost = 30;
  readonly classOf: Uint8Array;
  private readonly edges: readonly (readonly { readonly to: number; readonly characters: CharSet }[])[];
  private readonly ends: readonly boolean[];
  /** Sets of states that were met by `step`, by their numbers, and the numbers by their texts. */
  private readonly sets: Uint32Array[] = [];
  private readonly numbers = new Map<string, number>();

  constructor(automaton: NFA) {
    const nodes = [...automaton.nodes()];
    const numberOf = new Map(nodes.map((node, at) => [node, at]));
    this.edges = nodes.map((node) =>
      Array.from(node.out, ([to, characters]) => ({ to: numberOf.get(to) ?? 0, characters })),
    );
    this.ends = this.reaching(
      END,
      nodes.map((node) => automaton.finals.has(node)),
    );
    this.classOf = this.classes();
    const first = new Set([numberOf.get(automaton.initial) ?? 0]);
    for (const at of first) {
      for (const { to, characters } of this.edges[at] ?? []) if (characters.has(START)) first.add(to);
    }
    this.number(Uint32Array.from(first));
  }

  step(state: number, unit: number): number {
    const after = this.after(this.sets[state] ?? new Uint32Array(), unit);
    return after.length === 0 ? -1 : this.number(after);
  }

  isAccepting(state: number): boolean {
    return this.accepts(this.sets[state] ?? new Uint32Array());
  }

  has(path: string): boolean {
    let states = this.sets[0] ?? new Uint32Array();
    for (let at = 0; at < path.length && states.length > 0; at++) {
      const unit = path.charCodeAt(at);
      if (unit > LAST) return false;
      states = this.after(states, unit);
    }
    return this.accepts(states);
  }

  private accepts(states: Uint32Array): boolean {
    return states.some((at) => this.ends[at] === true);
  }

  private after(states: Uint32Array, unit: number): Uint32Array {
    const reached = new Set<number>();
    for (const at of states) {
      for (const { to, characters } of this.edges[at] ?? []) if (characters.has(unit)) reached.add(to);
    }
    return Uint32Array.from(reached).sort();
  }

  private number(states: Uint32Array): number {
    const key = states.join();
    let number = this.numbers.get(key);
    if (number === undefined) {
      this.numbers.set(key, (number = this.sets.length));
      this.sets.push(states);
    }
    return number;
  }

  /** From which states one of some can be reached by nothing but a mark. */
  private reaching(mark: number, ends: readonly boolean[]): boolean[] {
    const known = [...ends];
    for (let hasGrown = true; hasGrown;) {
      hasGrown = false;
      this.edges.forEach((edges, at) => {
        if (known[at] === true) return;
        if (!edges.some(({ to, characters }) => known[to] === true && characters.has(mark))) return;
        known[at] = true;
        hasGrown = true;
      });
    }
    return known;
  }

  /** Characters that no edge tells apart are of one class. */
  private classes(): Uint8Array {
    const all = [...new Set(this.edges.flat().map(({ characters }) => characters))];
    const classOf = new Uint8Array(128);
    const known = new Map<string, number>();
    for (let unit = FIRST; unit <= LAST; unit++) {
      const key = all.map((characters) => Number(characters.has(unit))).join('');
      const number = known.get(key) ?? known.size;
      known.set(key, number);
      classOf[unit] = number;
    }
    return classOf;
  }
}
