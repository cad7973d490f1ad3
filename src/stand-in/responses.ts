import { isSafe, providerAt, STAND_IN_COOKIE, type Body } from '../core/internal.js';
import { challengeOf } from './provider/code-challenge.js';
import { appPage, problemPage } from './pages/app-page.js';
import { writeRefusal } from './pages/refusal.js';
import type { View } from './pages/view.js';

/** A response ready for the wire. */
export interface Outgoing {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[]>>;
  readonly body: string;
}

const NO_REFUSAL: ReadonlySet<string> = new Set(['served', 'forwarded']);

/** Makes of the app half's response what goes over the wire. */
export function writeResponse(view: View): Outgoing {
  const { decided } = view;
  const { response } = decided;
  const status = statusOf(view);
  const isMoved = status >= 300 && status < 400;
  const { type, text } = isMoved ? NOTHING : bodyOf(view);
  const setCookie = cookiesOf(view);
  const { allow } = response;
  const headers: Record<string, string | string[]> = {
    'cache-control': cacheControl(view),
    ...(type === '' ? {} : { 'content-type': type }),
    ...(status === 303 && response.location === null ? { location: nextOf(response.body) ?? '/' } : {}),
    ...(response.location === null ? {} : { location: locationOf(view, response.location) }),
    ...(setCookie.length === 0 ? {} : { 'set-cookie': setCookie }),
    ...(allow.length === 0 ? {} : { allow: allow.join(', ') }),
    ...retryAfter(view),
    ...(response.authenticate === null ? {} : { 'www-authenticate': response.authenticate }),
  };
  return { status, headers, body: text };
}

/** After how many seconds a name that is locked out may try again (RFC 9110 §10.2.3). */
function retryAfter({ site, decided, request, time }: View): Readonly<Record<string, string>> {
  if (decided.explanation.reason !== 'locked-out') return {};
  const pausedAt = site.state.attempts.get(request.form.get('account') ?? '')?.pausedAt ?? null;
  const pause = decided.route?.login?.attempts?.pause ?? null;
  if (pausedAt === null || pause === null) return {};
  return { 'retry-after': String(Math.max(0, pausedAt + pause - time)) };
}

const NOTHING = { type: '', text: '' } as const;

/** Where tokens were asked for without script, which alone could keep them, the session has to do: on to the next page. */
function statusOf({ decided, request }: View): number {
  const { status, body } = decided.response;
  return request.accept === 'text/html' && nextOf(body) !== null ? 303 : status;
}

function nextOf(body: Body): string | null {
  return body.kind === 'tokens' || body.kind === 'next' || body.kind === 'refused-login' ? body.next : null;
}

/** A page that may be kept is asked for again all the same when its address is typed (RFC 9111 §5.2.2.4). */
function cacheControl({ decided: { response } }: View): string {
  const { body, location, noStore } = response;
  // RFC 6749 §5.1: a token response must not be stored; redirects here depend on who asks.
  if (noStore || location !== null || body.kind === 'tokens' || body.kind === 'token-error') {
    return 'no-store';
  }
  return 'private, no-cache';
}

/**
 * The policy's origin is this stand-in: an address on it is a path here, with one slash at its start whatever follows, since
 * two would lead off it. On the wire it is ASCII (RFC 9110 §10.2.2).
 */
function locationOf(view: View, location: string): string {
  const { site } = view;
  const provider = atProvider(view, location);
  if (provider !== null) return provider;
  const { origin } = site.policy;
  const isHere = location === origin || location.startsWith(`${origin}/`);
  const target = isHere ? `/${location.slice(origin.length).replace(/^[/\\]+/, '')}` : location;
  return target.toWellFormed().replace(/[^\u0021-\u007e]+/g, encodeURIComponent);
}

