import type { CharSet, Concatenation, DFA, Element, Expression, NFA, NoParent, ReadonlyDFA } from 'refa';
import type * as refa from 'refa';
import type { Pattern } from './pattern.js';

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

/** Beyond so many states an automaton is no longer written out: it is followed without. No rule of a real app comes near. */
const MOST_STATES = 500;
/** More characters than that, once repetitions are written out, no expression may stand for. */
const MOST_POSITIONS = 3_000;
const LONGEST_EXPRESSION = 500;
/** So many characters beyond ASCII an expression can name one by one or as a range. */
const MOST_BEYOND_ASCII = 500;

// A path is framed by marks that stand in for ^ and $, so that these become characters like any other.
const START = 1;
const END = 2;
const FIRST = 0x21;
const LAST = 0x7e;

type Engine = typeof refa;
let engine: Engine | null = null;

/** Loads the library behind regular expressions. It is large, so only policies that have any ask for it. */
export async function loadRegularLanguages(): Promise<void> {
  engine ??= await import('refa');
}

/**
 * The paths in which a regular expression in JavaScript's syntax finds a match, anywhere unless ^ and $ say otherwise;
 * a sentence on what is wrong where it cannot be used. Only real regular expressions can: no look-around, no word
 * boundaries, no back references.
 *
 * @example languageOfExpression('^/(new|create)$')
 */
export function languageOfExpression(source: string): RegularLanguage | string {
  if (source.length > LONGEST_EXPRESSION) return `it is longer than ${LONGEST_EXPRESSION} characters`;
  return compile(source);
}

/**
 * Of the paths in which an expression finds a match, those where some match ends where a segment does: all of them for a
 * careful expression.
 */
export function languageOfWholeSegments(source: string): RegularLanguage | string {
  return compile(source, 'whole segments');
}

/** The paths that a pattern matches. */
export function languageOfPattern(pattern: Pattern): RegularLanguage {
  const segments = pattern.segments.map(
    (segment) => `/${segment.kind === 'literal' ? escaped(segment.text) : '[^/]+'}`,
  );
  const rest = segments.length === 0 ? '/.*' : '(?:/.*)?';
  const source = pattern.tail ? `^${segments.join('')}${rest}$` : `^${segments.join('') || '/'}$`;
  const compiled = compile(source);
  if (typeof compiled === 'string') throw new Error(`${pattern.text}: ${compiled}`);
  return compiled;
}

/** All paths in the form that a careful server compares (see `normalisePath`). */
export function normalisedPaths(): RegularLanguage {
  // Unreserved characters are never escaped, and an escaped slash, backslash or NUL is refused.
  const escape = '%(?:0[1-9A-F]|1[0-9A-F]|2[0-9A-C]|3[A-F]|40|5[BDE]|60|7[BCDF]|[89A-F][0-9A-F])';
  const other = `(?:[^#%./?\\\\]|${escape})`;
  const segment = `(?:${other}|\\.${other}|\\.\\.(?:${other}|\\.))(?:${other}|\\.)*`;
  const compiled = compile(`^/(?:${segment}(?:/${segment})*)?$`);
  if (typeof compiled === 'string') throw new Error(compiled);
  return compiled;
}

