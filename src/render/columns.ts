import stringWidth from 'fast-string-width';

/** Most texts: ASCII and the signs of our own layouts. The rest is measured character by character. */
const ONE_COLUMN_EACH = /^[ -~·–—→✓✗│…]*$/;

/** Fills a text up with spaces to a width in columns, wide characters counted as two. */
export function padTo(text: string, width: number): string {
  return text + ' '.repeat(Math.max(0, width - widthOf(text)));
}

/** The columns that a text takes on a terminal. */
export function widthOf(text: string): number {
  return ONE_COLUMN_EACH.test(text) ? text.length : stringWidth(text);
}

/**
 * Lays parts out on lines of a width, breaking between parts; a part longer than a line is cut into pieces.
 *
 * @param join what stands between two parts on one line; a break swallows it
 */
export function flow(parts: readonly string[], width: number, join: string): string[] {
  const lines: string[] = [];
  let line = '';
  for (const part of parts) {
    const longer = line === '' ? part : line + join + part;
    // A part that no line can hold starts on this one and is cut.
    if (widthOf(longer) > width && line !== '' && widthOf(part) <= width) {
      lines.push(line);
      line = part;
    } else {
      line = longer;
    }
    while (widthOf(line) > width) {
      const cut = cutAt(line, width);
      lines.push(line.slice(0, cut));
      line = line.slice(cut);
    }
  }
  return line === '' && lines.length > 0 ? lines : [...lines, line];
}

/** How many code units of a text fit into a width; at least one character. */
function cutAt(text: string, width: number): number {
  let end = 0;
  for (const character of text) {
    if (end > 0 && widthOf(text.slice(0, end) + character) > width) break;
    end += character.length;
  }
  return end;
}
