import pc from 'picocolors';

/** How a text is to look. */
export interface Look {
  readonly color: boolean;
  /** Columns that a line may take. */
  readonly width: number;
}

type Colors = ReturnType<typeof pc.createColors>;

/** The colours of all texts, by what they mean; each leaves the text as it is where colour is off. */
export interface Palette {
  readonly good: Colors['green'];
  readonly bad: Colors['red'];
  readonly careless: Colors['yellow'];
  readonly quiet: Colors['dim'];
  readonly strong: Colors['bold'];
  readonly person: Colors['cyan'];
}

export function paletteOf(look: Look): Palette {
  const { green, red, yellow, dim, bold, cyan } = pc.createColors(look.color);
  return { good: green, bad: red, careless: yellow, quiet: dim, strong: bold, person: cyan };
}

/**
 * Makes text from a policy harmless in a terminal: control characters, line breaks and marks that turn the direction of
 * writing are shown by their code points.
 */
export function printable(text: string): string {
  return text.replace(
    // eslint-disable-next-line no-control-regex
    /[\u0000-\u001f\u007f-\u009f\u200b-\u200f\u2028-\u202e\u2066-\u2069\ufeff]|\p{Cs}/gu,
    (character) => `\\u{${(character.codePointAt(0) ?? 0).toString(16)}}`,
  );
}

/** A count with its noun: `1 walk`, `2 walks`. */
export function count(number: number, noun: string): string {
  return `${number} ${noun}${number === 1 ? '' : 's'}`;
}