/** An address of an identity provider as a real one is asked (OpenID Connect Core §3.1.2.1); null for any other. */
function atProvider({ site, wire, decided }: View, location: string): string | null {
  const [issuer] = /^https?:\/\/[^/]+/.exec(location) ?? [];
  const provider = issuer === undefined ? undefined : providerAt(site.policy, issuer);
  const address = provider === undefined ? undefined : site.providers.get(provider.name);
  if (provider === undefined || address === undefined) return null;
  const to = new URL(address + location.slice(provider.issuer.length));
  const asked = to.searchParams.get('state');
  if (asked === null || decided.route?.task !== 'provider-start') return to.href;
  const sealed = wire.seals.seal(asked);
  const own = {
    client_id: 'app',
    redirect_uri: `${site.address}${provider.back.path}`,
    response_type: 'code',
    scope: 'openid email',
    state: sealed,
    ...(provider.nonce === 'absent' ? {} : { nonce: sealed }),
    ...(provider.pkce ? { code_challenge: challengeOf(sealed), code_challenge_method: 'S256' } : {}),
  };
  for (const [name, value] of Object.entries(own)) to.searchParams.set(name, value);
  return to.href;
}

function cookiesOf(view: View): string[] {
  const { decided, request, wire, time, signed, site, host } = view;
  // A browser on loopback would keep a secure cookie that it refuses at a plain-http origin such as the policy's.
  const fitting = decided.response.setCookie.filter(
    (header) => request.origin.startsWith('https:') || !header.includes('; Secure'),
  );
  // Under its own name it is one host, which no domain of the policy has in it.
  const isElsewhere = site.hosts.has(host);
  const kept = isElsewhere ? fitting : fitting.map((header) => header.replace(/; Domain=[^;]*/, ''));
  const cookies = kept.map((header) => wire.sealCookie(header, time, signed));
  const { reason, decidedBy } = decided.explanation;
  if (NO_REFUSAL.has(reason) || request.accept !== 'text/html') return cookies;
  const target = `${isSafe(request.method) ? '' : `${request.method} `}${request.path}${request.query}`;
  const line = decidedBy.length === 0 ? null : view.lineOf(decidedBy);
  return [
    ...cookies,
    `${STAND_IN_COOKIE}=${writeRefusal({ target, why: reason, line })}; Path=/; HttpOnly; SameSite=Lax`,
  ];
}

interface Content {
  readonly type: string;
  readonly text: string;
}

const json = (value: unknown, type = 'application/json'): Content => ({
  type,
  text: `${JSON.stringify(value)}\n`,
});

function bodyOf(view: View): Content {
  const { decided, request, site } = view;
  const { body, status } = decided.response;
  const wantsPage = request.accept === 'text/html';
  const isApi = decided.route?.kind === 'api';
  switch (body.kind) {
    case 'empty':
      return NOTHING;
    case 'page':
      return isApi || !wantsPage
        ? json({
            path: decided.route?.path ?? request.path,
            for: body.reader,
            ...(body.actor === null ? {} : { 'acted-by': body.actor }),
            menu: body.menu,
            parts: body.parts,
            loads: body.loads,
          })
        : page(appPage(view, body));
    case 'problem':
      return isApi || !wantsPage
        ? // RFC 9457 §3.1: about:blank, so the title is that of the status.
          json({ type: 'about:blank', title: body.title, status }, 'application/problem+json')
        : page(problemPage(view, body.title));
    case 'token-error':
      return json({ error: body.error });
    case 'next':
    case 'refused-login':
      return json({ next: body.next });
    case 'tokens': {
      const { account, roles, secondFactor } = body.claims;
      const inCookies = site.policy.tokens?.kept === 'cookie';
      return json({
        // RFC 6749 §5.1; tokens in cookies are not told to script, only what they say.
        ...(body.accessToken === '' ? {} : { access_token: view.signed, token_type: 'Bearer' }),
        expires_in: body.expiresIn,
        ...(body.refreshToken === null ? {} : { refresh_token: view.wire.seals.seal(body.refreshToken) }),
        ...(inCookies
          ? { claims: { sub: account, roles: [...roles], ...(secondFactor ? { amr: ['otp'] } : {}) } }
          : {}),
        ...(body.next === null ? {} : { next: body.next }),
      });
    }
  }
}

const page = (text: string): Content => ({ type: 'text/html; charset=utf-8', text });