/** An automaton whose states are all written out. */
class Table implements RegularLanguage {
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
class Followed implements RegularLanguage {
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

function escaped(text: string): string {
  return text.replace(/[^A-Za-z0-9_]/g, '\\$&');
}

const compiled = new Map<string, RegularLanguage | string>();

type Extent = 'all' | 'whole segments';

function compile(source: string, extent: Extent = 'all'): RegularLanguage | string {
  const key = `${extent} ${source}`;
  let language = compiled.get(key);
  if (language === undefined) {
    if (compiled.size > 5_000) compiled.clear();
    compiled.set(key, (language = build(source, extent)));
  }
  return language;
}

function build(source: string, extent: Extent): RegularLanguage | string {
  if (engine === null) throw new Error('loadRegularLanguages() must come first');
  const { JS, NFA } = engine;
  try {
    const parsed = JS.Parser.fromLiteral({ source, flags: 's' }).parse({
      assertions: 'unknown',
      backreferences: 'unknown',
      maxBackreferenceWords: 0,
      maxNodes: 20_000,
    });
    if (positionsIn(parsed.expression) > MOST_POSITIONS) return TOO_LARGE;
    const framing = new Framing(engine);
    const options = { maxCharacter: parsed.maxCharacter };
    const limited = () => new NFA.LimitedNodeFactory(MOST_POSITIONS * 4);
    const nfa = (part: NoParent<Expression>) => NFA.fromRegex(part, options, {}, limited());
    const found = nfa(framing.search(parsed.expression, extent));
    if (extent === 'whole segments') {
      const slashed = NFA.fromIntersection(
        nfa(framing.upTo(parsed.expression)),
        nfa(framing.slashed()),
        limited(),
      );
      slashed.append(nfa(framing.rest()));
      found.union(slashed);
    }
    const framed = NFA.fromIntersection(found, nfa(framing.frame()), limited());
    return writtenOut(engine, framed) ?? new Followed(framed);
  } catch (error) {
    return error instanceof Unusable ? error.message : wordsOf(error);
  }
}

/** An automaton with all its states; null where these are too many. */
function writtenOut({ DFA }: Engine, framed: NFA): RegularLanguage | null {
  try {
    const dfa = DFA.fromFA(framed, new DFA.LimitedNodeFactory(MOST_STATES));
    dfa.minimize();
    return unframed(dfa);
  } catch (error) {
    if (isTooLarge(error)) return null;
    throw error;
  }
}

/** How many characters an expression stands for with its repetitions written out. */
function positionsIn({ alternatives }: NoParent<Pick<Expression, 'alternatives'>>): number {
  const elements = alternatives.flatMap((each) => each.elements);
  return elements.reduce((sum, element) => {
    if (element.type === 'CharacterClass') return sum + 1;
    if (element.type === 'Alternation') return sum + positionsIn(element);
    if (element.type !== 'Quantifier') return sum;
    const times = Number.isFinite(element.max) ? element.max : element.min + 1;
    return sum + Math.max(1, times) * positionsIn(element);
  }, 0);
}

const TOO_LARGE = 'it is too large: a simpler one would do';

/** What keeps an expression from being used, in words for its author. */
class Unusable extends Error {}

function wordsOf(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error);
  if (isTooLarge(error)) return TOO_LARGE;
  const said = /Invalid regular expression: .*: (.*)$/.exec(message)?.[1];
  return said === undefined ? `it cannot be understood: ${message}` : `it is no regular expression: ${said}`;
}

function isTooLarge(error: unknown): boolean {
  if (error instanceof TooManyStates) return true;
  const message = error instanceof Error ? error.message : '';
  return /max(imum)? .*nodes|too many nodes|not allowed to create more/i.test(message);
}

/** A library of automata stops of its own accord; this does where it is ours that grows. */
class TooManyStates extends Error {}

/**
 * Puts an expression between marks. `^` and `$` look at a place without reading it, so each mark may stand there any
 * number of times, once for every look.
 */
class Framing {
  constructor(private readonly library: Engine) {}

  /** Whatever a search with the expression finds in a path between marks; a match may have to end with a segment. */
  search(expression: NoParent<Expression>, extent: Extent): NoParent<Expression> {
    const slash = 0x2f;
    const ends = [this.set(slash, slash), this.set(END, END)].reduce((one, other) => one.union(other));
    const boundary = extent === 'all' ? [] : [this.characters(ends)];
    return this.expression(this.before(), this.matched(expression), ...boundary, this.after());
  }

  /** A path between marks as far as a match of the expression reaches. */
  upTo(expression: NoParent<Expression>): NoParent<Expression> {
    return this.expression(this.before(), this.matched(expression));
  }

  /** Whatever ends in a slash. */
  slashed(): NoParent<Expression> {
    return this.expression(this.before(), this.characters(this.set(0x2f, 0x2f)));
  }

  /** What may follow a match. */
  rest(): NoParent<Expression> {
    return this.expression(this.after());
  }

  /** All paths between marks. */
  frame(): NoParent<Expression> {
    const parts = [this.set(START, START), this.set(FIRST, LAST), this.set(END, END)];
    return this.expression(...parts.map((set) => this.many(set)));
  }

  private before(): NoParent<Element> {
    return this.many(this.set(FIRST, LAST).union(this.set(START, START)));
  }

  private after(): NoParent<Element> {
    return this.many(this.set(FIRST, LAST).union(this.set(END, END)));
  }

  private matched(expression: NoParent<Expression>): NoParent<Element> {
    const alternatives = expression.alternatives.map((each) => this.concatenation(each));
    return { type: 'Alternation', alternatives };
  }

  private expression(...elements: NoParent<Element>[]): NoParent<Expression> {
    return { type: 'Expression', alternatives: [{ type: 'Concatenation', elements }] };
  }

  private concatenation({ elements }: NoParent<Concatenation>): NoParent<Concatenation> {
    return { type: 'Concatenation', elements: elements.map((element) => this.element(element)) };
  }

  /** Depth is that of the expression's brackets, which its length limits. */
  private element(element: NoParent<Element>): NoParent<Element> {
    switch (element.type) {
      case 'CharacterClass':
        return this.inPaths(element.characters);
      case 'Alternation':
      case 'Quantifier':
        return { ...element, alternatives: element.alternatives.map((each) => this.concatenation(each)) };
      case 'Unknown':
        if (element.id === '^' || element.id === '$') {
          const mark = element.id === '^' ? START : END;
          return this.characters(this.set(mark, mark));
        }
        throw new Unusable(
          `${element.id} in it cannot be used: write what it stands for without looking around`,
        );
      case 'Assertion':
        throw new Unusable('looking around in it cannot be used');
    }
  }

