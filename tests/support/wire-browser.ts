import { Agent, request as httpRequest } from 'node:http';
import { Cookie, CookieJar } from 'tough-cookie';
import { begin, receive } from '../../src/core/browser/browser';
import type { Client } from '../../src/core/browser/client';
import { NO_LONGER_SPARED } from '../../src/core/browser/cookie-jar';
import { thawed } from '../../src/core/browser/tabs';
import {
  NEW_BROWSER,
  type BrowserState,
  type Deed,
  type Flight,
  type Purpose,
  type Turn,
} from '../../src/core/browser/state';
import type { Clock } from '../../src/core/time/clock';
import { hostOf } from '../../src/core/http/address';
import { SOME_CLIENT } from '../../src/core/http/client-address';
import {
  isSafe,
  respond,
  type Body,
  type FormName,
  type HttpRequest,
  type HttpResponse,
} from '../../src/core/http/messages';
import { STAND_IN_COOKIE } from '../../src/core/language/text/name-reader';
import { readBody, type TokenJson } from '../../src/stand-in/page-script/exchange';
import { fromTaggedJson } from '../../src/stand-in/tagged-json';

const agent = new Agent({ keepAlive: true });

/** A response as it came over the wire. */
export interface WireResponse {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  readonly body: string;
}

/** One request with its answer. */
export interface WireExchange {
  readonly purpose: Purpose['kind'];
  readonly request: HttpRequest;
  readonly response: HttpResponse;
}

/** Sends one request to a stand-in. */
export function sendOver(
  address: string,
  method: string,
  target: string,
  headers: Record<string, string>,
  body = '',
): Promise<WireResponse> {
  const { hostname: host, port } = new URL(address);
  return new Promise((settle, fail) => {
    // Node gives a length by itself to bodies of some methods only.
    const length = body === '' ? {} : { 'content-length': String(Buffer.byteLength(body)) };
    const all = { ...headers, ...length };
    const sent = httpRequest({ host, port, method, path: target, headers: all, agent }, (answer) => {
      let text = '';
      answer.setEncoding('utf8');
      answer.on('data', (part: string) => (text += part));
      answer.on('end', () => {
        settle({ status: answer.statusCode ?? 0, headers: answer.headers, body: text });
      });
    });
    sent.on('error', fail);
    sent.end(body);
  });
}

/**
 * A browser over plain HTTP. What it does is said by the browser half; its cookies are in a jar of tough-cookie, and all
 * that it knows of the app came over the wire.
 */
export class WireBrowser {
  readonly jar = new CookieJar(undefined, {
    rejectPublicSuffixes: false,
    prefixSecurity: 'silent',
    allowSpecialUseDomain: true,
  });
  state: BrowserState = NEW_BROWSER;
  /** Whether the last response changed a cookie of the app's. */
  private hasChanged = false;
  /** What went over the wire, as far as whoever looks has not cleared it. */
  readonly exchanges: WireExchange[] = [];
  cutShort: Turn['cutShort'] = null;
  /** What the app has last asked a provider for. */
  private asked = '';

  constructor(
    private readonly client: Client,
    private readonly address: string,
    /** Where the identity providers are, by their issuers. */
    private readonly providers: ReadonlyMap<string, string> = new Map(),
  ) {}

  /** Does something, message by message, until it is at rest. */
  async play(deed: Deed, clock: Clock): Promise<void> {
    if (deed.deed === 'clear-cookies') await this.clear(deed.name);
    if (deed.deed === 'close-browser') await this.dropSessionCookies();
    if (deed.deed === 'clear-cookies') this.state = thawed(this.state, 'all');
    let turn = begin(this.client, this.state, deed, clock);
    while (turn.flight !== null) {
      const { request, purpose } = turn.flight;
      const response = await this.send(request, turn.flight.crossSite);
      this.exchanges.push({ purpose: purpose.kind, request, response });
      const left = this.hasChanged ? thawed(turn.browser, 'all') : turn.browser;
      turn = receive(this.client, left, turn.flight, response, clock);
    }
    this.state = turn.browser;
    this.cutShort = turn.cutShort;
  }

