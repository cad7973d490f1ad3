import type { DFA, Expression, NFA, NoParent, ReadonlyDFA } from 'refa';
import { END, FIRST, Followed, LAST, START, Table, type RegularLanguage } from './automaton.js';
import { Framing, Unusable, type Engine, type Extent } from './framing.js';
import type { Pattern } from './pattern.js';

/** Beyond so many states an automaton is no longer written out: it is followed without. No rule of a real app comes near. */
const MOST_STATES = 500;
/** More characters than that, once repetitions are written out, no expression may stand for. */
const MOST_POSITIONS = 3_000;
const LONGEST_EXPRESSION = 500;

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
  return languageOf(source);
}

/** The language of an expression that is made here, and so is one. */
export function languageOf(source: string): RegularLanguage {
  const language = compile(source);
  if (typeof language === 'string') throw new Error(`${source}: ${language}`);
  return language;
}

/** All paths in the form that a careful server compares (see `normalisePath`). */
export function normalisedPaths(): RegularLanguage {
  // Unreserved characters are never escaped, and an escaped slash, backslash or NUL is refused.
  const escape = '%(?:0[1-9A-F]|1[0-9A-F]|2[0-9A-C]|3[A-F]|40|5[BDE]|60|7[BCDF]|[89A-F][0-9A-F])';
  const other = `(?:[^#%./?\\\\]|${escape})`;
  const segment = `(?:${other}|\\.${other}|\\.\\.(?:${other}|\\.))(?:${other}|\\.)*`;
  return languageOf(`^/(?:${segment}(?:/${segment})*)?$`);
}

function escaped(text: string): string {
  return text.replace(/[^A-Za-z0-9_]/g, '\\$&');
}

const compiled = new Map<string, RegularLanguage | string>();

function compile(source: string, extent: Extent = 'all'): RegularLanguage | string {
  const key = `${extent} ${source}`;
  let language = compiled.get(key);
  if (language === undefined) {
    if (compiled.size > 5_000) compiled.clear();
    compiled.set(key, (language = build(source, extent)));
  }
  return language;
}

/** How much work an expression is, in characters that it stands for; what every one takes is as much as thirty of them. */
export function sizeOfExpression(source: string): number {
  if (engine === null) throw new Error('loadRegularLanguages() must come first');
  try {
    return EACH + positionsIn(parsedBy(engine, source).expression);
  } catch {
    return EACH;
  }
}

const EACH = 30;

function parsedBy({ JS }: Engine, source: string) {
  return JS.Parser.fromLiteral({ source, flags: 's' }).parse({
    assertions: 'unknown',
    backreferences: 'unknown',
    maxBackreferenceWords: 0,
    maxNodes: 20_000,
  });
}

function build(source: string, extent: Extent): RegularLanguage | string {
  if (engine === null) throw new Error('loadRegularLanguages() must come first');
  const { NFA } = engine;
  try {
    const parsed = parsedBy(engine, source);
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
