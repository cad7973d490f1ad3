import { isMethod, isSafe, type Method } from '../http/messages.js';
import { parametersIn } from './addresses.js';
import type { Exchange } from './evidence.js';
import { pathOf } from './login-found.js';
import type { Understood } from './story.js';
import type { Stay } from './stays.js';
import type { Led } from './told.js';

/** What became of a request. */
export type Verdict =
  | { readonly kind: 'in'; readonly afterWrite: string | null; readonly status: number }
  /** Its sender was asked to log in. */
  | { readonly kind: 'login'; readonly status: number | null }
  /** It was refused with a status, or sent elsewhere. */
  | { readonly kind: 'out'; readonly status: number | null; readonly to: string | null };

/** A request of somebody, and what became of it. */
export interface Seen {
  /** null: nobody was signed in. */
  readonly who: string | null;
  readonly method: Method;
  readonly path: string;
  readonly verdict: Verdict;
  /** Whether a refusal is only told by the calls that script did not make. */
  readonly isInferred?: boolean;
}

/** An address with all that was asked of it. */
export interface SeenPage {
  readonly pattern: string;
  readonly kind: 'page' | 'api';
  readonly seen: readonly Seen[];
  /** GET requests that its script made each time it was shown. */
  readonly loads: readonly string[];
}

/** Statuses that tell nothing of anybody's rights: the app was busy, broken, or did not like what was sent. */
const TELLS_NOTHING = (status: number) =>
  status >= 500 || [0, 400, 408, 409, 410, 412, 413, 415, 422, 429].includes(status);

/** Every address that was asked for, in the order of patterns, with what became of it. What nobody was ever given is no page. */
export function seenPages(understood: Understood): SeenPage[] {
  const pages = new Map<string, { seen: Seen[]; calls: number; documents: number }>();
  const add = (path: string, kind: 'calls' | 'documents', seen: Omit<Seen, 'path'> | null) => {
    const pattern = understood.addresses.patternOf(path);
    if (pattern === null) return;
    const page = pages.get(pattern) ?? { seen: [], calls: 0, documents: 0 };
    pages.set(pattern, page);
    page[kind] += 1;
    if (seen !== null) page.seen.push({ ...seen, path });
  };
  for (const { told, stays } of understood.stories) {
    for (const stay of stays) {
      const verdict = verdictAt(stay, told[stay.at]?.led ?? null, understood);
      const isInferred = stay.came === 'without calls';
      add(
        stay.path,
        'documents',
        verdict && { who: stay.who, method: 'GET', verdict, ...(isInferred ? { isInferred } : {}) },
      );
    }
    for (const { act, part, who, after } of told) {
      if (part === 'refresh') continue;
      // What script shows is known only by the calls that it makes there.
      if (understood.script !== null && act.kind === 'page') continue;
      for (const [at, hop] of act.hops.entries()) {
        const verdict = verdictOf(hop, understood);
        if (verdict === null || !isMethod(hop.method)) continue;
        const changesWho = ['login', 'code', 'sign-up', 'logout'].includes(part);
        const now = at > 0 && changesWho ? after : who;
        const isAnswer = hop.status < 300 || hop.status >= 400;
        const kind = act.kind === 'call' || (isAnswer && isData(hop)) ? 'calls' : 'documents';
        add(hop.path, kind, { who: now, method: hop.method, verdict });
      }
    }
  }
  const loads = understood.script?.own ?? loadsIn(understood);
  return [...pages]
    .filter(([, { seen }]) => seen.length === 0 || seen.some(isOfAPage))
    .sort(([one], [other]) => (one < other ? -1 : 1))
    .map(([pattern, { seen, calls, documents }]) => ({
      pattern,
      kind: calls > documents ? ('api' as const) : ('page' as const),
      seen,
      loads: loads.get(pattern) ?? [],
    }));
}

const SHOWN: Verdict = { kind: 'in', afterWrite: null, status: 200 };

/** What became of somebody at a page that script draws; null where nothing tells. */
function verdictAt({ came, who }: Stay, led: Led | null, { login }: Understood): Verdict | null {
  if (came === 'shown') return SHOWN;
  if (came === 'led' && led !== null && led.path !== login?.page) {
    return { kind: 'out', status: null, to: led.path };
  }
  if (came === 'led' || (came === 'without calls' && who === null)) return { kind: 'login', status: null };
  return came === null ? null : { kind: 'out', status: null, to: null };
}

/** Whether an answer shows that there is something at an address. */
function isOfAPage({ verdict }: Seen): boolean {
  return !(verdict.kind === 'out' && (verdict.status === 404 || verdict.status === 405));
}

function isData({ type }: Exchange): boolean {
  return /\bjson\b|\bxml\b/.test(type) && !/html/.test(type);
}

function verdictOf(
  { status, location, method, origin, path }: Exchange,
  { login }: Understood,
): Verdict | null {
  if (TELLS_NOTHING(status)) return null;
  if (location !== null && status >= 300 && status < 400) {
    // The same address on https, or under another name of the site, tells nothing of its page.
    const to = pathOf(location);
    if (to === null || !location.startsWith(`${origin}/`)) return null;
    if (to === login?.page && path !== login.path) return { kind: 'login', status: null };
    if (isMethod(method) && !isSafe(method)) return { kind: 'in', afterWrite: to, status };
    return to === path ? null : { kind: 'out', status: null, to };
  }
  if (status === 401) return { kind: 'login', status };
  if (status >= 400) return { kind: 'out', status, to: null };
  return { kind: 'in', afterWrite: null, status };
}

/** The reads that followed each time a page was shown, by its pattern. */
function loadsIn({ stories, addresses, login }: Understood): ReadonlyMap<string, string[]> {
  const times = new Map<string, Set<string>[]>();
  for (const { told } of stories) {
    let shown: { readonly pattern: string; readonly reads: Set<string> } | null = null;
    for (const { act } of told) {
      if (act.kind === 'page') {
        const pattern = act.last.status < 300 ? addresses.patternOf(act.last.path) : null;
        shown = pattern === null ? null : { pattern, reads: new Set() };
        if (shown !== null) times.set(shown.pattern, [...(times.get(shown.pattern) ?? []), shown.reads]);
        continue;
      }
      const from = pathOf(act.first.referer);
      // Where requests do not say what page they come from, it is the one that was loaded.
      const own = from === null ? shown?.pattern : addresses.patternOf(from);
      if (shown === null || own !== shown.pattern || act.first.method !== 'GET') continue;
      const target = addresses.patternOf(act.first.path);
      if (target !== null && act.first.path !== login?.path) shown.reads.add(`GET ${target}`);
    }
  }
  return new Map(
    [...times].map(([pattern, all]) => {
      const isEachTime = (load: string) => all.every((each) => each.has(load));
      const isOwn = (load: string) =>
        parametersIn(load).every((name) => parametersIn(pattern).includes(name));
      return [pattern, [...(all[0] ?? [])].filter((load) => isEachTime(load) && isOwn(load))];
    }),
  );
}
