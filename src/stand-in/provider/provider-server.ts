import { createHash } from 'node:crypto';
import fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import {
  cookieValue,
  indexOf,
  parameterOf,
  PROVIDER_COOKIE,
  PROVIDER_PATHS,
  SOME_CLIENT,
  withParameter,
  type Decided,
  type HttpRequest,
  type IdentityProvider,
} from '../../core/internal.js';
import { isForUs, repeatedCookie } from '../guard.js';
import { answerProblem } from '../answer-problem.js';
import type { Entry, Site } from '../site.js';
import { addressOf, clientOf, errorOf, faultOf } from './asked-for.js';
import { challengeOf } from './code-challenge.js';
import type { Wire } from '../wire.js';
import { Grants } from './grants.js';
import { IdTokens } from './id-tokens.js';
import { providerPage } from './provider-page.js';

/** What an identity provider has of the stand-in that it stands beside. */
export interface ProviderOptions {
  readonly provider: IdentityProvider;
  readonly site: Site;
  /** The wire of the app, which is another after a reset. */
  readonly wire: () => Wire;
  readonly host: string;
  /** The address of the app. */
  readonly app: string;
  readonly style: string;
  /** Takes note of each request that was answered. */
  readonly log: (entry: Entry) => void;
}

/** An identity provider at work. */
export interface ProviderServer {
  readonly address: string;
  stop(): Promise<void>;
}

const LIMITS = { bodyBytes: 16_384, seconds: 10 };

/**
 * Starts an identity provider on loopback: the provider half of the simulation behind the endpoints of OpenID Connect, for the
 * stand-in's app and for any other client on this machine, with any client_id and no secret.
 */
export async function startProvider(options: ProviderOptions): Promise<ProviderServer> {
  let address = '';
  const tokens = await IdTokens.create(() => address);
  const running = new Running(options, tokens, () => address);
  const server = fastify({ bodyLimit: LIMITS.bodyBytes, requestTimeout: LIMITS.seconds * 1000 });
  server.addContentTypeParser(
    'application/x-www-form-urlencoded',
    { parseAs: 'string' },
    (_request, body, done) => {
      done(null, new URLSearchParams(String(body)));
    },
  );
  addRoutes(server, running, options);
  await server.listen({ host: options.host, port: 0 });
  const bound = server.server.address();
  const port = typeof bound === 'object' && bound !== null ? bound.port : 0;
  address = `http://${options.host.includes(':') ? `[${options.host}]` : options.host}:${port}`;
  return { address, stop: () => server.close() };
}

function addRoutes(
  server: FastifyInstance,
  running: Running,
  { style, app, site, host }: ProviderOptions,
): void {
  server.addHook('onRequest', (request, reply, done) => {
    void reply.headers({
      // Chromium holds the redirects of a form to it too: people are sent on to the app.
      'content-security-policy': `default-src 'none'; style-src 'self'; form-action 'self' ${app} http://127.0.0.1:* http://localhost:*; base-uri 'none'; frame-ancestors 'none'`,
      'x-content-type-options': 'nosniff',
      'cache-control': 'no-store',
      'referrer-policy': 'no-referrer',
    });
    if (!isForUs(request.headers, site, !/^(127\.|localhost$|::1$)/.test(host))) {
      answerProblem(reply, 421, 'Not a host of this provider');
    } else if (site.isFull) answerProblem(reply, 503, 'Too much on record: reset the stand-in');
    else done();
  });
  server.get('/style.css', (_request, reply) => reply.type('text/css; charset=utf-8').send(style));
  server.get('/.well-known/openid-configuration', (_request, reply) => reply.send(running.discovery()));
  server.get('/jwks', (_request, reply) => reply.send(running.keySet));
  server.get(PROVIDER_PATHS.authorize, (request, reply) => running.authorize(request, reply));
  server.post(PROVIDER_PATHS.login, (request, reply) => running.login(request, reply));
  server.get(PROVIDER_PATHS.endSession, (request, reply) => running.endSession(request, reply));
  server.post('/token', (request, reply) => running.token(request, reply));
  server.get('/userinfo', (request, reply) => running.userinfo(request, reply));
}

/** RFC 6749 §5.2. */
function tokenError(reply: FastifyReply, error: string, status = 400): FastifyReply {
  return reply.code(status).send({ error });
}

class Running {
  private readonly grants: Grants;

  constructor(
    private readonly options: ProviderOptions,
    private readonly tokens: IdTokens,
    private readonly address: () => string,
  ) {
    this.grants = new Grants(options.wire);
  }

