import type { SetCookie } from '../http/cookies.js';
import { formatDuration } from '../time/duration.js';
import type { Plain, Section } from './drafted.js';
import type { DescribedScheme } from './evidence.js';
import { csrfIn, type FoundCookies, type FoundSession } from './session-found.js';
import type { Understood } from './story.js';
import type { FoundWays } from './ways-found.js';

/** The sections on what a login hands out: `session`, `remember`, `tokens`, `csrf` and `api-keys`. */
export function cookieSections(
  understood: Understood,
  { session, remember }: FoundCookies,
  ways: FoundWays,
  schemes: readonly DescribedScheme[],
): (Section | null)[] {
  const csrf = understood.login === null ? null : csrfIn(understood);
  const cookie = understood.tokens?.refresh?.cookie ?? null;
  const isApart = csrf?.isOfGuests === true && session?.starts === 'at-login';
  return [
    session === null
      ? describedSession(understood, schemes)
      : sessionSection(session, csrf !== null || ways.returns?.kept === 'session'),
    remember === null
      ? null
      : {
          key: 'remember',
          value: { life: formatDuration(remember.maxAge ?? 0), cookie: cookieOf(remember) },
          guess: 'whether each use changes the token',
        },
    tokensSection(understood, schemes),
    promisesSection(understood),
    cookie === null ? null : acceptedSection(cookie),
    csrf === null
      ? null
      : {
          key: 'csrf',
          value: {
            token: csrf.isEachAnother ? 'per-request' : 'per-session',
            ...(csrf.field === '_csrf' ? {} : { field: csrf.field }),
            ...(isApart ? { origin: 'checked' } : {}),
          },
          guess: [
            csrf.isEachAnother
              ? 'whether the token of an older form is taken'
              : 'what a form without the token is answered',
            ...(isApart
              ? [
                  'the token of guests, who have no session, is held against something else: origin stands for that',
                ]
              : []),
          ].join('; '),
        },
    keysSection(schemes),
  ];
}

function sessionSection(
  { cookie, starts, isProlonged, rememberedFor, isCleared }: FoundSession,
  isForGuests: boolean,
): Section {
  const life = cookie.maxAge;
  const value: Record<string, Plain> = {};
  const usual = isForGuests ? 'with-a-form' : 'at-login';
  if (starts !== usual) value['starts'] = starts;
  if (life !== null && isProlonged) value['idle'] = formatDuration(life);
  else if (life !== null) Object.assign(value, { absolute: formatDuration(life), renews: 'never' });
  value['cookie'] = { ...cookieOf(cookie), ...(life === null ? {} : { life: formatDuration(life) }) };
  const guesses =
    life === null
      ? ['when it ends was not seen: say idle and absolute']
      : [`that the app forgets it when its cookie ends, after ${formatDuration(life)}`];
  if (rememberedFor !== null) {
    guesses.push(
      `that of whoever is remembered, which is kept for ${formatDuration(rememberedFor)}, is left out: a policy has a cookie of its own for that`,
    );
  }
  if (isCleared === false) guesses.push('the logout left the cookie in the browser: say what it clears');
  return { key: 'session', value, guess: guesses.join('; ') };
}

/** How a cookie is set, where it is not the careful way. */
function cookieOf({ name, secure, httpOnly, sameSite, path, domain }: SetCookie): Record<string, Plain> {
  return {
    name,
    ...(secure ? {} : { secure: false }),
    ...(httpOnly ? {} : { 'http-only': false }),
    ...(sameSite === 'lax' ? {} : { 'same-site': sameSite ?? 'unset' }),
    ...(path === null || path === '/' ? {} : { path }),
    ...(domain === null ? {} : { domain }),
  };
}

function describedSession({ login }: Understood, schemes: readonly DescribedScheme[]): Section | null {
  const cookie = schemes.find(({ kind }) => kind === 'cookie');
  if (login !== null || cookie?.kind !== 'cookie') return null;
  return {
    key: 'session',
    value: { cookie: { name: cookie.name } },
    guess: 'when it ends is not described: say idle and absolute',
  };
}

