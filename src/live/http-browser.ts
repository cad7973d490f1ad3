import {
  begin,
  type Body,
  type BrowserState,
  type Claims,
  type Clock,
  type Deed,
  type Flight,
  type FormName,
  formNames,
  hintsFor,
  type HttpRequest,
  type HttpResponse,
  LOGIN_WANTED,
  NEW_BROWSER,
  parameterOf,
  passedOn,
  type Policy,
  type Purpose,
  receive,
  respond,
  SOME_CLIENT,
  targetIn,
  type Turn,
} from '../core/internal.js';
import { cookieInPolicy } from './app-cookies.js';
import type { Answers } from './form-filling.js';
import type { HttpExchange } from './http-exchange.js';
import { frontEndOf, type FrontEnd } from './front-end.js';
import { HtmlPage } from './html-page.js';
import { expiresIn, tokenIn, USUAL_NAMES } from './json-answers.js';
import { ASKS_A_TEXT, RequestBodies, type Sending } from './request-bodies.js';
import type { Site } from './site.js';
import type { Answer } from './transport.js';

/** What script of the app would do and know, which a browser without script takes from the simulation. */
export interface Simulated {
  /** What it reads in the tokens that come. */
  readonly claims: Claims | null;
  /** Where it goes after a login, and after one that was refused; null where it stays. */
  readonly next: string | null;
  readonly refused: string | null;
}

const NOTHING_SIMULATED: Simulated = { claims: null, next: null, refused: null };

/**
 * A browser without script in front of a real app. What it does is said by the browser half, which also is the front end of an app
 * of a single page; all that it knows of the app came over the wire.
 */
export class HttpBrowser {
  state: BrowserState = NEW_BROWSER;
  /** What went over the wire, as far as whoever looks has not cleared it. */
  readonly exchanges: HttpExchange[] = [];
  cutShort: Turn['cutShort'] = null;
  /** The pages as they came, by the requests that they answer. */
  private readonly pages = new WeakMap<object, HtmlPage>();
  private readonly bodies: RequestBodies;
  private readonly frontEnd: FrontEnd;
  private answers: Answers | null = null;
  private simulated: Simulated = NOTHING_SIMULATED;

  constructor(private readonly site: Site) {
    this.bodies = new RequestBodies(site, this.pages);
    this.frontEnd = frontEndOf(site.stage);
  }

  /**
   * Does something, message by message, until it is at rest.
   *
   * @throws Hindered where the page in front does not let a person do it
   */
  async play(
    deed: Deed,
    clock: Clock,
    answers: Answers | null = null,
    simulated: Simulated = NOTHING_SIMULATED,
  ): Promise<void> {
    const { client } = this.site.stage;
    this.answers = answers;
    this.simulated = simulated;
    const fill = deed.deed === 'fill-in' ? deed.fill : null;
    let turn = begin(client, this.state, deed, clock);
    while (turn.flight !== null) {
      const { flight } = turn;
      // What the browser half has become while it sends is what a form is looked up on.
      const sending = this.bodies.bodyFor(flight, turn.browser, answers, fill);
      const answer = await this.send(flight, sending);
      const response = this.read(flight, answer, clock);
      this.exchanges.push({
        purpose: flight.purpose.kind,
        request: flight.request,
        response,
        headers: answer.headers,
        page: this.pages.get(flight.request) ?? null,
        text: answer.body,
      });
      turn = receive(client, turn.browser, flight, response, clock);
    }
    this.state = turn.browser;
    this.cutShort = turn.cutShort;
  }

