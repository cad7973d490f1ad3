import { Agent, request as httpRequest } from 'node:http';
import { CookieJar } from 'tough-cookie';
import { begin, receive } from '../../src/core/browser/browser';
import type { Client } from '../../src/core/browser/client';
import { NEW_BROWSER, type BrowserState, type Deed, type Flight } from '../../src/core/browser/state';
import type { Clock } from '../../src/core/clock';
import { hostOf } from '../../src/core/http/address';
import { SOME_CLIENT } from '../../src/core/http/client-address';
import {
  isSafe,
  respond,
  type Body,
  type HttpRequest,
  type HttpResponse,
} from '../../src/core/http/messages';
import { readBody, type TokenJson } from '../../src/stand-in/page-script/exchange';
import { fromTaggedJson } from '../../src/stand-in/tagged-json';

const agent = new Agent({ keepAlive: true });

/** A response as it came over the wire. */
export interface WireResponse {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  readonly body: string;
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
    const sent = httpRequest({ host, port, method, path: target, headers, agent }, (answer) => {
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

  constructor(
    private readonly client: Client,
    private readonly address: string,
  ) {}

  /** Does something, message by message, until it is at rest. */
  async play(deed: Deed, clock: Clock): Promise<void> {
    if (deed.deed === 'clear-cookies') await this.clear(deed.name);
    if (deed.deed === 'close-browser') await this.dropSessionCookies();
    let turn = begin(this.client, this.state, deed, clock);
    while (turn.flight !== null) {
      const response = await this.send(turn.flight.request, turn.flight.crossSite);
      turn = receive(this.client, turn.browser, turn.flight, response, clock);
    }
    this.state = turn.browser;
  }

  /** Sends a request, with cookies from the jar unless a token goes along. */
  async send(request: HttpRequest, crossSite: Flight['crossSite']): Promise<HttpResponse> {
    const { method, origin, path, query, authorization, form, client, referer } = request;
    const url = `${origin}${path}${query}`;
    const sameSiteContext = crossSite ? (isSafe(method) ? 'lax' : 'none') : 'strict';
    const cookie = authorization === '' ? await this.jar.getCookieString(url, { sameSiteContext }) : '';
    const here = new URL(this.address).host;
    const home = hostOf(origin) === hostOf(this.client.origin);
    const answer = await sendOver(
      this.address,
      method,
      path + query,
      {
        host: home ? here : hostOf(origin),
        accept: request.accept,
        'x-forwarded-proto': origin.slice(0, origin.indexOf(':')),
        ...(client === SOME_CLIENT ? {} : { 'x-forwarded-for': client }),
        ...(referer === '' ? {} : { referer: `http://${here}${referer}` }),
        ...(cookie === '' ? {} : { cookie }),
        ...(authorization === '' ? {} : { authorization }),
        ...(form.size === 0 ? {} : { 'content-type': 'application/x-www-form-urlencoded' }),
      },
      form.size === 0 ? '' : new URLSearchParams([...form]).toString(),
    );
    if (authorization === '') {
      for (const header of [answer.headers['set-cookie'] ?? []].flat()) {
        await this.jar.setCookie(header, url, { ignoreError: true });
      }
    }
    return readResponse(answer);
  }

  /** The value of a cookie that would be sent home now; null for none. */
  async cookie(name: string): Promise<string | null> {
    const cookies = await this.jar.getCookies(`${this.client.origin}/`);
    return cookies.find(({ key }) => key === name)?.value ?? null;
  }

  /** Puts a copy of another browser's cookie into this one. */
  async take(name: string, from: WireBrowser): Promise<void> {
    const cookies = await from.jar.getCookies(`${this.client.origin}/`);
    const cookie = cookies.find(({ key }) => key === name);
    const copy = cookie?.clone();
    if (copy !== undefined) {
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
  if (type.includes('problem+json')) return { kind: 'problem', title: '' };
  if (type.includes('json')) return readBody(JSON.parse(text) as TokenJson, status);
  if (!type.includes('html')) return { kind: 'empty' };
  if (status !== 200) return { kind: 'problem', title: '' };
  return { kind: 'page', ...readPage(text) };
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
  return {
    menu,
    reader: seenAs === 'guest' ? null : seenAs,
    guard: page?.guard ?? null,
    loads: page?.loads ?? [],
  };
}