  /** Sends a request, with cookies from the jar unless a token goes along. */
  async send(request: HttpRequest, crossSite: Flight['crossSite']): Promise<HttpResponse> {
    const { method, origin, path, query, authorization, form, client, referer } = request;
    const url = `${origin}${path}${query}`;
    const sameSiteContext = crossSite ? (isSafe(method) ? 'lax' : 'none') : 'strict';
    const cookie = authorization === '' ? await this.cookiesFor(url, sameSiteContext) : '';
    const provider = this.providers.get(origin);
    const to = provider ?? this.address;
    const here = new URL(to).host;
    // An app of several hosts is asked under their names, so that cookies can be for more than one of them.
    const isOneHost = new Set([...this.client.origins].map(hostOf)).size === 1;
    const home = provider !== undefined || (isOneHost && hostOf(origin) === hostOf(this.client.origin));
    // The form of a provider passes on all that the app has asked it for.
    if (provider !== undefined && isSafe(method)) this.asked = query;
    const asked = provider === undefined ? [] : [...new URLSearchParams(this.asked)];
    const answer = await sendOver(
      to,
      method,
      path + query,
      {
        host: home ? here : hostOf(origin),
        accept: request.accept,
        'x-forwarded-proto': origin.slice(0, origin.indexOf(':')),
        ...(client === SOME_CLIENT ? {} : { 'x-forwarded-for': client }),
        ...(referer === '' ? {} : { referer: `http://${here}${referer}` }),
        ...(cookie === '' ? {} : { cookie }),
        ...(request.crossOrigin ? { origin: 'https://wreckers.example' } : {}),
        ...(authorization === '' ? {} : { authorization }),
        ...(form.size === 0 ? {} : { 'content-type': 'application/x-www-form-urlencoded' }),
      },
      form.size === 0 ? '' : new URLSearchParams([...asked, ...form]).toString(),
    );
    this.hasChanged = false;
    if (authorization === '') {
      for (const header of [answer.headers['set-cookie'] ?? []].flat()) {
        const name = header.slice(0, header.indexOf('='));
        const clears = header.includes('Max-Age=0') && (await this.cookie(name)) === null;
        if (name !== STAND_IN_COOKIE && !clears && provider === undefined) this.hasChanged = true;
        const cookie = Cookie.parse(header, { loose: true });
        if (cookie === undefined) continue;
        // RFC 6265bis §5.7: a life counts from when the cookie is kept; tough-cookie counts it from the last use.
        if (typeof cookie.maxAge === 'number' && cookie.maxAge > 0) {
          cookie.expires = new Date(Date.now() + cookie.maxAge * 1000);
          cookie.maxAge = null;
        }
        await this.jar.setCookie(cookie, url, { ignoreError: true });
      }
    }
    return this.named(readResponse(answer));
  }

  /** A response with the names of the policy for what it leads to. */
  private named(response: HttpResponse): HttpResponse {
    const { location } = response;
    const names = new Map([[this.client.origin, this.address], ...this.providers]);
    const [name, at] =
      [...names].find(([, each]) => this.providers.size > 0 && location?.startsWith(`${each}/`) === true) ??
      [];
    if (location === null || name === undefined || at === undefined) return response;
    return { ...response, location: name + location.slice(at.length) };
  }

  /** tough-cookie sends what says nothing of other sites with every form of theirs; browsers do for two minutes. */
  private async cookiesFor(url: string, sameSiteContext: 'strict' | 'lax' | 'none'): Promise<string> {
    const cookies = await this.jar.getCookies(url, { sameSiteContext });
    const isSent = ({ sameSite, creation }: Cookie) =>
      sameSiteContext !== 'none' ||
      sameSite !== undefined ||
      Date.now() - Number(creation) < NO_LONGER_SPARED * 1000;
    return cookies
      .filter(isSent)
      .map((each) => each.cookieString())
      .join('; ');
  }

  /** The value of a cookie that would be sent home now, to a page of its path; null for none. */
  async cookie(name: string, path = '/'): Promise<string | null> {
    const cookies = await this.jar.getCookies(`${this.client.origin}${path}`);
    return cookies.find(({ key }) => key === name)?.value ?? null;
  }

