import { actsOf, originOf, type Act } from './acts.js';
import { Addresses } from './addresses.js';
import type { Evidence, Exchange, Recording } from './evidence.js';
import { loginIn, loginName, loginOutcome, passwordsIn, pathOf, type FoundLogin } from './login-found.js';
import { SessionEnds } from './session-ends.js';
import { signUpIn, type FoundSignUp } from './sign-up-found.js';
import { ledNext, scriptOf, type Script, type Stay } from './stays.js';
import type { Part, Told } from './told.js';
import { tokensIn, type FoundTokens } from './tokens-found.js';

/** A recording as it is understood. */
export interface Story {
  readonly recording: Recording;
  readonly told: readonly Told[];
  /** Where its person was, in an app of a single page. */
  readonly stays: readonly Stay[];
}

/** What all recordings come to. */
export interface Understood {
  readonly origin: string | null;
  readonly stories: readonly Story[];
  readonly login: FoundLogin | null;
  readonly logout: { readonly method: string; readonly path: string; readonly act: Act } | null;
  /** The page at which a one-time code is given, and the request that takes it. */
  readonly code: { readonly page: string; readonly method: string; readonly path: string } | null;
  readonly signUp: FoundSignUp | null;
  readonly tokens: FoundTokens | null;
  readonly addresses: Addresses;
  /** What script does, where the app answers every address of a page with the same text; null where it does not. */
  readonly script: Script | null;
  /** Every password that was recorded: none of them may be made up. */
  readonly passwords: ReadonlySet<string>;
  /** Who gave a one-time code. */
  readonly owing: readonly string[];
  /** Everybody who was recorded, in order. */
  readonly people: readonly string[];
}

const OUT = /(?:log|sign)[-_]?(?:out|off)/i;
const CODE = /code|otp|totp|2fa|mfa|one-?time/i;

/** Reads recordings: who is signed in when, and what is a login and a logout. */
export function understand({ recordings, descriptions }: Evidence): Understood {
  const origin = originOf(recordings) ?? descriptions.find((each) => each.origin !== null)?.origin ?? null;
  const recorded = recordings.map(({ exchanges }) => (origin === null ? [] : actsOf(exchanges, origin)));
  const login = loginIn(recorded);
  const names = new Map<string, string>();
  for (const [index, acts] of recorded.entries()) {
    const person = recordings[index]?.person ?? null;
    for (const act of acts) {
      const name = login !== null && isRequest(act.first, login) ? loginName(act, login) : null;
      if (person !== null && name !== null && name !== '' && !names.has(name)) names.set(name, person);
    }
  }
  const described = descriptions.flatMap(({ requests }) => requests.map(({ pattern }) => pattern));
  const addresses = new Addresses(described, names);
  const all = recorded.flat();
  const lives = new Map(recordings.flatMap((each) => [...each.lives]));
  const tokens = login === null ? null : tokensIn(all, login, lives);
  const cookies = login === null ? new Set<string>() : loginCookies(all, login);
  const out = all.find(({ first }) => isLogout(first)) ?? all.find((act) => clears(act, cookies));
  const logout = out === undefined ? null : { method: out.first.method, path: out.first.path, act: out };
  const code = login === null ? null : codeIn(recorded, login);
  const signUp = login === null ? null : signUpIn(recorded, recordings, login);
  const ends = login === null ? null : new SessionEnds(recorded, login, cookies);
  const ways = { login, tokens, code, logout, signUp };
  const done = recordings.map(({ person }, index) =>
    toldOf(recorded[index] ?? [], person, ways, { ends, cookies }),
  );
  const script = isSinglePage(all) ? scriptOf(done, addresses) : null;
  const stories = recordings.map((recording, index): Story => {
    const told = done[index] ?? [];
    return {
      recording,
      told: told.map((each, at) => ({
        ...each,
        led: script === null ? ledNext(told, at) : (script.led[index]?.[at] ?? null),
      })),
      stays: script?.stays[index] ?? [],
    };
  });
  const people = recordings.flatMap(({ person }) => (person === null ? [] : [person]));
  return {
    origin,
    stories,
    login,
    logout,
    code,
    signUp,
    tokens,
    addresses,
    script,
    passwords: new Set(all.flatMap(({ first }) => passwordsIn(first))),
    owing: stories.flatMap(({ told }) =>
      told.flatMap(({ part, person }) => (part === 'code' && person !== null ? [person] : [])),
    ),
    people: [...new Set(people)],
  };
}

/** The requests by which people come and go. */
type Ways = Pick<Understood, 'login' | 'tokens' | 'code' | 'logout' | 'signUp'>;

