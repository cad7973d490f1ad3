import { parseUrl, queryParameters } from '../http/address.js';
import type { Act } from './acts.js';
import type { Addresses } from './addresses.js';
import { pathOf, type FoundLogin } from './login-found.js';
import type { Understood } from './story.js';
import type { Told } from './told.js';

/** How people come back to what they asked for; null where it was not seen. */
export type FoundReturn =
  { readonly kept: 'session' } | { readonly kept: 'address'; readonly param: string } | null;

/** Where people came out after a login; what they had asked for before it is told apart. */
export interface FoundWays {
  /** The landing of each person, as it was seen. */
  readonly landings: ReadonlyMap<string, string>;
  readonly returns: FoundReturn;
  /** A page that a login led back to; null where none did. */
  readonly returnedTo: string | null;
  /** Whether a login led back to a page that then refused its visitor. */
  readonly returnsToRefused: boolean;
  /** What a refused login was answered with; null where none was recorded. */
  readonly wrong:
    string | { readonly shown: true; readonly status: number } | { readonly status: number } | null;
  /** What a wrong code was answered with, as for a login. */
  readonly wrongCode: FoundWays['wrong'];
  /** Where each person came out after a sign-up. */
  readonly signUpLands: ReadonlyMap<string, string>;
  /** Where each person came out after a logout. */
  readonly logoutLands: ReadonlyMap<string, string>;
}

/** Where logins and logouts lead. */
export function waysIn(understood: Understood): FoundWays {
  const { stories, login, logout, code } = understood;
  const landings = new Map<string, string>();
  let returnsToRefused = false;
  let returnedTo: string | null = null;
  const logoutLands = new Map<string, string>();
  const signUpLands = new Map<string, string>();
  let [returns, wrong, wrongCode]: [FoundReturn, FoundWays['wrong'], FoundWays['wrong']] = [null, null, null];
  for (const { told } of stories) {
    let asked: string | null = null;
    for (const [at, { act, part, person, who, after, owes, led }] of told.entries()) {
      if (login === null) continue;
      const isIn = (part === 'login' && !owes) || (part === 'code' && after !== null);
      if (part === 'wrong login') wrong ??= wrongOf(act, login.page, understood.addresses);
      if (part === 'code' && after === null && code !== null) {
        wrongCode ??= wrongOf(act, code.page, understood.addresses);
      }
      if (isIn && person !== null) {
        const lands = landsAt(told, at, login);
        if (asked !== null) returns ??= carried(told, at, login, asked);
        if (lands === null) continue;
        if (lands === asked) {
          returns ??= { kept: 'session' };
          returnedTo ??= understood.addresses.safe(lands);
          returnsToRefused ||= act.kind === 'page' && act.last.status === 403;
        } else if (!landings.has(person)) landings.set(person, lands);
        asked = null;
      } else if (part === 'sign-up' && person !== null) {
        const lands = landsAt(told, at, login);
        if (lands !== null) signUpLands.set(person, lands);
        asked = null;
      } else if (part === 'logout' && logout !== null) {
        const lands = landsAt(told, at, login);
        if (person !== null && lands !== null) logoutLands.set(person, lands);
      } else if (act.kind === 'page' && who !== null && act.first.path === login.page) {
        // Whoever is signed in and comes back to the login is sent to their landing.
        const sent = act.hops.length > 1 ? act.last.path : (led?.path ?? null);
        if (sent !== null && sent !== login.page && !landings.has(who)) landings.set(who, sent);
      } else if (act.kind === 'page' && who === null) {
        const isSentToLogin = act.last.path === login.page && act.hops.length > 1;
        if (isSentToLogin || led?.path === login.page) asked = act.first.path;
        else if (act.last.path !== login.page) asked = null;
      }
    }
  }
  return { landings, returns, returnedTo, returnsToRefused, wrong, wrongCode, signUpLands, logoutLands };
}

/** Where somebody was shown a page after an act: by redirects, or as far as later requests of script tell. */
export function landsAt(told: readonly Told[], at: number, login: FoundLogin): string | null {
  const act = told[at]?.act;
  if (act === undefined) return null;
  if (act.kind === 'page') return act.hops.length > 1 ? act.last.path : null;
  const led = told[at]?.led ?? null;
  if (led !== null) return led.path === login.page && told[at]?.part === 'login' ? null : led.path;
  const next = told[at + 1]?.act;
  return next?.kind === 'page' && next.first.referer !== null ? next.last.path : null;
}

/** The parameter of the login's address that has the page which was asked for. */
function carried(told: readonly Told[], at: number, login: FoundLogin, asked: string): FoundReturn {
  const addresses = told
    .slice(0, at + 1)
    .flatMap(({ act, led }) => [
      ...(led?.path === login.page ? [led.query] : []),
      ...act.hops.flatMap(({ path, query }) => (path === login.page ? [query] : [])),
      ...act.hops.flatMap(({ referer }) => (pathOf(referer) === login.page ? [queryOf(referer)] : [])),
    ]);
  for (const query of addresses.reverse()) {
    const param = queryParameters(query).find(([, value]) => value.split('?')[0] === asked)?.[0];
    if (param !== undefined) return { kept: 'address', param };
  }
  return null;
}

function queryOf(address: string | null): string {
  return (address === null ? null : parseUrl(address))?.search.replace(/^\?/, '') ?? '';
}

function wrongOf({ first, last, hops, kind }: Act, page: string, addresses: Addresses): FoundWays['wrong'] {
  if (kind === 'call') return { status: first.status };
  if (hops.length === 1 && first.location === null) return { shown: true, status: first.status };
  // What is wrong often stands in the query, and that it came is all that it tells.
  const marks = queryParameters(last.query).filter(
    ([name, value]) =>
      /^[\w-]{1,20}$/.test(`${name}${value}`) && name !== '' && !addresses.isLoginName(value),
  );
  const query = marks.map(([name, value]) => (value === '' ? name : `${name}=${value}`)).join('&');
  const address = `${last.path}${query === '' ? '' : `?${query}`}`;
  return address === page ? null : address;
}
