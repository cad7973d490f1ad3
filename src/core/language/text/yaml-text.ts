import {
  Composer,
  type CST,
  type Document,
  Lexer,
  type Node,
  type Pair,
  Parser,
  type YAMLMap,
  YAMLParseError,
  isAlias,
  isMap,
  isNode,
  isScalar,
  isSeq,
} from 'yaml';
import { problem, type Report } from './problems.js';
import type { Diagnostic } from './diagnostic.js';
import type { Place, Source } from './source.js';

/** Keys and indexes from the root of a document to one of its values. */
export type Path = readonly (string | number)[];

/** A YAML 1.2 text read into plain values, and the way back from a value to its place. */
export interface YamlText {
  readonly source: Source;
  /** Maps become objects without a prototype. */
  readonly value: unknown;
  /** The place of the value at a path, or of the nearest parent that exists. */
  placeOf(path: Path): Place;
  /** The place of a key of the map at a path. */
  placeOfKey(path: Path, key: string): Place;
}

/** Whether a text has a value at a path itself: what has none is so by default. */
export function isWritten(path: Path, { value }: YamlText): boolean {
  let here = value;
  for (const key of path) {
    if (typeof here !== 'object' || here === null || !Object.hasOwn(here, key)) return false;
    here = (here as Readonly<Record<string | number, unknown>>)[key];
  }
  return true;
}

/** What a file may hold at most. Generous for people, deadly for bombs. */
export const LIMITS = { bytes: 2 * 1024 * 1024, depth: 40, values: 300_000, tokens: 300_000 } as const;

/**
 * Reads YAML 1.2 (and so JSON) that may come from anybody. Syntax errors, duplicate keys, explosive aliases, excessive
 * depth and keys that are no text are reported; the result is null when the text cannot be used.
 */
export function readYaml(source: Source, report: Report): YamlText | null {
  if (source.text.length > LIMITS.bytes) {
    report(problem('too-large', { mebibytes: LIMITS.bytes / 1024 / 1024 }, { source, start: 0, end: 0 }));
    return null;
  }
  const control = FORBIDDEN_CONTROL.exec(source.text);
  if (control !== null) {
    const place = { source, start: control.index, end: control.index + 1 };
    report(problem('control-character', { code: control[0].charCodeAt(0) }, place));
    return null;
  }
  const deep = tooDeepAt(source.text);
  if (deep !== null) {
    report(problem('too-deep', { depth: LIMITS.depth }, { source, start: deep, end: deep + 1 }));
    return null;
  }
  const document = parsed(source);
  if (!('contents' in document)) {
    report(document);
    return null;
  }
  const faults = causesOf([...document.errors, ...document.warnings]);
  for (const fault of faults.slice(0, 20)) {
    const place = { source, start: fault.pos[0], end: Math.max(fault.pos[1], fault.pos[0] + 1) };
    report(problem('yaml-syntax', { problem: sayingOf(fault) }, place));
  }
  if (faults.length > 0) return null;
  const converter = new Converter(source, report);
  const value = converter.convert(document.contents);
  if (converter.failed) return null;
  return {
    source,
    value,
    placeOf: (path) => {
      const { key, node } = locate(document, path, converter.targets);
      return placeOfNode(source, key !== null && isBlock(node) ? key : node);
    },
    placeOfKey: (path, key) => {
      const { node } = locate(document, path, converter.targets);
      return placeOfNode(source, pairOf(follow(node, converter.targets), key)?.key ?? node);
    },
  };
}

/** The tree of a text, or what is too much in it. */
function parsed(source: Source): Document | Diagnostic {
  const composer = new Composer({
    version: '1.2',
    // The library compares each key with each other; `Converter` looks for duplicates in one pass.
    uniqueKeys: false,
    prettyErrors: false,
    logLevel: 'error',
  });
  try {
    const [document, more] = composer.compose(partsOf(source), true, source.text.length);
    if (document === undefined) throw new Error('a text without a document');
    if (more !== undefined) document.errors.push(new YAMLParseError(startOf(more), 'MULTIPLE_DOCS', ''));
    return document;
  } catch (error) {
    if (error instanceof TooMuch) return error.diagnostic;
    // It nests so deep, in ways that show only when it is parsed, that the parser gives up and cannot tell where.
    if (error instanceof RangeError) {
      return problem('too-deep', { depth: LIMITS.depth }, { source, start: 0, end: 1 });
    }
    throw error;
  }
}

function startOf({ range }: Document): [number, number] {
  const [start = 0, end = 0] = range ?? [];
  return [start, end];
}

/** The parts that the library's parser makes of the tokens of its lexer, which are looked at on their way. */
function* partsOf(source: Source): Generator<CST.Token> {
  const parser = new Parser();
  for (const token of tokensOf(source)) yield* parser.next(token);
  yield* parser.end();
}

