import { randomBytes } from 'node:crypto';
import type { Socket } from 'node:net';
import fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import { cookieValue, STAND_IN_COOKIE, type Path, type Policy } from '../core/internal.js';
import { answerProblem } from './answer-problem.js';
import { AccessTokens } from './access-tokens.js';
import { isForUs, maySteer, repeatedCookie } from './guard.js';
import { steeringPage } from './pages/steering-page.js';
import { readRefusal } from './pages/refusal.js';
import type { View } from './pages/view.js';
import {
  nameOf,
  isKnown,
  isTooLong,
  loginAt,
  loginFault,
  loginFields,
  openTokens,
  readRequest,
  formOf,
} from './requests.js';
import { writeResponse } from './responses.js';
import { letOnToProviders, startProviders } from './provider/beside-app.js';
import { Seals } from './seals.js';
import { Site, type Entry } from './site.js';
import { DEEDS, standingOf, steer, type Running } from './steering.js';
import { Time } from './time.js';
import { Waiting } from './waiting.js';
import { Wire } from './wire.js';

export interface StandInOptions {
  readonly policy: Policy;
  /** The line of the policy's text at which a place of it stands. */
  readonly lineOf: (place: Path) => number;
  readonly clock: 'virtual' | 'real';
  /** The network address to listen at. */
  readonly host: string;
  /** 0 takes one that is free. */
  readonly port: number;
  /** The files that pages are shown with. */
  readonly assets: { readonly script: string; readonly style: string; readonly icon: string };
  /** Told of every request that the app half answered. */
  readonly log?: (entry: Entry) => void;
}

/** A stand-in at work. */
export interface StandIn {
  /** Its address, such as `http://127.0.0.1:8080`. */
  readonly address: string;
  /** What lets a program steer it without a page: sent as `Authorization: Bearer …`. */
  readonly secret: string;
  readonly site: Site;
  stop(): Promise<void>;
}

/** Limits on what one request may cost. */
const LIMITS = { bodyBytes: 65_536, headerBytes: 16_384, seconds: 10 };

/** What every response says: nothing but the stand-in's own files and addresses has a place in its pages. */
const SAFE_HEADERS = {
  'content-security-policy':
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
};

/** The address at which RFC 8615 has well-known things, and the usual name of a key set there. */
const KEY_SET = '/.well-known/jwks.json';

/** Starts a stand-in: the app half of a policy behind a real HTTP server. Rejects where the port is taken. */
export async function startStandIn(options: StandInOptions): Promise<StandIn> {
  const { policy, host, port } = options;
  const time = new Time(options.clock);
  const site = new Site(policy, time);
  let address = '';
  const tokens = await AccessTokens.create(() => address);
  const wire = new Wire(policy, new Seals(), tokens, time.epoch);
  const secret = randomBytes(16).toString('base64url');
  const parts: Parts = { site, wire, secret };
  const server = createServer(options, parts);
  await server.listen({ host, port });
  const bound = server.server.address();
  const at = typeof bound === 'object' && bound !== null ? bound.port : port;
  address = `http://${host.includes(':') ? `[${host}]` : host}:${at}`;
  site.address = address;
  const providers = await startProviders(site, () => parts.wire, options);
  const stop = async () => {
    await Promise.all(providers.map((each) => each.stop()));
    await server.close();
  };
  return { address, secret, site, stop };
}

interface Parts extends Running {
  readonly secret: string;
}

