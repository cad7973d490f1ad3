import {
  type AppState,
  cookieValue,
  type Decided,
  indexOf,
  linkCookie,
  type Policy,
  PROVIDER_COOKIE,
  readSetCookie,
  type Seconds,
  stateCookie,
  TOKEN_COOKIES,
} from '../core/internal.js';
import type { AccessTokens } from './access-tokens.js';
import { Seals } from './seals.js';

/** Cookies with a life of their own whose end is remembered; more push the oldest out. */
const MOST_ENDS = 50_000;

/**
 * Credentials on their way between the app half, which only numbers them, and the wire, where nobody must be able to
 * guess one: access tokens are signed, everything else is sealed.
 */
export class Wire {
  private readonly sealed: readonly string[];
  private readonly signed: string | null;
  private readonly ends = new Map<string, Seconds>();

  constructor(
    private readonly policy: Policy,
    readonly seals: Seals,
    readonly tokens: AccessTokens,
    private readonly epoch: Seconds,
  ) {
    const { session, remember, linkLogin, providers, tokens: rules } = policy;
    const inCookies = rules?.kept === 'cookie';
    this.signed = inCookies ? TOKEN_COOKIES.access : null;
    this.sealed = [
      session.cookie.name,
      ...session.cookie.others,
      ...(remember === null ? [] : [remember.cookie.name, ...remember.cookie.others]),
      ...(inCookies ? [TOKEN_COOKIES.refresh] : []),
      ...(linkLogin?.sameBrowser === true ? [linkCookie(policy).name] : []),
      ...(providers.length > 0 ? [stateCookie(policy).name] : []),
    ];
  }

  /** The same with a new key: nothing that was handed out before is taken any more. */
  renewed(): Wire {
    return new Wire(this.policy, new Seals(), this.tokens, this.epoch);
  }

  /** The names of all cookies that the app half reads. */
  get cookieNames(): readonly string[] {
    return this.signed === null ? this.sealed : [...this.sealed, this.signed];
  }

  /** An access token by its handle, with what the app half has on record of it. */
  private async sign(handle: string, state: AppState): Promise<string> {
    const record = state.accessTokens[indexOf('access', handle)];
    const family = record && state.families[record.family];
    if (record === undefined || family === undefined) return '';
    const { account, secondFactor } = family;
    const life = this.policy.tokens?.access.life ?? 0;
    return this.tokens.sign(
      this.seals.seal(handle),
      { account, roles: record.roles, secondFactor },
      this.epoch + record.issuedAt,
      life,
    );
  }

  /**
   * The handles in tokens that came with a request. Verifying a signature takes its time, so it is done before the request
   * is read, and only for what was not verified lately.
   */
  async openTokens(tokens: readonly string[]): Promise<ReadonlyMap<string, string>> {
    const opened = await Promise.all(tokens.map((token) => this.tokens.open(token)));
    return new Map(tokens.map((token, at) => [token, this.seals.open(opened[at] ?? '')]));
  }

  /** The tokens in the headers of a request that are to be verified. */
  tokensIn(cookie: string, authorization: string): string[] {
    const inCookie = this.signed === null ? null : cookieValue(cookie, this.signed);
    return [bearerOf(authorization) ?? '', inCookie ?? ''].filter((token) => token !== '');
  }

  /** Signs the access token that a response hands out; null where it hands none out. */
  async signFor({ response: { body, setCookie } }: Decided, state: AppState): Promise<string | null> {
    if (body.kind !== 'tokens') return null;
    const inCookie =
      this.signed === null
        ? null
        : setCookie.map(readSetCookie).find((cookie) => cookie?.name === this.signed);
    const handle = body.accessToken || (inCookie?.value ?? '');
    return handle === '' ? null : this.sign(handle, state);
  }

  /**
   * A Cookie header with handles in the place of what came over the wire, and without what the app half does not read.
   * A cookie whose life is over on the clock of the stand-in is left out: the browser would have dropped it, had its own
   * clock been moved too.
   *
   * @param now the time by which lives are judged; null for somebody who keeps what they have
   */
  openCookies(header: string, now: Seconds | null, opened: ReadonlyMap<string, string>): string {
    if (header === '') return '';
    const pairs: string[] = [];
    for (const name of this.cookieNames) {
      const shown = cookieValue(header, name);
      if (shown === null) continue;
      const end = this.ends.get(`${name}=${shown}`) ?? null;
      if (now !== null && end !== null && end <= now) continue;
      pairs.push(`${name}=${name === this.signed ? (opened.get(shown) ?? '') : this.seals.open(shown)}`);
    }
    return pairs.join('; ');
  }

  /** The handle in the cookie of an identity provider; empty for one that was not sealed here, or whose time is over. */
  openProviderCookie(sealed: string, now: Seconds): string {
    const end = this.ends.get(`${PROVIDER_COOKIE.name}=${sealed}`) ?? null;
    return end !== null && end <= now ? '' : this.seals.open(sealed);
  }

  /**
   * A Set-Cookie header for the wire.
   *
   * @param signed the access token that the response hands out, signed
   */
  sealCookie(header: string, now: Seconds, signed: string | null): string {
    const set = readSetCookie(header);
    if (set === null || set.value === '') return header;
    const value = set.name === this.signed ? (signed ?? '') : this.seals.seal(set.value);
    if (set.maxAge !== null) this.remember(`${set.name}=${value}`, now + set.maxAge);
    return header.replace(`${set.name}=${set.value}`, `${set.name}=${value}`);
  }

  /** An Authorization header as the app half reads it, with the handle in the place of the token. */
  openAuthorization(header: string, opened: ReadonlyMap<string, string>): string {
    if (header === '') return '';
    const token = bearerOf(header) ?? '';
    const key = this.policy.apiKeys?.sent === 'bearer' ? this.openKey(token) : '';
    return `Bearer ${key === '' ? (opened.get(token) ?? '') : key}`;
  }

  /** The handle of a machine's key; empty for what is none. */
  openKey(shown: string): string {
    const handle = this.seals.open(shown);
    return indexOf('key', handle) < 0 ? '' : handle;
  }

  private remember(cookie: string, end: Seconds): void {
    // Set anew, so that it goes to the end of the order.
    this.ends.delete(cookie);
    this.ends.set(cookie, end);
    const [oldest] = this.ends.keys();
    if (this.ends.size > MOST_ENDS && oldest !== undefined) this.ends.delete(oldest);
  }
}

/** The token in an Authorization header (RFC 6750 §2.1); the name of the scheme is told in any case (RFC 9110 §11.1). */
function bearerOf(header: string): string | undefined {
  return header === '' ? undefined : /^Bearer +([\w\-.~+/]+=*)$/i.exec(header)?.[1];
}
