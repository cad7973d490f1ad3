import type { CharSet, Concatenation, DFA, Element, Expression, NoParent, ReadonlyDFA } from 'refa';
import type * as refa from 'refa';
import type { Pattern } from './pattern.js';

/**
 * A set of paths as a finite automaton that reads one character after the other. Matching takes time in proportion to
 * the path, whatever the expression was, so that no costly one can hold the program up.
 */
export interface RegularLanguage {
  /** The class of each ASCII character; characters of one class are never told apart. */
  readonly classOf: Uint8Array;
  readonly classes: number;
  /** The state after a state and a class, at `state * classes + class`; -1 where nothing can follow any more. */
  readonly next: Int32Array;
  readonly accepting: readonly boolean[];
}

/** Larger automata are refused: no rule of a real app comes near. */
const MOST_STATES = 2_000;
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

/** Whether a path is in a language. */
export function accepts(language: RegularLanguage, path: string): boolean {
  const { classOf, classes, next, accepting } = language;
  let state = 0;
  for (let at = 0; at < path.length; at++) {
    const unit = path.charCodeAt(at);
    if (unit > LAST) return false;
    state = next[state * classes + (classOf[unit] ?? 0)] ?? -1;
    if (state < 0) return false;
  }
  return accepting[state] === true;
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
  const { JS, NFA, DFA } = engine;
  try {
    const parsed = JS.Parser.fromLiteral({ source, flags: 's' }).parse({
      assertions: 'unknown',
      backreferences: 'unknown',
      maxBackreferenceWords: 0,
      maxNodes: 20_000,
    });
    const framing = new Framing(engine);
    const options = { maxCharacter: parsed.maxCharacter };
    const limited = () => new NFA.LimitedNodeFactory(MOST_STATES * 10);
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
    const dfa = DFA.fromFA(framed, new DFA.LimitedNodeFactory(MOST_STATES));
    dfa.minimize();
    return unframed(dfa);
  } catch (error) {
    return error instanceof Unusable ? error.message : wordsOf(error);
  }
}

/** What keeps an expression from being used, in words for its author. */
class Unusable extends Error {}

function wordsOf(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error);
  if (/max(imum)? .*nodes|too many nodes|not allowed to create more/i.test(message)) {
    return 'it is too large: a simpler one would do';
  }
  const said = /Invalid regular expression: .*: (.*)$/.exec(message)?.[1];
  return said === undefined ? `it cannot be understood: ${message}` : `it is no regular expression: ${said}`;
}

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
      if (sets.length >= MOST_STATES) throw new Unusable('it is too large: a simpler one would do');
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
  return { classOf, classes: members.length, next, accepting };
}