/** Faults that the library words for those who program with it. */
const SAYINGS: Partial<Record<string, string>> = {
  MULTIPLE_DOCS: 'a file holds one document, without a line --- inside',
  TAB_AS_INDENT: 'a tab indents this line; indent with spaces only',
  BAD_INDENT: 'this line starts at another column than the rest of its map or list; indent it as they are',
};

function sayingOf({ code, message }: { readonly code: string; readonly message: string }): string {
  if (message.includes('flow-map-start at node end')) {
    return 'a brace within a map on one line begins another map; put a text with braces in quotes';
  }
  return SAYINGS[code] ?? message;
}

/** Faults of indentation make the parser stumble over what follows: of those that come after one only others like it are told. */
function causesOf<Fault extends { readonly code: string; readonly pos: readonly [number, number] }>(
  faults: readonly Fault[],
): readonly Fault[] {
  const causes = faults.filter(({ code }) => code === 'TAB_AS_INDENT' || code === 'BAD_INDENT');
  const first = new Map<string, Fault>();
  for (const cause of causes) if (!first.has(cause.code)) first.set(cause.code, cause);
  return first.size === 0 ? faults : [...first.values()].sort((a, b) => a.pos[0] - b.pos[0]);
}

// YAML 1.2 §5.1 allows tab, line breaks and printable characters only.
// eslint-disable-next-line no-control-regex
const FORBIDDEN_CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/;