  /**
   * Makes the request of a machine, of which a browser keeps nothing.
   *
   * @param request as it was simulated, with a key of the simulation
   * @param key the one that the app knows
   */
  async asMachine(request: HttpRequest, key: string): Promise<void> {
    const { address, config, transport } = this.site;
    const { apiKeys } = this.policy;
    const { method, path, query, origin, client } = request;
    if (apiKeys === null) return;
    const { sent, name } = apiKeys;
    const shown = parameterOf(query, name);
    const own = sent === 'address' && shown !== null ? query.replace(shown, encodeURIComponent(key)) : query;
    const host = new URL(origin).host;
    const isHome = origin === this.policy.origin;
    const headers = {
      host: isHome && !config.isForwarding ? address.host : host,
      accept: 'application/json',
      'user-agent': 'cavrin',
      ...(config.isForwarding ? { 'x-forwarded-proto': origin.slice(0, origin.indexOf(':')) } : {}),
      ...(config.isForwarding && client !== SOME_CLIENT ? { 'x-forwarded-for': client } : {}),
      ...(sent === 'bearer' ? { authorization: `Bearer ${key}` } : {}),
      ...(sent === 'header' ? { [name]: key } : {}),
    };
    const answer = await transport.send(method, path + own, headers);
    const location = [answer.headers['location'] ?? []].flat()[0] ?? null;
    const response = respond(answer.status, {
      location: location === null ? null : address.inPolicy(location, path + query),
    });
    const { headers: came, body: text } = answer;
    this.exchanges.push({ purpose: 'machine', request, response, headers: came, page: null, text });
  }

  private get policy(): Policy {
    return this.site.stage.app.policy;
  }

  private async send({ request, crossSite, purpose }: Flight, sending: Sending): Promise<Answer> {
    const { address, config, transport } = this.site;
    const { type, text, target } = sending;
    const method = sending.method ?? request.method;
    const { origin, path, query, authorization, accept, client, referer, cookie } = request;
    const home = new URL(this.policy.origin).host;
    const host = new URL(origin).host;
    const isWrite = method !== 'GET' && method !== 'HEAD';
    return transport.send(
      method,
      target ?? path + query,
      {
        // What stands before an app as its proxy calls it by its own name.
        host: host === home && !config.isForwarding ? address.host : host,
        accept: accept === 'text/html' ? 'text/html,application/xhtml+xml,*/*;q=0.8' : accept,
        'user-agent': 'cavrin',
        ...(config.isForwarding ? { 'x-forwarded-proto': origin.slice(0, origin.indexOf(':')) } : {}),
        ...(config.isForwarding && client !== SOME_CLIENT ? { 'x-forwarded-for': client } : {}),
        ...(referer === '' ? {} : { referer: `${this.ownOrigin(origin)}${address.pathOf(referer)}` }),
        ...(cookie === '' ? {} : { cookie }),
        ...(isWrite ? { origin: request.crossOrigin ? OTHER_SITE : this.ownOrigin(origin) } : {}),
        'sec-fetch-site': crossSite ? 'cross-site' : request.crossOrigin ? 'same-site' : 'same-origin',
        'sec-fetch-mode': purpose.kind === 'navigate' ? 'navigate' : 'cors',
        'sec-fetch-dest': purpose.kind === 'navigate' ? 'document' : 'empty',
        ...(authorization === '' ? {} : { authorization }),
        ...(text === '' ? {} : { 'content-type': type }),
      },
      text,
    );
  }

  /** What a browser would send as Origin from a page of the app, which behind a proxy it knows by the policy's own name. */
  private ownOrigin(origin: string): string {
    const { address, config } = this.site;
    return config.isForwarding ? origin : address.origin;
  }

  /** An answer as the browser half reads it. */
  private read({ request, purpose }: Flight, answer: Answer, clock: Clock): HttpResponse {
    const { status, headers } = answer;
    const text = (name: string) => [headers[name] ?? []].flat()[0] ?? null;
    const target = request.path + request.query;
    const type = text('content-type') ?? '';
    const isHtml = type.includes('html');
    const page = isHtml ? new HtmlPage(answer.body) : null;
    if (page !== null) this.pages.set(request, page);
    const location = text('location');
    const authenticate = text('www-authenticate');
    const now = this.site.start + clock.now * 1000;
    const setCookie = [headers['set-cookie'] ?? []]
      .flat()
      .map((header) => cookieInPolicy(header, this.site.address, this.policy.origin, now));
    for (const header of setCookie) this.site.secrets.add(/^[^=;]*=([^;]*)/.exec(header)?.[1]);
    return respond(status, {
      location: location === null ? null : this.site.address.inPolicy(location, target),
      setCookie,
      noStore: (text('cache-control') ?? '').includes('no-store'),
      authenticate:
        authenticate?.includes('insufficient_user_authentication') === true ? LOGIN_WANTED : authenticate,
      body: this.bodyOf(request, purpose, answer, page, type.includes('json')),
    });
  }