/** Where a refresh token is exchanged unless a policy says otherwise. */
const USUAL_REFRESH = 'POST /oauth/token';
const SAME_REQUEST =
  'refresh tokens, which are left out: their request is that of the login, and a policy has one of its own for each';

function tokensSection({ tokens, login }: Understood, schemes: readonly DescribedScheme[]): Section | null {
  if (tokens === null) {
    const scheme = schemes.find(({ kind }) => kind === 'tokens');
    if (login !== null || scheme?.kind !== 'tokens') return null;
    return {
      key: 'tokens',
      value: {
        access: { life: '15m' },
        ...(scheme.refresh === null || scheme.refresh === scheme.submit
          ? {}
          : { refresh: { life: '1d' }, submit: scheme.refresh }),
      },
      guess:
        scheme.refresh !== null && scheme.refresh === scheme.submit
          ? `how long tokens are good is not described; ${SAME_REQUEST}`
          : 'how long tokens are good is not described',
    };
  }
  const guesses: string[] = [];
  const { accessLife, outlivesPage, refresh } = tokens;
  const access: Record<string, Plain> = { life: formatDuration(Math.max(1, accessLife ?? 900)) };
  if (accessLife === null) guesses.push('how long an access token is good');
  const cookie = refresh?.cookie ?? null;
  if (cookie !== null) access['kept'] = 'browser';
  else if (outlivesPage) access['kept'] = 'tab';
  guesses.push(
    cookie !== null
      ? `kept in the browser stands for the cookie ${cookie.name}, for which each page gets a new token`
      : outlivesPage
        ? 'whether script keeps the tokens for its tab or for the browser'
        : 'where script keeps the tokens',
  );
  const value: Record<string, Plain> = { access };
  const isOwnRequest = (refresh?.submit ?? USUAL_REFRESH) !== `${login?.method ?? ''} ${login?.path ?? ''}`;
  if (refresh !== null && !isOwnRequest) guesses.push(SAME_REQUEST);
  if (refresh !== null && isOwnRequest) {
    const life = cookie?.maxAge ?? null;
    value['refresh'] = {
      life: life === null ? '1d' : formatDuration(life),
      ...(refresh.rotates === null ? {} : { rotates: refresh.rotates }),
    };
    if (refresh.submit !== null) value['submit'] = refresh.submit;
    else guesses.push('where a refresh token is exchanged');
    if (refresh.refused !== null && refresh.refused !== 400) value['refused'] = refresh.refused;
    guesses.push(
      life === null ? 'how long a refresh token is good' : 'that the app takes a refresh token as long',
    );
  }
  return { key: 'tokens', value, guess: guesses.join('; ') };
}

/** How long an access token works on once it should not: it cannot be called back. */
function promisesSection({ tokens }: Understood): Section | null {
  if (tokens === null) return null;
  const life = formatDuration(Math.max(1, tokens.accessLife ?? 900));
  const lines = [
    { after: 'logout', copied: 'access', 'works-at-most': life },
    { after: 'role-removed', 'access-lasts-at-most': life },
    { after: 'suspended', 'access-lasts-at-most': life },
  ];
  return {
    key: 'promises',
    value: { lines: lines.map((value) => ({ key: null, value })) },
    guess: 'that an access token stays good until its life is over, whatever becomes of its owner',
  };
}

/** A refresh token in a cookie that script cannot read lies where no script reads it. */
function acceptedSection({ name, httpOnly }: SetCookie): Section | null {
  const value = {
    check: 'tokens-kept-in-browser',
    because: `no script reads the refresh token: it is the cookie ${name}`,
  };
  return httpOnly ? { key: 'accepted', value: { lines: [{ key: null, value }] } } : null;
}

function keysSection(schemes: readonly DescribedScheme[]): Section | null {
  const key = schemes.find(({ kind }) => kind === 'key');
  if (key?.kind !== 'key') return null;
  return {
    key: 'api-keys',
    value: { sent: key.sent, ...(key.name === null ? {} : { name: key.name }) },
    guess:
      schemes.filter(({ kind }) => kind === 'key').length > 1
        ? 'several ways to show a key are described, and this is the first; how long one is good is not'
        : 'how long a key is good is not described',
  };
}
