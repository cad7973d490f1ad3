import { formatDuration, type Answered, type Path, type Seconds } from '../core/internal.js';
import { paletteOf, printable, type Look } from './style.js';

/** One answered request on one line: `5m GET /ledger 302 → /sign-in?back=/ledger · guest · idle-expired (line 77)`. */
export function requestLine(
  entry: Answered & { readonly time: Seconds; readonly decidedBy: Path },
  lineOf: (place: Path) => number,
  look: Look,
): string {
  const palette = paletteOf(look);
  const { status, location, decidedBy } = entry;
  const tint = status >= 400 ? palette.bad : status >= 300 ? palette.careless : palette.good;
  const way = location === null ? '' : ` → ${printable(location)}`;
  const line = decidedBy.length === 0 ? '' : ` (line ${lineOf(decidedBy)})`;
  const time = formatDuration(entry.time).padStart(8);
  const asked = `${entry.method} ${printable(entry.target)}`;
  return `${palette.quiet(time)} ${asked} ${tint(String(status))}${way} · ${palette.person(printable(entry.actedBy === null ? entry.seenAs : `${entry.seenAs} by ${entry.actedBy}`))} · ${entry.why}${line}`;
}
