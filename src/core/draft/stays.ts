import { parseUrl, queryParameters } from '../http/address.js';
import { parametersIn, type Addresses } from './addresses.js';
import { pathOf } from './login-found.js';
import type { Led, Part, Told } from './told.js';

/** The time that somebody was at an address of a single page: from its load, or from script going there, to the next. */
export interface Stay {
  readonly path: string;
  /** Who was signed in when it began; null for nobody. */
  readonly who: string | null;
  /** The first of what was done there. */
  readonly at: number;
  /** Whether the page was loaded; else script went there without asking the app for a page. */
  readonly isLoaded: boolean;
  /** Whether script was led there by itself, and nobody asked for it. */
  readonly isLed: boolean;
  /** What came of it: shown, led elsewhere, or none of the page's own calls was made; null where nothing tells. */
  readonly came: 'shown' | 'led' | 'without calls' | null;
}

/** What script does at single pages, as far as its calls tell. */
export interface Script {
  /** Where script went after each act of each recording. */
  readonly led: readonly (readonly (Led | null)[])[];
  readonly stays: readonly (readonly Stay[])[];
  /** The reads of its own that each page makes each time it is shown, by its pattern. */
  readonly own: ReadonlyMap<string, readonly string[]>;
  /** The reads that it makes whatever page is opened, such as asking who is signed in. */
  readonly always: ReadonlySet<string>;
}

/** Script asks for what a page needs, or for the next page, that many seconds after what it waited for; people take longer. */
const AT_ONCE = 1;

/** What is sent from a page that shows its form. */
const FORMS: readonly Part[] = ['login', 'wrong login', 'sign-up', 'code'];

/** A stay before it is judged, with what was read in it. */
interface Span {
  readonly path: string;
  readonly pattern: string | null;
  readonly from: number;
  to: number;
  readonly isLoaded: boolean;
  readonly reads: Set<string>;
}

/** Tells from calls and the addresses that they come from what script showed, and where it went. */
export function scriptOf(stories: readonly (readonly Told[])[], addresses: Addresses): Script {
  const spans = stories.map((told) => spansOf(told, addresses));
  const all = spans.flat();
  const always = readsOfAll(all);
  const own = ownReads(all, always);
  const isOwn = ({ act }: Told, path: string) => {
    const read = readOf(act, addresses);
    return read !== null && (own.get(addresses.patternOf(path) ?? '') ?? []).includes(read);
  };
  const led = stories.map((told) => told.map((_, at) => ledAfter(told, at, isOwn)));
  const stays = stories.map((told, index) => {
    const ways = led[index] ?? [];
    return (spans[index] ?? []).map((span, at, list): Stay => ({
      path: span.path,
      who: told[span.from]?.who ?? null,
      at: span.from,
      isLoaded: span.isLoaded,
      isLed: ways.slice(list[at - 1]?.from ?? span.from, span.from).some((each) => each?.path === span.path),
      came: cameOf(span, told, ways, { own, always }),
    }));
  });
  return { led, stays, own, always };
}

/** Where the next call comes from right after an act, where that is another page than before; for an app of many pages. */
export function ledNext(told: readonly Told[], at: number): Led | null {
  return ledAfter(told, at, () => true);
}

/** The page that script had gone to when it made one of the calls that followed at once. */
function ledAfter(
  told: readonly Told[],
  at: number,
  isOwn: (one: Told, path: string) => boolean,
): Led | null {
  const own = told[at]?.act;
  if (own === undefined) return null;
  const landed = own.last.landed === null ? null : parseUrl(own.last.landed);
  if (landed !== null) {
    return landed.pathname === own.last.path ? null : { path: landed.pathname, query: landed.search };
  }
  const before = own.kind === 'page' ? own.last.path : pathOf(own.first.referer);
  let last = own.last.at;
  let isAtOnce = true;
  for (const later of told.slice(at + 1)) {
    const { kind, first } = later.act;
    if (kind !== 'call') return null;
    const url = first.referer === null ? null : parseUrl(first.referer);
    if (url === null) continue;
    isAtOnce &&= first.at - last <= AT_ONCE;
    last = first.at;
    if (url.pathname !== before) {
      // Whoever was sent to the login takes the address along that they asked for.
      const isBrought = queryParameters(url.search).some(([, value]) => value.split('?')[0] === before);
      return isAtOnce || (isBrought && own.kind === 'page')
        ? { path: url.pathname, query: url.search }
        : null;
    }
    // What was used, or showed something of its own, was shown.
    if (later.part === 'other' ? isOwn(later, before) : later.part !== 'refresh') {
      return null;
    }
  }
  return null;
}

