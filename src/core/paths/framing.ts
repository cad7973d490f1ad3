import type { CharSet, Concatenation, Element, Expression, NoParent } from 'refa';
import type * as refa from 'refa';
import { END, FIRST, LAST, START } from './automaton.js';

/** The library of automata. */
export type Engine = typeof refa;

/** How much of a path a match of an expression takes. */
export type Extent = 'all' | 'whole segments';

/** So many characters beyond ASCII an expression can name one by one or as a range. */
const MOST_BEYOND_ASCII = 500;

/** What keeps an expression from being used, in words for its author. */
export class Unusable extends Error {}

/**
 * Puts an expression between marks. `^` and `$` look at a place without reading it, so each mark may stand there any
 * number of times, once for every look.
 */
export class Framing {
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