  /** Puts a copy of another browser's cookie into this one, which keeps it or takes it for its own. */
  async take(name: string, from: WireBrowser, isCopy = true): Promise<void> {
    const cookies = await from.jar.getCookies(`${this.client.origin}/`);
    const cookie = cookies.find(({ key }) => key === name);
    const copy = cookie?.clone();
    if (isCopy && copy !== undefined) {
      // Who copied a value keeps it as long as they like.
      copy.expires = 'Infinity';
      copy.maxAge = null;
    }
    if (copy !== undefined) await this.jar.setCookie(copy, `${this.client.origin}/`);
  }

  private async clear(name: string | null): Promise<void> {
    await this.dropCookies((cookie) => name === null || cookie.key === name);
  }

  /** A cookie without a life of its own dies with the browser. */
  private async dropSessionCookies(): Promise<void> {
    await this.dropCookies((cookie) => cookie.maxAge === null && !(cookie.expires instanceof Date));
  }

  private async dropCookies(
    which: (cookie: { key: string; maxAge: unknown; expires: unknown }) => boolean,
  ): Promise<void> {
    const all = await this.jar.getCookies(`${this.client.origin}/`);
    await this.jar.removeAllCookies();
    for (const cookie of all) if (!which(cookie)) await this.jar.setCookie(cookie, `${this.client.origin}/`);
  }
}

function readResponse({ status, headers, body }: WireResponse): HttpResponse {
  const location = typeof headers['location'] === 'string' ? headers['location'] : null;
  return respond(status, {
    location,
    noStore: headers['cache-control'] === 'no-store',
    authenticate: typeof headers['www-authenticate'] === 'string' ? headers['www-authenticate'] : null,
    body: readBodyOf(String(headers['content-type'] ?? ''), status, body),
  });
}

function readBodyOf(type: string, status: number, text: string): Body {
  if (text === '') return { kind: 'empty' };
  if (type.includes('problem+json')) return { kind: 'problem', title: '' };
  if (type.includes('json')) return readBody(JSON.parse(text) as TokenJson, status);
  if (!type.includes('html')) return { kind: 'empty' };
  // A form that was refused may be shown again with any status.
  if (status !== 200 && againIn(text) === null) return { kind: 'problem', title: '' };
  return { kind: 'page', ...readPage(text) };
}

/** The form that a page shows again since it was refused. */
function againIn(text: string): FormName | null {
  const [, again] = /<p role="alert" data-again="([\w-]+)"/.exec(text) ?? [];
  return (again as FormName | undefined) ?? null;
}

/** What the forms of a page carry to show that they are the app's own. */
function ownTokenIn(text: string): string | null {
  const [, value] = /<input type="hidden" name="[^"]*" value="([^"]*)" data-own/.exec(text) ?? [];
  return value ?? null;
}

interface PageData {
  readonly page: Extract<Body, { kind: 'page' }> | null;
}

/** What a page says on the wire: its menu, its reader, and what its script goes by. */
function readPage(text: string): Omit<Extract<Body, { kind: 'page' }>, 'kind'> {
  const [nav = ''] = /<nav[\s\S]*?<\/nav>/.exec(text) ?? [];
  const menu = [...nav.matchAll(/href="([^"]*)"/g)].map(([, href = '']) => href.replaceAll('&amp;', '&'));
  const [, seenAs = 'guest'] = /data-seen-as="([^"]*)"/.exec(text) ?? [];
  const [, data] = /<script type="application\/json" id="page-data">([\s\S]*?)<\/script>/.exec(text) ?? [];
  const page = data === undefined ? null : (fromTaggedJson(data) as PageData).page;
  const shown = [...text.matchAll(/<section class="card" data-part="([^"]*)" >/g)];
  return {
    menu,
    parts: shown.map(([, part = '']) => part),
    refusals: page?.refusals ?? null,
    reader: seenAs === 'guest' ? null : seenAs,
    actor: /data-acted-by="([^"]*)"/.exec(text)?.[1] ?? null,
    guard: page?.guard ?? null,
    loads: page?.loads ?? [],
    again: page?.again ?? againIn(text),
    token: ownTokenIn(text),
  };
}
