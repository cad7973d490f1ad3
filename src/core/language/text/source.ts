/** The text of one input file, with what is needed to point into it. */
export interface Source {
  /** The name as the reader knows it: a path, or `-` for standard input. */
  readonly file: string;
  readonly text: string;
  /** The offset at which each line starts. */
  readonly lineStarts: readonly number[];
}

/** A stretch of a source, by offsets from its start; `end` is exclusive. */
export interface Place {
  readonly source: Source;
  readonly start: number;
  readonly end: number;
}

/** A position for people: both count from 1. Columns count UTF-16 code units, as editors do. */
export interface Position {
  readonly line: number;
  readonly column: number;
}

/** Makes a source of a file's name and text. Lines end at LF, CR LF or a lone CR, as in YAML 1.2 §5.4. */
export function sourceOf(file: string, text: string): Source {
  const lineStarts = [0];
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at);
    if (unit === 10 || (unit === 13 && text.charCodeAt(at + 1) !== 10)) lineStarts.push(at + 1);
  }
  return { file, text, lineStarts };
}

/** The line and column of an offset; an offset beyond the end is taken as the end. */
export function positionOf(source: Source, offset: number): Position {
  const at = Math.max(0, Math.min(offset, source.text.length));
  let low = 0;
  let high = source.lineStarts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((source.lineStarts[middle] ?? 0) <= at) low = middle;
    else high = middle - 1;
  }
  return { line: low + 1, column: at - (source.lineStarts[low] ?? 0) + 1 };
}

/** The text of a line, counted from 1, without its line break; no more of it than its first characters where that is said. */
export function lineText(source: Source, line: number, most = Number.POSITIVE_INFINITY): string {
  const start = source.lineStarts[line - 1] ?? source.text.length;
  const end = source.lineStarts[line] ?? source.text.length;
  return source.text.slice(start, Math.min(end, start + most)).replace(/[\r\n]+$/, '');
}
