import { padTo, widthOf } from './columns.js';

/** A cell of a table: its text, and how it is to look. */
export interface TableCell {
  readonly text: string;
  readonly tint: (text: string) => string;
}

export const plain = (text: string): TableCell => ({ text, tint: (same) => same });

/** A row that is like the one above it: its label alone, and a word on that in each table. */
export interface LikeAbove {
  readonly label: TableCell;
  readonly note: TableCell;
}

/**
 * Lays out rows under headings that may take several lines. Where not all columns fit a line, the rest follows in tables
 * of their own, each with the first column again.
 */
export function table(
  headings: readonly string[],
  rows: readonly (readonly TableCell[] | LikeAbove)[],
  width: number,
  tintHeading: (text: string) => string,
): string[] {
  const heads = headings.map((heading) => heading.split(' '));
  const widths = headings.map((_, at) =>
    Math.max(...(heads[at] ?? []).map(widthOf), ...rows.map((row) => widthOf(cellIn(row, at)?.text ?? ''))),
  );
  const lines: string[] = [];
  for (const columns of blocks(widths, width)) {
    if (lines.length > 0) lines.push('');
    const height = Math.max(...columns.map((at) => heads[at]?.length ?? 0));
    for (let line = 0; line < height; line++) {
      const words = columns.map((at) => {
        const head = heads[at] ?? [];
        return padTo(head[line - (height - head.length)] ?? '', widths[at] ?? 0);
      });
      lines.push(tintHeading(words.join('  ').trimEnd()));
    }
    for (const row of rows) {
      const cells = columns.map((at, place) => {
        const isNote = place === 1 && 'note' in row;
        const { text, tint } = (isNote ? row.note : cellIn(row, at)) ?? plain('');
        return tint(text) + ' '.repeat(Math.max(0, (widths[at] ?? 0) - widthOf(text)));
      });
      lines.push(cells.join('  ').trimEnd());
    }
  }
  return lines;
}

function cellIn(row: readonly TableCell[] | LikeAbove, at: number): TableCell | undefined {
  if (!('note' in row)) return row[at];
  return at === 0 ? row.label : at === 1 ? row.note : undefined;
}

/** The columns of each table: as many as fit, at least one beside the first. */
function blocks(widths: readonly number[], width: number): number[][] {
  const [first = 0, ...others] = widths;
  const found: number[][] = [];
  let columns: number[] = [];
  let taken = first;
  others.forEach((each, at) => {
    if (columns.length > 0 && taken + 2 + each > width) {
      found.push([0, ...columns]);
      columns = [];
      taken = first;
    }
    columns.push(at + 1);
    taken += 2 + each;
  });
  return [...found, [0, ...columns]];
}