/** The offset at which a text nests deeper by lines than any policy does, judged before parsing because the parser recurses. */
function tooDeepAt(text: string): number | null {
  // Block collections nest by indentation, or by dashes and question marks on one line.
  const deepLine = /^[ \t]*(?:[-?:][ \t]+){41}|^ {400}[^\s#]/m.exec(text);
  return deepLine === null ? null : deepLine.index + deepLine[0].length - 1;
}

/** Faults of form after which a text is given up: the library would list them all, whatever that costs. */
const MOST_FAULTS = 20;
const BAD_ESCAPE = /\\[^0abt\tnvfre "/\\N_LPxuU\r\n]/g;

/** What the lexer gives for the start of a document, of a plain text and so on, which stands for nothing in the text. */
const LEXER_MARKS: ReadonlySet<string> = new Set(['\u0002', '\u0018', '\u001f']);

/** That a text is given up in the middle. */
class TooMuch extends Error {
  constructor(readonly diagnostic: Diagnostic) {
    super(diagnostic.message);
  }
}

/**
 * The tokens of a text.
 *
 * @throws TooMuch for far more of them than any policy has, or faults by the thousand
 */
function* tokensOf(source: Source): Generator<string> {
  let [tokens, at, faults, directives, depth, comes] = [0, 0, 0, 0, 0, ''];
  const here = () => ({ source, start: at, end: at + 1 });
  const tooMuch = (code: keyof typeof GIVEN_UP) =>
    new TooMuch(problem('yaml-syntax', { problem: GIVEN_UP[code] }, here()));
  for (const token of new Lexer().lex(source.text)) {
    tokens += 1;
    if (tokens > LIMITS.tokens) {
      throw new TooMuch(problem('too-many-parts', { parts: LIMITS.tokens }, here()));
    }
    if (token === '[' || token === '{') depth += 1;
    else if (token === ']' || token === '}') depth -= depth > 0 ? 1 : 0;
    // The parser recurses.
    if (depth > LIMITS.depth * 2) throw new TooMuch(problem('too-deep', { depth: LIMITS.depth }, here()));
    if (token.startsWith('"') && token.length > MOST_FAULTS) {
      if ((token.match(BAD_ESCAPE)?.length ?? 0) > MOST_FAULTS) throw tooMuch('escapes');
    }
    if (token === ',' && (comes === ',' || comes === '[' || comes === '{')) faults += 1;
    if (faults > MOST_FAULTS) throw tooMuch('commas');
    // A text of its own may begin so too, and then has its mark before it.
    if (token.startsWith('%') && !LEXER_MARKS.has(comes)) directives += 1;
    if (directives > MOST_FAULTS) throw tooMuch('directives');
    // Marks of the lexer that stand for no text.
    if (!LEXER_MARKS.has(token)) at += token.length;
    if (!/^[ \t\r\n]/.test(token)) comes = token;
    yield token;
  }
}

const GIVEN_UP = {
  escapes: 'escapes that YAML does not know',
  commas: 'commas with nothing between them',
  directives: 'lines that begin with a percent sign; only %YAML and %TAG may stand before a document',
} as const;

/** What aliases stand for. */
type Targets = WeakMap<object, Node>;

/** Turns the tree into plain values in one pass, with its own limits and its own look for duplicate keys. */
class Converter {
  failed = false;
  /** The library would look for the target of each alias through the whole document. */
  readonly targets: Targets = new WeakMap();
  private readonly anchors = new Map<string, Node>();
  private values = 0;

  constructor(
    private readonly source: Source,
    private readonly report: Report,
  ) {}

  convert(node: unknown, depth = 0): unknown {
    if (this.failed) return null;
    if (++this.values > LIMITS.values) {
      return this.giveUp(problem('too-many-values', { values: LIMITS.values }, this.placeOf(node)));
    }
    if (depth > LIMITS.depth) {
      return this.giveUp(problem('too-deep', { depth: LIMITS.depth }, this.placeOf(node)));
    }
    if (isAlias(node)) {
      const target = this.targets.get(node) ?? this.anchors.get(node.source);
      if (target === undefined) {
        return this.note(problem('unknown-anchor', { name: node.source }, this.placeOf(node)));
      }
      this.targets.set(node, target);
      return this.convert(target, depth + 1);
    }
    this.anchor(node);
    if (isSeq(node)) return node.items.map((item) => this.convert(item, depth + 1));
    if (isMap(node)) return this.convertMap(node, depth);
    return isScalar(node) ? node.value : null;
  }

  private convertMap(map: YAMLMap, depth: number): unknown {
    // Without a prototype no key of the text means anything of its own.
    const result = Object.create(null) as Record<string, unknown>;
    const firstKeys = new Map<string, unknown>();
    for (const { key, value } of map.items) {
      const name = isScalar(key) ? key.value : null;
      this.anchor(key);
      const place = this.placeOf(key ?? map);
      if (typeof name !== 'string' || name === '__proto__') {
        this.note(problem('bad-key', { key: typeof name === 'string' ? name : null }, place));
      } else if (firstKeys.has(name)) {
        const related = [{ place: this.placeOf(firstKeys.get(name)), message: 'first written here' }];
        this.note(problem('duplicate-key', { key: name }, place, related));
      } else {
        firstKeys.set(name, key);
        result[name] = this.convert(value, depth + 1);
      }
    }
    return result;
  }

  /** An alias means what had its name last before it (YAML 1.2 §3.2.2.2). */
  private anchor(node: unknown): void {
    if (!isNode(node) || isAlias(node)) return;
    const { anchor } = node;
    if (anchor !== undefined) this.anchors.set(anchor, node);
  }

  private placeOf(node: unknown): Place {
    return placeOfNode(this.source, node);
  }

  /** Reports a fault that leaves the rest readable. */
  private note(diagnostic: Diagnostic): null {
    this.report(diagnostic);
    return null;
  }

  private giveUp(diagnostic: Diagnostic): null {
    if (!this.failed) this.report(diagnostic);
    this.failed = true;
    return null;
  }
}

function placeOfNode(source: Source, node: unknown): Place {
  const range = isNode(node) ? node.range : null;
  if (!range) return { source, start: 0, end: 0 };
  return { source, start: range[0], end: range[1] };
}

function follow(node: unknown, targets: Targets): unknown {
  return isAlias(node) ? targets.get(node) : node;
}

const pairs = new WeakMap<YAMLMap, ReadonlyMap<unknown, Pair>>();

/** The pair of a key. Maps with thousands of keys are asked often, so each is gone through once. */
function pairOf(node: unknown, key: string): Pair | undefined {
  if (!isMap(node)) return undefined;
  let known = pairs.get(node);
  if (known === undefined) {
    // Of keys that are written twice the first counts.
    const keyed = [...node.items]
      .reverse()
      .map((pair) => [isScalar(pair.key) ? pair.key.value : null, pair] as const);
    pairs.set(node, (known = new Map(keyed)));
  }
  return known.get(key);
}

/** The node at a path with the key it stands under, if any; where the path leads past what exists, the last node on it. */
function locate(
  document: Document,
  path: Path,
  targets: Targets,
): { readonly key: unknown; readonly node: unknown } {
  let found: { key: unknown; node: unknown } = { key: null, node: document.contents };
  for (const step of path) {
    const parent = follow(found.node, targets);
    const pair = pairOf(parent, String(step));
    if (pair !== undefined) found = { key: pair.key, node: pair.value };
    else if (isSeq(parent) && parent.items[Number(step)] !== undefined) {
      found = { key: null, node: parent.items[Number(step)] };
    } else break;
  }
  return found;
}

/** Whether a value stands on lines of its own, or nowhere: then its key is what a reader looks for. */
function isBlock(node: unknown): boolean {
  if (isMap(node) || isSeq(node)) return node.flow !== true;
  return !node || (isScalar(node) && node.value === null && node.source === '');
}
