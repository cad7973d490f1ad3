import { parseUrl } from '../http/address.js';
import type { Act } from './acts.js';
import type { Exchange } from './evidence.js';

/** The request by which people log in, as it was recorded. */
export interface FoundLogin {
  readonly method: string;
  readonly path: string;
  /** The address of the page whose form it is. */
  readonly page: string;
  readonly isCall: boolean;
  /** The names of its fields. */
  readonly name: string | null;
  readonly password: string;
  readonly remember: string | null;
}

const PASSWORD = /pass(?:word|wd|phrase)?|passwort|\bpwd\b|\bpin\b|kennwort/i;
const NAME = /user|name|mail|login|account|identifier|^id$/i;
const REMEMBER = /remember|keep|stay|persist/i;
const IN = /log-?in|sign-?in|session|auth|token/i;
const OTHER = /sign-?up|regist|join|reset|forgot|change|profile|settings|account\/password/i;

/** The field of a request that has a password; undefined for none. */
function passwordField({ fields }: Exchange): string | undefined {
  return fields.find(([name]) => PASSWORD.test(lastOf(name)))?.[0];
}

/** Every password that a request sends. */
export function passwordsIn({ fields }: Exchange): string[] {
  return fields.flatMap(([name, value]) => (PASSWORD.test(lastOf(name)) ? [value] : []));
}

/** The last of the names that lead to a member of JSON. */
export function lastOf(name: string): string {
  return name.split('/').at(-1) ?? name;
}

/** The login: of the requests with a password the one that most looks like it, and lets in most often. */
export function loginIn(recorded: readonly (readonly Act[])[]): FoundLogin | null {
  const worth = new Map<string, { points: number; act: Act; page: string; fields: readonly string[] }>();
  for (const acts of recorded) {
    for (const [at, act] of acts.entries()) {
      const { first } = act;
      const field = first.method === 'GET' ? undefined : passwordField(first);
      if (field === undefined) continue;
      const key = `${first.method} ${first.path}`;
      const shape = (IN.test(first.path) ? 3 : 0) - (OTHER.test(first.path) ? 6 : 0);
      const passwords = passwordsIn(first).length;
      const points = 1 + shape - (passwords > 1 ? 3 : 0) + (worth.get(key)?.points ?? 0);
      const page = pageOf(acts, at, recorded);
      // A box that is not ticked is not sent: each recording may have fields that others lack.
      const fields = [...(worth.get(key)?.fields ?? []), ...first.fields.map(([name]) => name)];
      worth.set(key, { points, act, page: worth.get(key)?.page ?? page, fields });
    }
  }
  const [best] = [...worth.values()].sort((one, other) => other.points - one.points);
  if (best === undefined || best.points <= 0) return null;
  const { first, kind } = best.act;
  const password = passwordField(first) ?? 'password';
  const others = best.fields.filter((name) => name !== password);
  return {
    method: first.method,
    path: first.path,
    page: best.page,
    isCall: kind === 'call',
    name:
      others.find((name) => NAME.test(lastOf(name)) && !REMEMBER.test(name)) ??
      others.find((name) => !/csrf|token|next|return|back/i.test(name)) ??
      null,
    password,
    remember: others.find((name) => REMEMBER.test(lastOf(name))) ?? null,
  };
}

/** The path of a whole address; null for none. */
export function pathOf(address: string | null): string | null {
  return address === null ? null : (parseUrl(address)?.pathname ?? null);
}

/**
 * The page whose form or script sent something: as the request says, as somebody looked, by its name, or the last that was loaded.
 *
 * @param all where a page may be looked for by its name; left out: nowhere
 */
export function pageOf(acts: readonly Act[], at: number, all: readonly (readonly Act[])[] = []): string {
  const first = acts[at]?.first;
  const before = acts.slice(0, at).findLast(({ kind, last }) => kind === 'page' && last.status < 300)?.last;
  const isCalledSo = ({ kind, last }: Act) =>
    kind === 'page' && last.status < 300 && /(?:log|sign)-?in\/?$/i.test(last.path);
  return (
    pathOf(first?.referer ?? null) ??
    pathOf(before?.landed ?? null) ??
    all.flat().find(isCalledSo)?.last.path ??
    before?.path ??
    first?.path ??
    '/'
  );
}

/** What came of sending a form with a password. */
export function loginOutcome(act: Act, login: Pick<FoundLogin, 'page'>): 'in' | 'wrong' {
  const { first, last } = act;
  if (first.status >= 400) return 'wrong';
  if (act.hops.length > 1) return last.path === login.page ? 'wrong' : 'in';
  if (first.location !== null) return pathOf(first.location) === login.page ? 'wrong' : 'in';
  // A page in answer, with a field for a password in it, is the form again.
  const isFormAgain = first.type === 'text/html' && /type=["']?password/i.test(first.body ?? '');
  return isFormAgain ? 'wrong' : 'in';
}

/** Under what name somebody logged in; null where the request does not tell. */
export function loginName({ first }: Act, login: FoundLogin): string | null {
  return first.fields.find(([name]) => name === login.name)?.[1] ?? null;
}