  /**
   * What stands for characters in a normalised path: those beyond ASCII are their bytes in UTF-8, percent-encoded (RFC 3986
   * §2.5). Sets of very many such characters, as that of the dot, mean characters of the path as it is.
   */
  private inPaths(characters: CharSet): NoParent<Element> {
    const plain = this.characters(characters.intersect(this.set(FIRST, LAST)));
    const beyond = characters.intersect(this.set(LAST + 2, 0xffff));
    if (beyond.isEmpty || beyond.size > MOST_BEYOND_ASCII) return plain;
    if (!beyond.isDisjointWith(this.set(0xd800, 0xdfff))) {
      throw new Unusable(
        'a character beyond U+FFFF in it cannot be used: write its bytes, such as %F0%9F%9A%A2',
      );
    }
    const encoded = beyond.ranges.flatMap(({ min, max }) =>
      Array.from({ length: max - min + 1 }, (_, at) => encodeURIComponent(String.fromCharCode(min + at))),
    );
    const alternatives = encoded.map((text) => ({
      type: 'Concatenation' as const,
      elements: Array.from(text, (_, at) =>
        this.characters(this.set(text.charCodeAt(at), text.charCodeAt(at))),
      ),
    }));
    return {
      type: 'Alternation',
      alternatives: [{ type: 'Concatenation', elements: [plain] }, ...alternatives],
    };
  }

  private characters(characters: CharSet): NoParent<Element> {
    return { type: 'CharacterClass', characters };
  }

  private many(set: CharSet): NoParent<Element> {
    const alternatives = [{ type: 'Concatenation' as const, elements: [this.characters(set)] }];
    return { type: 'Quantifier', min: 0, max: Infinity, lazy: false, alternatives };
  }

  private set(min: number, max: number): CharSet {
    return this.library.CharSet.empty(0xffff).union([{ min, max }]);
  }
}

/** The automaton of a framed language without its marks: those are passed over in silence. */
function unframed(dfa: ReadonlyDFA): RegularLanguage {
  const starts: DFA.ReadonlyNode[] = [];
  const behind = (node: DFA.ReadonlyNode, mark: number) => node.out.get(mark);
  for (let node: DFA.ReadonlyNode | undefined = dfa.initial; node && !starts.includes(node);) {
    starts.push(node);
    node = behind(node, START);
  }
  const isFinal = (start: DFA.ReadonlyNode): boolean => {
    const seen = new Set<DFA.ReadonlyNode>();
    for (let node: DFA.ReadonlyNode | undefined = start; node && !seen.has(node); node = behind(node, END)) {
      if (dfa.finals.has(node)) return true;
      seen.add(node);
    }
    return false;
  };
  return determine(starts, isFinal);
}

/** Makes one state of every set of nodes that can be reached together (the powerset construction). */
function determine(
  starts: readonly DFA.ReadonlyNode[],
  isFinal: (node: DFA.ReadonlyNode) => boolean,
): RegularLanguage {
  const numbers = new Map<DFA.ReadonlyNode, number>();
  const keyOf = (nodes: ReadonlySet<DFA.ReadonlyNode>) =>
    [...nodes]
      .map((node) => numbers.get(node) ?? (numbers.set(node, numbers.size), numbers.size - 1))
      .sort((a, b) => a - b)
      .join(' ');
  const first = new Set(starts);
  const sets = [first];
  const known = new Map([[keyOf(first), 0]]);
  const columns: number[][] = [];
  for (const nodes of sets) {
    const row: number[] = [];
    for (let unit = FIRST; unit <= LAST; unit++) {
      const after = new Set<DFA.ReadonlyNode>();
      for (const node of nodes) {
        const reached = node.out.get(unit);
        if (reached !== undefined) after.add(reached);
      }
      row.push(after.size === 0 ? -1 : numberOf(after));
    }
    columns.push(row);
  }
  return pack(
    columns,
    sets.map((nodes) => [...nodes].some(isFinal)),
  );

  function numberOf(nodes: Set<DFA.ReadonlyNode>): number {
    const key = keyOf(nodes);
    let number = known.get(key);
    if (number === undefined) {
      if (sets.length >= MOST_STATES) throw new TooManyStates();
      known.set(key, (number = sets.length));
      sets.push(nodes);
    }
    return number;
  }
}

/** Joins the characters that no state tells apart into classes. */
function pack(rows: readonly (readonly number[])[], accepting: readonly boolean[]): RegularLanguage {
  const classOf = new Uint8Array(128);
  const classes = new Map<string, number>();
  const members: number[] = [];
  for (let unit = FIRST; unit <= LAST; unit++) {
    const column = rows.map((row) => row[unit - FIRST]).join(' ');
    let number = classes.get(column);
    if (number === undefined) {
      classes.set(column, (number = classes.size));
      members.push(unit);
    }
    classOf[unit] = number;
  }
  const next = new Int32Array(rows.length * members.length);
  rows.forEach((row, state) => {
    members.forEach((unit, at) => {
      next[state * members.length + at] = row[unit - FIRST] ?? -1;
    });
  });
  return new Table(classOf, members.length, next, accepting);
}
