import { isSafe, METHODS } from '../http/messages.js';
import { nameFault } from '../language/text/name-reader.js';
import type { DescribedAccess, DescribedRequest, Evidence } from './evidence.js';
import { parametersIn } from './addresses.js';
import type { Line, Plain } from './drafted.js';
import { audienceAt, FoundRoles, isOfOwners, NO_GUEST, standAt } from './people-found.js';
import { FoundRefusals } from './refusals-drafted.js';
import { seenPages, type SeenPage } from './seen-pages.js';
import type { Understood } from './story.js';
import type { FoundWays } from './ways-found.js';

/** The pages of a draft, and the roles that they ask for. */
export interface DraftedPages {
  readonly lines: readonly Line[];
  readonly seen: readonly SeenPage[];
  readonly roles: FoundRoles;
  readonly refusals: FoundRefusals;
  /** Roles that stand for scopes of a description. */
  readonly scopes: readonly string[];
}

/** The requests of login, code and logout stand in sections of their own; those of script are pages besides, which says their kind. */
function withoutEndpoints(
  pages: readonly SeenPage[],
  { login, logout, code, signUp }: Understood,
): SeenPage[] {
  const endpoints = [login, logout, code, signUp].filter((each) => each !== null);
  const isEndpoint = (method: string, path: string) =>
    endpoints.some((each) => each.method === method && each.path === path);
  return pages.flatMap((page) => {
    if (page.kind === 'api') return [page];
    const seen = page.seen.filter(({ method, path }) => !isEndpoint(method, path));
    return seen.length === 0 && page.seen.length > 0 ? [] : [{ ...page, seen }];
  });
}

/** An audience with what makes it a guess. */
interface Said {
  readonly audience: Plain;
  readonly guess: string | null;
}

/** Every page that was seen or described. What was seen goes before what is described. */
export function draftedPages(
  understood: Understood,
  { landings }: FoundWays,
  { descriptions }: Evidence,
): DraftedPages {
  const seen = withoutEndpoints(seenPages(understood), understood);
  const roles = new FoundRoles(understood.people);
  const refusals = new FoundRefusals(understood, seen);
  const described = new Map<string, DescribedRequest[]>();
  for (const request of namedAlike(descriptions.flatMap(({ requests }) => requests))) {
    described.set(request.pattern, [...(described.get(request.pattern) ?? []), request]);
  }
  const bySeen = new Map(seen.map((page) => [page.pattern, page]));
  const scopes = new Set<string>();
  const patterns = [...new Set([...bySeen.keys(), ...described.keys()])].sort();
  const lines = patterns.map((pattern): Line => {
    const page = bySeen.get(pattern) ?? null;
    const requests = described.get(pattern) ?? [];
    return pageLine(pattern, page, requests, { understood, roles, refusals, landings, seen, scopes });
  });
  return { lines, seen, roles, refusals, scopes: [...scopes].sort() };
}

const UNSEEN_SCRIPT = 'a recording does not show whom script shows it';

/** Descriptions may call one parameter by several names; the first is taken for all. */
function namedAlike(requests: readonly DescribedRequest[]): DescribedRequest[] {
  const names = new Map<string, string>();
  return requests.map((request) => {
    const shape = request.pattern.replace(/\/:[^/]+/g, '/:');
    const pattern = names.get(shape) ?? request.pattern;
    names.set(shape, pattern);
    return { ...request, pattern };
  });
}

interface Context {
  readonly understood: Understood;
  readonly roles: FoundRoles;
  readonly refusals: FoundRefusals;
  readonly landings: ReadonlyMap<string, string>;
  readonly seen: readonly SeenPage[];
  readonly scopes: Set<string>;
}