function toldOf(
  acts: readonly Act[],
  person: string | null,
  ways: Ways,
  { ends, cookies }: { readonly ends: SessionEnds | null; readonly cookies: ReadonlySet<string> },
): Told[] {
  const { code } = ways;
  // Whoever logs in nowhere, and has cookies or a token, was signed in before.
  const isInAlready =
    person !== null &&
    !acts.some((act) => ['login', 'sign-up'].includes(partOf(act, ways))) &&
    acts.some(({ first }) => first.cookies.size > 0 || first.bearer !== null);
  let who: string | null = isInAlready ? person : null;
  return acts.map((act, at): Told => {
    const before = who;
    let owes = false;
    const part = partOf(act, ways);
    if (part === 'login') {
      owes = code !== null && shownAfter(acts, at) === code.page;
      who = owes ? null : person;
    } else if (part === 'sign-up') {
      if (signsIn(acts, at, cookies, ends)) who = person;
    } else if (part === 'code' && isTaken(act, code)) {
      who = person;
    } else if (part === 'logout' && act.first.status < 400) {
      who = null;
    } else if (who !== null && ends?.isOver(acts, at) === true) {
      // The session is over, however that came about.
      return { act, part, who: (who = null), after: null, person: null, owes, led: null };
    }
    return { act, part, who: before, after: who, person, owes, led: null };
  });
}

/** Whether a code was taken: script is told by the status, a form by where it leads. */
function isTaken({ kind, hops, first, last }: Act, code: Understood['code']): boolean {
  if (kind === 'call') return first.status < 400;
  return hops.length > 1 ? last.path !== code?.page : first.location !== null;
}

/** The page that was shown after an act: by redirects, or after a call by where script went. */
function shownAfter(acts: readonly Act[], at: number): string | null {
  const [act, next] = [acts[at], acts[at + 1]];
  if (act?.kind === 'page') return act.last.path;
  const landed = pathOf(act?.last.landed ?? null);
  if (landed !== null) return landed;
  return next?.kind === 'page' ? next.last.path : pathOf(next?.first.referer ?? null);
}

/** Whether a sign-up let its sender in as well: by a cookie of the login, or as what comes after it shows. */
function signsIn(
  acts: readonly Act[],
  at: number,
  cookies: ReadonlySet<string>,
  ends: SessionEnds | null,
): boolean {
  const set = acts[at]?.hops.flatMap(({ setCookies }) => setCookies) ?? [];
  return (
    set.some(({ name, value }) => cookies.has(name) && value !== '') || ends?.isInAfter(acts, at) === true
  );
}

function partOf(act: Act, { login, tokens, code, logout, signUp }: Ways): Part {
  const { first } = act;
  if (login !== null && isRequest(first, login)) {
    return loginOutcome(act, login) === 'in' ? 'login' : 'wrong login';
  }
  if (signUp !== null && isRequest(first, signUp)) {
    return loginOutcome(act, signUp) === 'in' ? 'sign-up' : 'other';
  }
  if (isLogout(first) || (logout !== null && isRequest(first, logout))) return 'logout';
  if (tokens?.refresh?.submit === `${first.method} ${first.path}`) return 'refresh';
  return code !== null && isRequest(first, code) ? 'code' : 'other';
}

/** The names of the cookies that logins set. */
function loginCookies(acts: readonly Act[], login: FoundLogin): ReadonlySet<string> {
  const logins = acts.filter(({ first }) => isRequest(first, login));
  return new Set(logins.flatMap(({ first }) => first.setCookies.map(({ name }) => name)));
}

/** Whether something that was sent had a cookie of the login dropped, as only a logout does. */
function clears({ first }: Act, cookies: ReadonlySet<string>): boolean {
  if (first.method === 'GET' || first.status >= 400) return false;
  return first.setCookies.some(
    ({ name, value, maxAge }) => cookies.has(name) && (value === '' || (maxAge ?? 1) <= 0),
  );
}

function isLogout({ path, method, type, status }: Exchange): boolean {
  if (method === 'OPTIONS' || method === 'HEAD' || status === 404 || status === 405) return false;
  return OUT.test(path) && (method !== 'GET' || type === 'text/html' || status < 400);
}

function isRequest(
  { method, path }: Exchange,
  of: { readonly method: string; readonly path: string },
): boolean {
  return method === of.method && path === of.path;
}

/** Where logins lead that ask for a code: to a page whose form sends one. */
function codeIn(recorded: readonly (readonly Act[])[], login: FoundLogin): Understood['code'] {
  for (const acts of recorded) {
    for (const [at, act] of acts.entries()) {
      if (!isRequest(act.first, login) || loginOutcome(act, login) !== 'in') continue;
      const after = acts.slice(at + 1);
      const next = after.find(({ first }) => first.method !== 'GET');
      const field = next?.first.fields.find(([name]) => CODE.test(name));
      if (next === undefined || field === undefined || isRequest(next.first, login)) continue;
      const shown = pathOf(next.first.referer) ?? shownAfter(acts, acts.indexOf(next) - 1);
      const page = login.isCall ? (shown ?? act.last.path) : act.last.path;
      return { page, method: next.first.method, path: next.first.path };
    }
  }
  return null;
}

/** One text for all is no coincidence once it came at two addresses, and at none another; numbers used once may differ in it. */
function isSinglePage(acts: readonly Act[]): boolean {
  const shown = acts.filter(
    ({ kind, last }) => kind === 'page' && last.status === 200 && last.type === 'text/html',
  );
  const bodies = new Set(
    shown.map(
      ({ last: { body, size } }) =>
        body?.replace(/\b(?=[\w+=-]*\d)[\w+=-]{16,}/g, '') ?? (size === null ? null : `${size} octets`),
    ),
  );
  return bodies.size === 1 && !bodies.has(null) && new Set(shown.map(({ last }) => last.path)).size > 1;
}