function createServer(options: StandInOptions, parts: Parts): FastifyInstance {
  const server = fastify({
    bodyLimit: LIMITS.bodyBytes,
    requestTimeout: LIMITS.seconds * 1000,
    connectionTimeout: 3 * LIMITS.seconds * 1000,
    keepAliveTimeout: LIMITS.seconds * 1000,
    forceCloseConnections: true,
    exposeHeadRoutes: false,
    http: {
      maxHeaderSize: LIMITS.headerBytes,
      headersTimeout: LIMITS.seconds * 1000,
      connectionsCheckingInterval: 1000,
    },
    clientErrorHandler: refuseBytes,
    // All that is not the stand-in's own goes to the app half, which reads the address as it was sent.
    rewriteUrl: ({ url = '/' }) => (isOwn(url) ? url : '/'),
  });
  takeForms(server);
  const waiting = new Waiting();
  server.addHook('onResponse', (request, _reply, done) => {
    waiting.answered(request.raw.socket);
    done();
  });
  server.addHook('onRequest', (request, reply, done) => {
    if (waiting.isTooMany(request.raw.socket)) {
      reply.hijack();
      return;
    }
    void reply.headers(SAFE_HEADERS);
    letOnToProviders(reply, parts.site);
    // RFC 9112 §3.2: which of two hosts is meant is anybody's guess.
    if (request.raw.rawHeaders.filter((text, at) => at % 2 === 0 && /^host$/i.test(text)).length > 1) {
      answerProblem(reply, 400, 'Two Host headers');
      return;
    }
    const open = !/^(127\.|localhost$|::1$)/.test(options.host);
    if (isForUs(request.headers, parts.site, open)) done();
    // RFC 9110 §15.5.20.
    else answerProblem(reply, 421, 'Not a host of this stand-in');
  });
  server.setErrorHandler((error: { readonly statusCode?: number }, request, reply) => {
    const status = error.statusCode ?? 500;
    const { method, originalUrl: target } = request;
    const { site } = parts;
    const form = status === 415 || status === 400 ? loginAt({ method, target }, site) : null;
    const title = form
      ? `Send a form, or JSON, with the fields ${loginFields(form)}`
      : (TITLES[status] ?? (status < 500 ? 'Bad request' : 'A fault of the stand-in'));
    answerProblem(reply, status, title);
  });
  server.setNotFoundHandler((request, reply) => {
    // RFC 9110 §15.6.2: a method that nobody here knows.
    if (isKnown(request.method)) answerProblem(reply, 404, 'Not found');
    else answerProblem(reply, 501, 'Unknown method');
  });
  server.route({
    method: ['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE'],
    url: '/',
    handler: (request, reply) => answer(request, reply, options, parts),
  });
  addOwnPages(server, options, parts);
  return server;
}