  get keySet() {
    return this.tokens.keySet;
  }

  /** OpenID Connect Discovery §3. */
  discovery() {
    const at = this.address();
    return {
      issuer: at,
      authorization_endpoint: at + PROVIDER_PATHS.authorize,
      token_endpoint: `${at}/token`,
      userinfo_endpoint: `${at}/userinfo`,
      jwks_uri: `${at}/jwks`,
      end_session_endpoint: at + PROVIDER_PATHS.endSession,
      response_types_supported: ['code'],
      grant_types_supported: ['authorization_code'],
      subject_types_supported: ['public'],
      id_token_signing_alg_values_supported: ['ES256'],
      token_endpoint_auth_methods_supported: ['none', 'client_secret_post', 'client_secret_basic'],
      code_challenge_methods_supported: ['S256'],
      scopes_supported: ['openid', 'email'],
      claims_supported: ['sub', 'email', 'email_verified', 'nonce', 'auth_time'],
    };
  }

  authorize(request: FastifyRequest, reply: FastifyReply): FastifyReply {
    const query = new URL(request.originalUrl, this.address()).searchParams;
    const fault = faultOf(query);
    if (fault !== null) return answerProblem(reply, 400, fault);
    const error = errorOf(query);
    if (error !== null) return sendBack(reply, query, error);
    const state = query.get('state');
    const known = state === null ? '' : withParameter('', 'state', this.opened(state));
    const decided = this.answer(request, 'GET', PROVIDER_PATHS.authorize, known);
    // OpenID Connect Core §3.1.2.1: whoever asks for no page is not shown one.
    const isSilent = query.get('prompt')?.split(' ').includes('none') === true;
    if (isSilent && decided.response.location === null) return sendBack(reply, query, 'login_required');
    return this.sendOn(reply, decided, query);
  }

  login(request: FastifyRequest, reply: FastifyReply): FastifyReply {
    const { body } = request;
    if (!(body instanceof URLSearchParams)) return answerProblem(reply, 415, 'Send a form');
    const fault = faultOf(body);
    if (fault !== null) return answerProblem(reply, 400, fault);
    // A name that was pressed comes beside the field that was left empty.
    const person = body.getAll('person').find((each) => each !== '') ?? '';
    if (person === '' || person.length > 256) return answerProblem(reply, 400, 'Name somebody');
    const form = new Map([['person', person]]).set('state', this.opened(body.get('state')));
    return this.sendOn(reply, this.answer(request, 'POST', PROVIDER_PATHS.login, '', form), body);
  }

  /** OpenID Connect RP-Initiated Logout §2. People are sent back to the app only, or to another client on this machine. */
  endSession(request: FastifyRequest, reply: FastifyReply): FastifyReply {
    const { app, site } = this.options;
    const query = new URL(request.originalUrl, this.address()).searchParams;
    const asked = query.get('post_logout_redirect_uri');
    const own = site.policy.origin;
    const isApp = asked?.startsWith(`${own}/`) === true;
    const back = isApp ? app + asked.slice(own.length) : asked;
    const address = back === null ? null : addressOf(back);
    if (back !== null && address === null) {
      return answerProblem(reply, 400, 'Not an address of this machine');
    }
    const known = isApp ? withParameter('', 'post_logout_redirect_uri', asked) : '';
    const decided = this.answer(request, 'GET', PROVIDER_PATHS.endSession, known);
    const state = query.get('state');
    const to = address === null || state === null ? address : withParameter(address, 'state', state);
    this.cookies(reply, decided);
    if (to !== null) return reply.redirect(to, 302);
    return reply.type('text/html; charset=utf-8').send(providerPage(this.options.provider, null, []));
  }

  /** RFC 6749 §4.1.3, with the verifier of RFC 7636 §4.5. */
  async token(request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
    const { body } = request;
    if (!(body instanceof URLSearchParams)) return tokenError(reply, 'invalid_request');
    if (body.get('grant_type') !== 'authorization_code') return tokenError(reply, 'unsupported_grant_type');
    const client = clientOf(request.headers.authorization, body);
    const grant = this.grants.take(body.get('code') ?? '', client);
    if (grant?.redirectUri !== body.get('redirect_uri')) return tokenError(reply, 'invalid_grant');
    const verifier = body.get('code_verifier');
    const isRight =
      grant.challenge === null ? verifier === null : grant.challenge === challengeOf(verifier ?? '');
    if (!isRight) return tokenError(reply, 'invalid_grant');
    return reply.send({
      access_token: this.grants.tokenFor(grant.person),
      token_type: 'Bearer',
      expires_in: 300,
      // RFC 6749 §5.1: what was granted is told, since it may be other than what was asked for.
      scope: 'openid email',
      id_token: await this.tokens.sign({ ...this.claimsOf(grant.person), nonce: grant.nonce, aud: client }),
    });
  }