function pageLine(
  pattern: string,
  page: SeenPage | null,
  requests: readonly DescribedRequest[],
  context: Context,
): Line {
  const kind = page?.kind ?? requests[0]?.kind ?? 'page';
  const guesses: string[] = [];
  const value: Record<string, Plain> = {};
  const read = accessFor('read', pattern, page, requests, context);
  const write = accessFor('write', pattern, page, requests, context);
  const inferred = inferredAt(page);
  if (inferred !== null) guesses.push(inferred);
  const isOfShell = kind === 'page' && context.understood.script !== null;
  for (const said of new Set([read, write])) {
    // That a guest may not send what they may not see is a guess of its own: forms are forgotten.
    const isOfSending = said === write && read !== null && said?.guess === NO_GUEST;
    if (said?.guess) guesses.push(isOfSending ? 'no guest was recorded sending it' : said.guess);
  }
  if (read !== null && write !== null && !isSame(read.audience, write.audience)) {
    Object.assign(value, { read: read.audience, write: write.audience });
  } else {
    const said = read ?? write;
    if (said === null) guesses.push(isOfShell ? UNSEEN_SCRIPT : 'whom it is for was not seen');
    // What asks the app for nothing has nothing to hide.
    const isOpen = pattern === '/' || (isOfShell && page?.loads.length === 0);
    value['for'] = said?.audience ?? (isOpen ? 'everyone' : 'signed-in');
  }
  if (kind === 'api') value['kind'] = 'api';
  value['methods'] = methodsOf(page, requests, isOfShell);
  const statuses = statusesOf(page, requests);
  if (kind === 'api' && statuses[0] !== undefined && statuses[0] !== 200) value['write-status'] = statuses[0];
  const seen =
    statuses.length > 1 ? `writes are answered with ${statuses.join(' or ')}; one status can be said` : null;
  const forward = page === null ? null : forwardOf(page, context);
  if (forward !== null) {
    value['for'] = standAt(page?.seen ?? [], 'read').guest === 'out' ? 'signed-in' : 'everyone';
    value['forward'] = forward;
  }
  const refusals = page === null || forward !== null ? null : context.refusals.ofPage(page);
  if (refusals !== null && value['for'] !== 'guests') value['refusals'] = refusals;
  if (kind === 'page' && page !== null) {
    const after = afterWrite(page, context.understood);
    if (after !== null) value['after-write'] = after;
    if (page.loads.length > 0) value['loads'] = [...page.loads];
  }
  if (isOfShell) value['guard'] = 'browser';
  const seenAs =
    context.understood.addresses.isGuessed(pattern) && page !== null ? example(page, context) : null;
  if (seenAs !== null) guesses.push(`that ${seenAs} is one of many`);
  return { key: pattern, value, seen, guess: guesses.length === 0 ? null : [...new Set(guesses)].join('; ') };
}

/** Who is only taken for refused, since script did not ask for what the page shows; null for nobody. */
function inferredAt(page: SeenPage | null): string | null {
  const who = (page?.seen ?? []).filter(({ isInferred }) => isInferred === true).map((each) => each.who);
  const names = [...new Set(who)].map((each) => each ?? 'a guest');
  return names.length === 0 ? null : `that ${names.join(', ')} may not: no call of the page was recorded`;
}

/** Where a page sends everybody who is signed in on, as it is no more than a way to somewhere else; null where it shows something. */
function forwardOf({ pattern, seen }: SeenPage, { understood, landings }: Context): Plain {
  const own = seen.filter(({ who, method }) => who !== null && isSafe(method));
  if (
    own.length === 0 ||
    pattern === patternOfLogin(understood) ||
    seen.some(({ verdict }) => verdict.kind === 'in')
  ) {
    return null;
  }
  const targets = own.map(({ verdict }) => (verdict.kind === 'out' ? verdict.to : null));
  if (targets.includes(null)) return null;
  if (own.every(({ who }, at) => landings.get(who ?? '') === targets[at])) return 'landing';
  return new Set(targets).size === 1 ? [{ otherwise: understood.addresses.safe(targets[0] ?? '/') }] : null;
}

/** The pattern of the login page, which may be sent with a slash at its end. */
function patternOfLogin({ login, addresses }: Understood): string | null {
  return login === null ? null : addresses.patternOf(login.page);
}

function example({ seen }: SeenPage, { understood }: Context): string | null {
  const [first] = seen;
  return first === undefined ? null : understood.addresses.safe(first.path);
}

/** For whom reading or writing is; null where neither a recording nor a description says anything of it. */
function accessFor(
  access: 'read' | 'write',
  pattern: string,
  page: SeenPage | null,
  requests: readonly DescribedRequest[],
  { understood, roles, scopes, seen: seenAll }: Context,
): Said | null {
  const { login, logout, signUp, people } = understood;
  const isWayIn = pattern === patternOfLogin(understood) && access === 'read';
  if (page?.kind === 'api' && [login?.path, logout?.path, signUp?.path].includes(pattern)) {
    return { audience: 'everyone', guess: null };
  }
  const stand = page === null ? null : standAt(page.seen, access);
  if (page !== null && stand !== null && pattern.includes('/:account') && stand.admitted.length > 0) {
    const isOwn = isOfOwners(page.seen, access, (path) => understood.addresses.ownerIn(path));
    const guess = stand.guest === null ? NO_GUEST : null;
    if (isOwn === true) return { audience: { account: 'account' }, guess };
    if (isOwn === null && stand.guest !== 'in') {
      return {
        audience: { account: 'account' },
        guess: 'that it is for its owner only: nobody was recorded at another’s',
      };
    }
  }
  const others = access === 'read' ? refusedByPages(pattern, seenAll) : [];
  const added = others.filter((who) => stand?.admitted.includes(who) === false);
  const own = stand === null ? null : { ...stand, refused: [...new Set([...stand.refused, ...added])] };
  const seen = own === null ? null : audienceAt(own, { pattern }, people, roles, isWayIn);
  if (seen !== null && added.length > 0) {
    const guess = `that ${added.join(', ')} may not, as at the page that loads it`;
    return { ...seen, guess: seen.guess === null ? guess : `${seen.guess}; ${guess}` };
  }
  if (seen !== null) return seen;
  const asked = requests.filter(({ method }) => isSafe(method) === (access === 'read'));
  const [first] = asked;
  if (first === undefined) return null;
  const told = asked.filter((each) => each.access !== null);
  const said = told.map((each) => audienceOf(each.access ?? 'signed-in', scopes));
  const strictest = said.find((each) => each.audience !== 'everyone') ?? said[0];
  if (strictest === undefined) {
    return { audience: 'signed-in', guess: first.guess ?? 'whom it is for is not described' };
  }
  const isOne = said.every((each) => isSame(each.audience, said[0]?.audience ?? null));
  const differing = isOne
    ? null
    : `${told.map(({ method }) => method).join(', ')} are described each for others`;
  return { audience: strictest.audience, guess: told[0]?.guess ?? strictest.guess ?? differing };
}