/** Answers what is no request at all. The rest of it is read and dropped, so that the answer is not lost with it. */
function refuseBytes({ code }: NodeJS.ErrnoException, socket: Socket): void {
  if (code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const status =
    code === 'HPE_HEADER_OVERFLOW'
      ? '431 Request Header Fields Too Large'
      : code === 'ERR_HTTP_REQUEST_TIMEOUT'
        ? '408 Request Timeout'
        : '400 Bad Request';
  socket.resume();
  socket.end(`HTTP/1.1 ${status}\r\nContent-Length: 0\r\nConnection: close\r\n\r\n`);
  setTimeout(() => {
    socket.destroy();
  }, LIMITS.seconds * 100).unref();
}

const TITLES: Readonly<Record<number, string>> = {
  408: 'Too slow',
  413: 'Too large',
  415: 'Send a form, or JSON',
};

function isOwn(url: string): boolean {
  return url.startsWith('/-/') || url === KEY_SET;
}

/** Forms are read, and JSON: of a map the texts, numbers and truth values count as fields. */
function takeForms(server: FastifyInstance): void {
  server.addContentTypeParser(
    'application/x-www-form-urlencoded',
    { parseAs: 'string' },
    (_request, body, done) => {
      done(null, formOf(String(body)));
    },
  );
  server.removeContentTypeParser('text/plain');
}

function fieldsOf({ body }: FastifyRequest): ReadonlyMap<string, string> {
  if (body instanceof Map) return body as Map<string, string>;
  if (typeof body !== 'object' || body === null || Array.isArray(body)) return NO_FIELDS;
  return new Map(
    Object.entries(body).flatMap(([name, value]: [string, unknown]) => {
      const isPlain = typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean';
      // A box that is ticked is `yes` in a form.
      return isPlain ? [[name, value === true ? 'yes' : String(value)]] : [];
    }),
  );
}

const NO_FIELDS: ReadonlyMap<string, string> = new Map();

async function answer(
  request: FastifyRequest,
  reply: FastifyReply,
  { lineOf, log }: StandInOptions,
  parts: Parts,
): Promise<FastifyReply> {
  const { site } = parts;
  const { method, originalUrl: target, headers } = request;
  if (!isKnown(method)) return answerProblem(reply, 501, 'Unknown method');
  if (!target.startsWith('/')) return answerProblem(reply, 400, 'Not an address here');
  const cookie = headers.cookie ?? '';
  const repeated = repeatedCookie(cookie, parts.wire.cookieNames);
  if (repeated !== null) return answerProblem(reply, 400, 'A cookie came twice');
  if (site.isFull) return answerProblem(reply, 503, 'Too much on record: reset the stand-in');
  const arrived = {
    method,
    target,
    headers,
    peer: request.socket.remoteAddress ?? '',
    fields: fieldsOf(request),
  };
  if (isTooLong(arrived, site)) return answerProblem(reply, 400, 'A name or password too long');
  const fault = loginFault(arrived, site);
  if (fault !== null) return answerProblem(reply, 400, fault);
  let { wire } = parts;
  let opened = await openTokens(arrived, wire);
  // What was opened before a reset means nothing after it. From here to the answer nothing comes between.
  while (wire !== parts.wire) {
    ({ wire } = parts);
    opened = await openTokens(arrived, wire);
  }
  const read = readRequest(arrived, site, wire, opened);
  const { recorder } = site;
  const browser = recorder?.browserOf(cookie, read) ?? null;
  const decided = site.answer(read, browser);
  const entry = site.entries.at(-1);
  const lastRefusal = readRefusal(cookieValue(cookie, STAND_IN_COOKIE));
  const signed = decided.response.body.kind === 'tokens' ? await wire.signFor(decided, site.state) : null;
  const view: View = {
    signed,
    site,
    wire,
    request: read,
    host: nameOf(arrived.headers.host ?? ''),
    decided,
    time: site.time.now(),
    lastRefusal,
    lineOf,
  };
  const { status, headers: written, body } = writeResponse(view);
  const mark = browser === null || read.accept !== 'text/html' ? null : recorder?.cookieFor(browser, cookie);
  // What went over the wire may be another status than the app half gave, such as where tokens were asked for without script.
  if (entry !== undefined) log?.({ ...entry, status });
  return reply
    .code(status)
    .headers(written)
    .headers(mark ? { 'set-cookie': [...[written['set-cookie'] ?? []].flat(), mark] } : {})
    .send(body === '' ? undefined : body);
}

function addOwnPages(server: FastifyInstance, options: StandInOptions, parts: Parts): void {
  const { site, secret } = parts;
  const { assets, lineOf } = options;
  const asset = (path: string, type: string, text: string) =>
    server.get(path, (_request, reply) => reply.type(type).header('cache-control', 'no-cache').send(text));
  asset('/-/style.css', 'text/css; charset=utf-8', assets.style);
  // What script knows of the app is the same on every page, so it comes with the script.
  const client = `globalThis.standInClient = ${JSON.stringify(site.clientJson)};\n`;
  asset('/-/page.js', 'text/javascript; charset=utf-8', client + assets.script);
  asset('/-/icon.svg', 'image/svg+xml', assets.icon);
  const fresh = (reply: FastifyReply) => reply.header('cache-control', 'no-store');
  server.get(KEY_SET, (_request, reply) => fresh(reply).send(parts.wire.tokens.keySet));
  server.get('/-/', (_request, reply) =>
    fresh(reply)
      .type('text/html; charset=utf-8')
      .send(steeringPage(site, parts.wire, lineOf)),
  );
  // Pages ask for it: what must not be stored would keep them from coming back as they were left.
  server.get('/-/now', (_request, reply) =>
    reply.header('cache-control', 'no-cache').send({ now: site.time.now(), clock: site.time.kind }),
  );
  server.get('/-/state', (_request, reply) => fresh(reply).send(standingOf(site, parts.wire)));
  server.get<{ Querystring: { after?: string } }>('/-/requests', (request, reply) => {
    const after = Number(request.query.after ?? 0);
    const entries = site.entries.filter(({ number }) => number > after);
    return fresh(reply).send(
      entries.map((entry) => ({ ...entry, decidedBy: undefined, line: lineFor(entry, lineOf) })),
    );
  });
  server.get('/-/walk', (_request, reply) =>
    site.recorded === null
      ? answerProblem(reply, 404, 'No walk was recorded')
      : fresh(reply).type('text/yaml; charset=utf-8').send(site.recorded),
  );
  for (const deed of DEEDS) {
    server.post(`/-/${deed}`, (request, reply) => {
      if (!maySteer(request.headers, secret)) {
        return answerProblem(reply, 403, 'Steer from a page of the stand-in, or with its secret');
      }
      const wrong = steer(deed, fieldsOf(request), parts);
      if (wrong !== null) return answerProblem(reply, 400, wrong);
      const wantsPage = request.headers.accept?.includes('text/html') === true;
      if (wantsPage) return reply.redirect('/-/', 303);
      const walk = deed === 'walk' && site.recorder === null ? site.recorded : null;
      return walk === null
        ? fresh(reply).send({ now: site.time.now() })
        : fresh(reply).type('text/yaml; charset=utf-8').send(walk);
    });
  }
}

function lineFor({ decidedBy }: Entry, lineOf: (place: Path) => number): number | null {
  return decidedBy.length === 0 ? null : lineOf(decidedBy);
}
