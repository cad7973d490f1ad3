import pc from 'picocolors';

/** How a text is to look. */
export interface Look {
  readonly color: boolean;
  /** Columns that a line may take. */
  readonly width: number;
  /** The URL of a line of a file, where the terminal can follow one; left out where it cannot. */
  readonly linkTo?: (file: string, line: number) => string;
}

/** A text that leads to a line of a file, where the terminal has hyperlinks (its escape sequence OSC 8). */
export function linked(text: string, file: string, line: number, { linkTo }: Look): string {
  return linkTo === undefined ? text : `\u001b]8;;${linkTo(file, line)}\u001b\\${text}\u001b]8;;\u001b\\`;
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

/** What a reader does not see, or what makes them see another text: controls, marks of direction, what has no shape or no meaning. */
const UNSEEN = /[\p{C}\p{Zl}\p{Zp}\p{Default_Ignorable_Code_Point}\u2800]/gu;

/** Whether a text holds what must not be printed as it is. */
export function hasUnseen(text: string): boolean {
  return text.search(UNSEEN) >= 0;
}

/** What build systems take for commands to them, where it begins a line (`::`) or anywhere in one (`##[`, `##vso[`). */
const COMMAND = /(?<![^\s\p{Cc}])::(?=[A-Za-z])|#(?=#(?:\[|vso\[|teamcity\[))/gu;

const escaped = (character: string) => `\\u{${(character.codePointAt(0) ?? 0).toString(16)}}`;

/**
 * Makes text from a policy harmless in a terminal and in the log of a build: what is not seen, and what would be taken for a
 * command, is shown by its code points.
 */
export function inert(text: string): string {
  return text.replace(COMMAND, (command) => escaped(command) + command.slice(1)).replace(UNSEEN, escaped);
}

/** The same for people: letters and digits in addresses are shown as they are, not as the bytes that are sent. */
export function printable(text: string): string {
  return inert(text.replace(/(?:%[89A-F][0-9A-F])+/gi, decoded));
}

function decoded(bytes: string): string {
  try {
    const text = decodeURIComponent(bytes);
    return /^[\p{L}\p{M}\p{N}]+$/u.test(text) ? text : bytes;
  } catch {
    return bytes;
  }
}

/** A count with its noun: `1 walk`, `2 walks`. */
export function count(number: number, noun: string): string {
  return `${number} ${noun}${number === 1 ? '' : 's'}`;
}