/** Who is refused at every page that loads something, and asked for it nowhere else. */
function refusedByPages(pattern: string, pages: readonly SeenPage[]): readonly string[] {
  const loading = pages.filter(({ loads }) => loads.includes(`GET ${pattern}`));
  const [first, ...others] = loading.map(({ seen }) => standAt(seen, 'read').refused);
  return first?.filter((who) => others.every((each) => each.includes(who))) ?? [];
}

function audienceOf(access: DescribedAccess, scopes: Set<string>): Said {
  if (typeof access === 'string') return { audience: access, guess: null };
  const lists = access.scopes.map((each) => each.map(roleOfScope));
  for (const role of lists.flat()) scopes.add(role);
  const [first = []] = lists;
  if (first.length === 0) return { audience: 'signed-in', guess: null };
  if (lists.every((each) => each.length === 1)) return { audience: lists.flat(), guess: null };
  return {
    audience: first.length === 1 ? first : { all: first },
    guess: lists.length > 1 ? 'the first of several ways in that are described' : null,
  };
}

/** A scope as a role can be called. */
function roleOfScope(scope: string): string {
  const name = scope
    .replace(/[^\p{L}\p{N}._@-]+/gu, '-')
    .replace(/^[^\p{L}]+/u, '')
    .slice(0, 60);
  return nameFault(name) === null ? name : `scope-${name}`;
}

function isSame(one: Plain, other: Plain): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

function methodsOf(
  page: SeenPage | null,
  requests: readonly DescribedRequest[],
  isOfShell: boolean,
): string[] {
  const all = new Set([
    ...(page?.seen ?? [])
      .filter(
        ({ verdict }) => !(verdict.kind === 'out' && (verdict.status === 405 || verdict.status === 404)),
      )
      .map(({ method }) => method as string),
    ...requests.map(({ method }) => method),
    ...(isOfShell ? ['GET'] : []),
  ]);
  if (all.has('HEAD')) all.add('GET');
  const found = METHODS.filter((method) => all.has(method) && !['HEAD', 'OPTIONS'].includes(method));
  return found.length === 0 ? ['GET'] : [...found];
}

/** The statuses with which writes are answered, the most frequent first. */
function statusesOf(page: SeenPage | null, requests: readonly DescribedRequest[]): number[] {
  const counts = new Map<number, number>();
  const add = (status: number | null, by: number) => {
    if (status !== null && [200, 201, 202, 204].includes(status)) {
      counts.set(status, (counts.get(status) ?? 0) + by);
    }
  };
  for (const { method, verdict } of page?.seen ?? []) {
    if (!isSafe(method) && verdict.kind === 'in' && verdict.afterWrite === null) add(verdict.status, 1);
  }
  if (counts.size === 0) {
    for (const { method, status } of requests) if (!isSafe(method)) add(status, 1);
  }
  return [...counts].sort((one, other) => other[1] - one[1]).map(([status]) => status);
}

/** Where a write sends its sender, with the parameters of the page where they are the same. */
function afterWrite({ pattern, seen }: SeenPage, { addresses, login, logout }: Understood): string | null {
  for (const { method, path, verdict } of seen) {
    if (isSafe(method) || verdict.kind !== 'in' || verdict.afterWrite === null) continue;
    if (path === login?.path || path === logout?.path) continue;
    const to = addresses.patternOf(verdict.afterWrite);
    if (to === null) continue;
    const isOfPage = parametersIn(to).every((name) => parametersIn(pattern).includes(name));
    return isOfPage ? to : addresses.safe(verdict.afterWrite);
  }
  return null;
}
