import { lineText, positionOf, type Diagnostic, type Place } from '../core/internal.js';
import { flow, widthOf } from './columns.js';
import { count, inert, linked, paletteOf, printable, type Look, type Palette } from './style.js';

/**
 * Diagnostics with excerpts of the files they point into, and a count at the end.
 *
 * @param read what was read, where that is to be said
 */
export function diagnosticsText(diagnostics: readonly Diagnostic[], look: Look, read = ''): string {
  const palette = paletteOf(look);
  const blocks = diagnostics.map((diagnostic) => block(diagnostic, palette, look));
  const end = `${read === '' ? '' : `${palette.quiet(`${read}:`)} `}${tally(diagnostics, palette)}`;
  return [...blocks, end].map((text) => `${text}\n`).join('\n');
}

function block(diagnostic: Diagnostic, palette: Palette, look: Look): string {
  const { severity, code, message, place, related, hint, shownBy } = diagnostic;
  const tint = severity === 'error' ? palette.bad : palette.careless;
  const title = `${tint(severity)} ${palette.strong(code)}`;
  const lines = [place === null ? title : `${title}  ${palette.quiet(linkedPlace(place, look))}`];
  lines.push(...paragraph(message, look, '  '));
  if (place !== null && hasText(place)) lines.push('', ...excerpt(place, tint, palette, look));
  for (const other of related) {
    lines.push(...paragraph(`${other.message}: ${where(other.place)}`, look, '  '));
    lines.push(...excerpt(other.place, palette.quiet, palette, look));
  }
  if (hint !== null || shownBy !== undefined) lines.push('');
  if (shownBy !== undefined) lines.push(...paragraph(`Shown by: ${shownBy}`, look, '  '));
  if (hint !== null) lines.push(...paragraph(`Hint: ${hint}`, look, '  '));
  return lines.join('\n');
}

function paragraph(text: string, look: Look, indent: string): string[] {
  return flow(printable(text).split(' '), look.width - indent.length, ' ').map((line) => indent + line);
}

/** `file:line:column`, as editors and terminals follow it. */
export function where(place: Place): string {
  const { line, column } = positionOf(place.source, place.start);
  return `${printable(place.source.file)}:${line}:${column}`;
}

/** The same as a hyperlink, where the terminal has them. */
export function linkedPlace(place: Place, look: Look): string {
  return linked(where(place), place.source.file, positionOf(place.source, place.start).line, look);
}

/** Whether there is anything to show where a place starts: an empty file has nothing. */
function hasText(place: Place): boolean {
  return lineText(place.source, positionOf(place.source, place.start).line, 10_000).trim() !== '';
}

/** The line that a place starts on, with the place underlined; a long line is cut around it. */
function excerpt(place: Place, tint: (text: string) => string, palette: Palette, look: Look): string[] {
  const { line, column } = positionOf(place.source, place.start);
  const number = String(line).padStart(5);
  const room = look.width - number.length - 4;
  const from = column - 1 > room * 0.7 ? Math.max(0, column - 1 - Math.floor(room / 3)) : 0;
  // No more is laid out than there can be room for, however long the line is.
  const text = lineText(place.source, line, column + 2 * room);
  const before = shown(text.slice(from, column - 1));
  const span = Math.max(1, Math.min(place.end - place.start, text.length - (column - 1)));
  const marked = shown(text.slice(column - 1, column - 1 + span).trimEnd()) || ' ';
  const [visible = ''] = flow([before + marked + shown(text.slice(column - 1 + span))], room, '');
  const underline = '~'.repeat(Math.max(1, Math.min(widthOf(marked), room - widthOf(before))));
  const gutter = palette.quiet(`${number} │`);
  return [
    `${gutter} ${visible}`.trimEnd(),
    `${palette.quiet(`${' '.repeat(number.length)} │`)} ${' '.repeat(widthOf(before))}${tint(underline)}`,
  ];
}

function shown(text: string): string {
  return inert(text.replaceAll('\t', '  '));
}

/** How many errors, warnings and pieces of advice there are. */
export function tally(diagnostics: readonly Diagnostic[], palette: Palette): string {
  const number = (severity: Diagnostic['severity']) =>
    diagnostics.filter((diagnostic) => diagnostic.severity === severity).length;
  if (diagnostics.length === 0) return palette.good('nothing to report');
  const parts = [
    ...(number('error') > 0 ? [palette.bad(count(number('error'), 'error'))] : []),
    ...(number('warning') > 0 ? [palette.careless(count(number('warning'), 'warning'))] : []),
    ...(number('advice') > 0 ? [`${number('advice')} advice`] : []),
  ];
  return parts.join(', ');
}
