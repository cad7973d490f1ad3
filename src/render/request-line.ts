import { formatDuration, type Path, type Seconds } from '../core/index.js';
import { paletteOf, printable, type Look } from './style.js';

/** A request as an app answered it. */
export interface Answered {
  readonly time: Seconds;
  readonly method: string;
  readonly target: string;
  readonly status: number;
  readonly location: string | null;
  readonly seenAs: string;
  readonly why: string;
  readonly decidedBy: Path;
}

/** One answered request on one line: `5m GET /ledger 302 → /sign-in?back=/ledger · guest · idle-expired (line 77)`. */
export function requestLine(entry: Answered, lineOf: (place: Path) => number, look: Look): string {
  const palette = paletteOf(look);
  const { status, location, decidedBy } = entry;
  const tint = status >= 400 ? palette.bad : status >= 300 ? palette.careless : palette.good;
  const way = location === null ? '' : ` → ${printable(location)}`;
  const line = decidedBy.length === 0 ? '' : ` (line ${lineOf(decidedBy)})`;
  const time = formatDuration(entry.time).padStart(8);
  const asked = `${entry.method} ${printable(entry.target)}`;
  return `${palette.quiet(time)} ${asked} ${tint(String(status))}${way} · ${palette.person(printable(entry.seenAs))} · ${entry.why}${line}`;
}