  private bodyOf(
    request: HttpRequest,
    purpose: Purpose,
    { status, body }: Answer,
    page: HtmlPage | null,
    isJson: boolean,
  ): Body {
    if (purpose.kind === 'login' || purpose.kind === 'refresh') {
      const tokens = isJson && status < 400 ? this.tokensOf(body, purpose.kind) : null;
      if (tokens !== null) return tokens;
      if (purpose.kind === 'refresh') return { kind: 'token-error', error: 'invalid_grant' };
      if (this.answers === null) return { kind: 'empty' };
      if (status < 400) return { kind: 'next', next: this.next() };
      const { refused } = this.simulated;
      return refused === null ? { kind: 'empty' } : { kind: 'refused-login', next: refused };
    }
    if (page === null) return { kind: 'empty' };
    const again = request.method === 'GET' ? null : this.shownAgain(request, page);
    if (status !== 200 && again === null) return { kind: 'problem', title: '' };
    const { csrf } = this.policy;
    return {
      kind: 'page',
      menu: this.menuOn(page, request) ?? [],
      parts: [],
      reader: null,
      actor: null,
      ...this.frontEnd.pageAt(request.path),
      again,
      token: csrf === null ? null : page.tokenIn(csrf.field),
    };
  }

  /** The form that a page shows again, in the answer to its being sent. */
  private shownAgain(request: HttpRequest, page: HtmlPage): FormName | null {
    return (
      formNames(this.site.stage.client).find((name) => {
        const form = this.site.stage.client.forms[name];
        if (form?.submit.path !== request.path) return false;
        const { form: hint } = hintsFor(this.site.config, name);
        if (hint !== null) return page.form(hint) !== null;
        const wants = ASKS_A_TEXT.has(name) ? 'code' : 'password';
        return page
          .forms()
          .some(
            ({ inputs, method }) =>
              method === 'POST' && inputs.some(({ type }) => wants === 'code' || type === 'password'),
          );
      }) ?? null
    );
  }

  /** Of the policy's menu those links that a page has; null where it has no menu. */
  menuOn(page: HtmlPage, { path, query }: Pick<HttpRequest, 'path' | 'query'>): string[] | null {
    const { menu } = this.site.config;
    const links = page.linksIn(menu ?? (page.has('nav') ? 'nav' : null));
    if (links === null) return null;
    const here = path + query;
    const shown = new Set(
      links.map((link) => targetIn(this.site.address.inPolicy(link, here), this.policy.origin)),
    );
    return this.policy.menu.map(({ to }) => to).filter((to) => shown.has(to));
  }

  private tokensOf(body: string, kind: 'login' | 'refresh'): Body | null {
    const { access, refresh } = this.site.config.credentials;
    const accessToken = tokenIn(body, access.answer, USUAL_NAMES.access);
    if (accessToken === null) return null;
    const refreshToken = tokenIn(body, refresh.answer, USUAL_NAMES.refresh);
    this.site.secrets.add(accessToken);
    this.site.secrets.add(refreshToken);
    const claims = this.simulated.claims ?? this.state.tab.tokens?.claims ?? NOBODY;
    return {
      kind: 'tokens',
      accessToken,
      expiresIn: expiresIn(body, accessToken) ?? this.policy.tokens?.access.life ?? 0,
      refreshToken,
      claims,
      next: kind === 'login' ? this.next(claims) : null,
    };
  }

  private next(claims: Claims = this.simulated.claims ?? NOBODY): string {
    if (this.simulated.next !== null) return this.simulated.next;
    return this.frontEnd.nextFor(claims, passedOn(this.site.stage.client, this.state.tab.page));
  }
}

const OTHER_SITE = 'https://another-site.example';
const NOBODY: Claims = { account: '', roles: new Set(), secondFactor: false };
