import type { Exchange, Recording } from './evidence.js';

/** Something that a browser did: it asked for a page or made a call by script, and went where it was sent on. */
export interface Act {
  readonly kind: 'page' | 'call';
  /** The request, and those that redirects led to. Never empty. */
  readonly hops: readonly Exchange[];
  readonly first: Exchange;
  readonly last: Exchange;
}

/** Answers that belong to how a page looks, and to nobody's rights. */
const LOOKS =
  /^(?:image|font|audio|video)\/|\/(?:css|javascript|x-javascript|ecmascript|wasm|manifest\+json)$/;

/** The origin whose pages a recording shows: that of most documents. */
export function originOf(recordings: readonly Recording[]): string | null {
  const counts = new Map<string, number>();
  for (const { origin, isDocument } of recordings.flatMap(({ exchanges }) => exchanges)) {
    counts.set(origin, (counts.get(origin) ?? 0) + (isDocument ? 1000 : 1));
  }
  return [...counts].sort((one, other) => other[1] - one[1])[0]?.[0] ?? null;
}

/** What a browser did at an origin, in order: redirects are joined to what they answer; style, script and pictures are left out. */
export function actsOf(exchanges: readonly Exchange[], origin: string): Act[] {
  const own = exchanges.filter((each) => each.origin === origin && !isOfLooks(each));
  const taken = new Set<Exchange>();
  const acts: Act[] = [];
  for (const [at, first] of own.entries()) {
    if (taken.has(first)) continue;
    const hops = [first];
    for (let here: Exchange | undefined = first; here !== undefined;) {
      here = followedBy(here, own, at, taken);
      if (here !== undefined) {
        taken.add(here);
        hops.push(here);
      }
    }
    acts.push({ kind: first.isDocument ? 'page' : 'call', hops, first, last: hops.at(-1) ?? first });
  }
  return acts;
}

function isOfLooks({ type, status, path, isDocument }: Exchange): boolean {
  if (status === 0) return true;
  if (isDocument) return false;
  return LOOKS.test(type) || /\.(?:js|mjs|css|map|ico|png|jpe?g|gif|svg|webp|woff2?|ttf)$/i.test(path);
}

/** The request that an answer sent its browser on to. */
function followedBy(
  { location, status, isDocument }: Exchange,
  all: readonly Exchange[],
  from: number,
  taken: ReadonlySet<Exchange>,
): Exchange | undefined {
  if (location === null || status < 300 || status > 399) return undefined;
  return all
    .slice(from + 1, from + 20)
    .find(
      (each) => !taken.has(each) && each.isDocument === isDocument && urlOf(each) === location.split('#')[0],
    );
}

function urlOf({ origin, path, query }: Exchange): string {
  return `${origin}${path}${query === '' ? '' : `?${query}`}`;
}