  /** OpenID Connect Core §5.3. */
  userinfo(request: FastifyRequest, reply: FastifyReply): FastifyReply {
    const [, token = ''] = /^Bearer (.+)$/.exec(request.headers.authorization ?? '') ?? [];
    const person = this.grants.personOf(token);
    if (person === undefined) {
      return tokenError(
        reply.header('www-authenticate', 'Bearer error="invalid_token"'),
        'invalid_token',
        401,
      );
    }
    return reply.send(this.claimsOf(person));
  }

  private claimsOf(person: string) {
    const { provider } = this.options;
    const subject = createHash('sha256')
      .update(`${provider.issuer} ${person}`)
      .digest('base64url')
      .slice(0, 22);
    const host = new URL(provider.issuer).hostname;
    return { sub: subject, email: provider.knows.get(person) ?? `${person}@${host}`, email_verified: true };
  }

  /** The handle of a request that the app made; anything else is another client's own affair. */
  private opened(state: string | null): string {
    return state === null ? '' : this.options.wire().seals.open(state);
  }

  private answer(
    request: FastifyRequest,
    method: HttpRequest['method'],
    path: string,
    query: string,
    form: HttpRequest['form'] = new Map(),
  ): Decided {
    const { provider, site, wire, log } = this.options;
    const header = request.headers.cookie ?? '';
    const sealed =
      repeatedCookie(header, [PROVIDER_COOKIE.name]) === null
        ? cookieValue(header, PROVIDER_COOKIE.name)
        : null;
    const held = sealed === null ? '' : wire().openProviderCookie(sealed, site.time.now());
    const decided = site.answer({
      method,
      origin: provider.issuer,
      path,
      query,
      cookie: held === '' ? '' : `${PROVIDER_COOKIE.name}=${held}`,
      authorization: '',
      apiKey: '',
      accept: 'text/html',
      referer: '',
      client: SOME_CLIENT,
      crossOrigin: false,
      form,
    });
    const entry = site.entries.at(-1);
    if (entry !== undefined) log({ ...entry, target: provider.issuer + entry.target });
    return decided;
  }

  /** Sends somebody back with a code, or shows the page on which they say who they are. */
  private sendOn(reply: FastifyReply, decided: Decided, asked: URLSearchParams): FastifyReply {
    const { provider } = this.options;
    const { location } = decided.response;
    this.cookies(reply, decided);
    if (location === null) {
      return reply
        .type('text/html; charset=utf-8')
        .send(providerPage(provider, asked, [...provider.knows.keys()]));
    }
    const handed = parameterOf(new URL(location).search, 'code') ?? '';
    const person = this.options.site.state.codes[indexOf('code', handed)]?.person ?? '';
    const code = this.options.wire().seals.seal(handed);
    const redirectUri = asked.get('redirect_uri') ?? '';
    this.grants.add(code, {
      clientId: asked.get('client_id') ?? '',
      redirectUri,
      nonce: asked.get('nonce'),
      challenge: asked.get('code_challenge'),
      person,
    });
    const back = withParameter(addressOf(redirectUri) ?? '', 'code', code);
    // An app without state has none to get back; here it goes along all the same, to tell whose request it is.
    const isWithout = provider.state === 'absent' && redirectUri === this.options.app + provider.back.path;
    const state = isWithout ? null : asked.get('state');
    return reply.redirect(
      state === null ? back : withParameter(back, 'state', state),
      decided.response.status,
    );
  }

  private cookies(reply: FastifyReply, { response }: Decided): void {
    const { wire, site } = this.options;
    const sealed = response.setCookie.map((header) => wire().sealCookie(header, site.time.now(), null));
    if (sealed.length > 0) void reply.header('set-cookie', sealed);
  }
}

function sendBack(reply: FastifyReply, asked: URLSearchParams, error: string): FastifyReply {
  const back = withParameter(addressOf(asked.get('redirect_uri') ?? '') ?? '', 'error', error);
  const state = asked.get('state');
  return reply.redirect(state === null ? back : withParameter(back, 'state', state), 302);
}
