import type { SetCookie } from '../http/cookies.js';
import type { Act } from './acts.js';
import { lastOf, loginOutcome, type FoundLogin } from './login-found.js';

/** The tokens that a login hands out to script, as they were recorded. */
export interface FoundTokens {
  /** Seconds; null where neither the answer nor the token says. */
  readonly accessLife: number | null;
  /** Whether a page that was loaded anew still had it. */
  readonly outlivesPage: boolean;
  readonly refresh: {
    /** The request that exchanges it; null where none was recorded. */
    readonly submit: string | null;
    /** null where no exchange was recorded. */
    readonly rotates: boolean | null;
    /** The status of a refused exchange; null where none was recorded. */
    readonly refused: number | null;
    /** The cookie that has it, where script never sees it; null where script holds it. */
    readonly cookie: SetCookie | null;
  } | null;
}

const ACCESS = /^(?:access_?token|id_?token|token|jwt|access)$/i;
const REFRESH = /refresh/i;

/** What a login answers to script: tokens that later requests carry, or that are called so. */
export function tokensIn(
  acts: readonly Act[],
  login: FoundLogin,
  lives: ReadonlyMap<string, number>,
): FoundTokens | null {
  const logins = acts.filter(
    ({ first }) => first.method === login.method && first.path === login.path && first.type !== 'text/html',
  );
  const bearers = new Set(acts.flatMap(({ hops }) => hops.map(({ bearer }) => bearer)));
  const good = logins.filter((act) => loginOutcome(act, login) === 'in');
  for (const act of good) {
    const texts = textsIn(act.first.body);
    const access =
      texts.find(([, value]) => bearers.has(value)) ?? texts.find(([name]) => ACCESS.test(lastOf(name)));
    if (access === undefined) continue;
    const refresh = texts.find(([name]) => REFRESH.test(lastOf(name)));
    const cookie = refresh === undefined ? byCookie(acts, login, bearers) : null;
    return {
      accessLife: lifeOf(act.first.body, access[1], lives),
      outlivesPage: cookie !== null || outlivesPage(acts, login),
      refresh: refresh === undefined ? cookie : refreshIn(acts, refresh[0], login),
    };
  }
  // A recording without the bodies of its answers still shows what was sent.
  const [sent] = [...bearers].filter((bearer) => bearer !== null);
  if (good.length === 0 || sent === undefined) return null;
  const refresh = refreshIn(acts, '', login);
  return {
    accessLife: lives.get(sent) ?? null,
    outlivesPage: outlivesPage(acts, login),
    refresh: refresh === null || refresh.submit === null ? null : refresh,
  };
}

/** Where refresh tokens are exchanged, and what for. */
function refreshIn(acts: readonly Act[], member: string, login: FoundLogin): FoundTokens['refresh'] {
  const sent = acts.filter(
    ({ first }) =>
      first.method === 'POST' &&
      first.path !== login.path &&
      first.fields.some(([name]) => REFRESH.test(lastOf(name))) &&
      !/(?:log|sign)[-_]?(?:out|off)|revoke/i.test(first.path),
  );
  const good = sent.find(({ first }) => first.status < 300);
  const bad = sent.find(({ first }) => first.status >= 400);
  const [one] = sent;
  const fresh = textsIn(good?.first.body ?? null).find(([name]) => lastOf(name) === lastOf(member))?.[1];
  const old = good?.first.fields.find(([name]) => REFRESH.test(lastOf(name)))?.[1];
  return {
    submit: one === undefined ? null : `${one.first.method} ${one.first.path}`,
    rotates: good === undefined ? null : fresh !== undefined && fresh !== old,
    refused: bad?.first.status ?? null,
    cookie: null,
  };
}

/** Where a cookie of the login is exchanged for access tokens; null where nothing is. */
function byCookie(
  acts: readonly Act[],
  login: FoundLogin,
  bearers: ReadonlySet<string | null>,
): FoundTokens['refresh'] {
  const set = acts.flatMap(({ first }) =>
    first.method === login.method && first.path === login.path ? first.setCookies : [],
  );
  // A recording that was saved without cookies has only the words of the address to go by.
  const isShown = ({ path, cookies }: Act['first']) =>
    set.length === 0 ? /refresh|renew/i.test(path) : set.some(({ name }) => cookies.has(name));
  const isExchange = ({ kind, first }: Act) =>
    kind === 'call' &&
    first.path !== login.path &&
    first.status < 300 &&
    isShown(first) &&
    textsIn(first.body).some(([name, value]) => bearers.has(value) || /^access_?token$/i.test(lastOf(name)));
  const good = acts.find(isExchange);
  const cookie =
    set.find(({ name }) => good?.first.cookies.has(name) === true && REFRESH.test(name)) ??
    set.find(({ name }) => good?.first.cookies.has(name) === true);
  if (good === undefined) return null;
  const { method, path, cookies, setCookies } = good.first;
  const bad = acts.find(({ first }) => first.method === method && first.path === path && first.status >= 400);
  return {
    submit: `${method} ${path}`,
    rotates:
      cookie === undefined
        ? null
        : setCookies.some(({ name, value }) => name === cookie.name && value !== cookies.get(name)),
    refused: bad?.first.status ?? null,
    cookie: cookie ?? null,
  };
}

/** Whether script still had a token after its page was loaded anew, without a login in between. */
function outlivesPage(acts: readonly Act[], login: FoundLogin): boolean {
  let [hasToken, isAnew] = [false, false];
  for (const { kind, first } of acts) {
    if (first.method === login.method && first.path === login.path) [hasToken, isAnew] = [true, false];
    else if (kind === 'page') isAnew = hasToken;
    else if (first.bearer !== null && isAnew) return true;
  }
  return false;
}

/** How long an access token is good: as the answer says (RFC 6749 §5.1), or the token itself (RFC 7519 §4.1.4); in seconds. */
function lifeOf(body: string | null, token: string, lives: ReadonlyMap<string, number>): number | null {
  const said = numbersIn(body).find(([name]) => /^expires_?in$/i.test(lastOf(name)))?.[1];
  if (said !== undefined) return said;
  return lives.get(token) ?? null;
}

/** Deep enough for what apps answer, and no deeper than costs nothing. */
const DEEPEST = 4;

/** All members of a JSON text, by their names joined with slashes. */
export function membersIn(text: string | null): (readonly [name: string, value: unknown])[] {
  if (text === null || !/^\s*[[{]/.test(text)) return [];
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return [];
  }
  return membersOf(value, '', 0);
}

function membersOf(value: unknown, name: string, depth: number): (readonly [string, unknown])[] {
  if (typeof value !== 'object' || value === null || depth > DEEPEST) return [[name, value]];
  return Object.entries(value).flatMap(([key, each]) =>
    membersOf(each, name === '' ? key : `${name}/${key}`, depth + 1),
  );
}

function textsIn(text: string | null): (readonly [string, string])[] {
  return membersIn(text).flatMap(([name, value]) =>
    typeof value === 'string' ? [[name, value] as const] : [],
  );
}

function numbersIn(text: string | null): (readonly [string, number])[] {
  return membersIn(text).flatMap(([name, value]) =>
    typeof value === 'number' ? [[name, value] as const] : [],
  );
}