function spansOf(told: readonly Told[], addresses: Addresses): Span[] {
  const spans: Span[] = [];
  const begin = (path: string, from: number, isLoaded: boolean) =>
    spans.push({ path, pattern: addresses.patternOf(path), from, to: from, isLoaded, reads: new Set() });
  // Where requests do not say what page they come from, it is known only if somebody looked where script had gone.
  let here: string | null = null;
  for (const [at, { act, part }] of told.entries()) {
    const from = pathOf(act.first.referer) ?? here;
    here = pathOf(act.last.landed) ?? (act.kind === 'page' ? null : here);
    if (act.kind === 'page') {
      begin(act.last.path, at, true);
      continue;
    }
    if (from === null) continue;
    if (spans.at(-1)?.path !== from) begin(from, at, false);
    const span = spans.at(-1);
    if (span === undefined) continue;
    span.to = at;
    const read = part === 'other' ? readOf(act, addresses) : null;
    if (read !== null) span.reads.add(read);
  }
  return spans;
}

/** A read that was answered, as a policy writes it; null for what is none. */
function readOf({ first }: Told['act'], addresses: Addresses): string | null {
  if (first.method !== 'GET' || first.status >= 400) return null;
  const pattern = addresses.patternOf(first.path);
  return pattern === null ? null : `GET ${pattern}`;
}

/** What is read at every page at which anything is, of two and more. */
function readsOfAll(spans: readonly Span[]): ReadonlySet<string> {
  const pages = new Map<string, Set<string>>();
  for (const { pattern, reads, isLoaded } of spans) {
    if (pattern === null || !isLoaded || reads.size === 0) continue;
    pages.set(pattern, new Set([...(pages.get(pattern) ?? []), ...reads]));
  }
  const counts = new Map<string, number>();
  for (const read of [...pages.values()].flatMap((reads) => [...reads])) {
    counts.set(read, (counts.get(read) ?? 0) + 1);
  }
  const most = pages.size > 2 ? pages.size / 2 : pages.size - 1;
  return new Set([...counts].filter(([, count]) => count > 1 && count > most).map(([read]) => read));
}

function ownReads(
  spans: readonly Span[],
  always: ReadonlySet<string>,
): ReadonlyMap<string, readonly string[]> {
  const own = new Map<string, string[]>();
  for (const { pattern, reads } of spans) {
    const named = pattern === null ? [] : parametersIn(pattern);
    const found = [...reads].filter(
      (read) => !always.has(read) && parametersIn(read).every((name) => named.includes(name)),
    );
    if (pattern === null || found.length === 0) continue;
    own.set(pattern, own.get(pattern)?.filter((read) => reads.has(read)) ?? found);
  }
  return own;
}

function cameOf(
  { path, pattern, from, to, isLoaded, reads }: Span,
  told: readonly Told[],
  ways: readonly (Led | null)[],
  { own, always }: Pick<Script, 'own' | 'always'>,
): Stay['came'] {
  const wanted = own.get(pattern ?? '') ?? [];
  if (wanted.some((read) => reads.has(read))) return 'shown';
  const during = told.slice(from, to + 1).filter(({ act }) => act.kind === 'call');
  const isUsed = during.some(
    ({ part, act, who }) =>
      FORMS.includes(part) ||
      (part === 'other' && act.first.method !== 'GET' && act.first.status < 400 && who !== null),
  );
  if (isUsed) return 'shown';
  if (isLoaded && ways[from] !== null && ways[from]?.path !== path) return 'led';
  const isLookedAt = told[from]?.act.last.landed !== null;
  if (wanted.length > 0 && isLoaded && !isLookedAt) return 'without calls';
  const isRead = during.some(({ who }) => who !== null) && [...reads].some((read) => !always.has(read));
  return isRead ? 'shown' : null;
}
