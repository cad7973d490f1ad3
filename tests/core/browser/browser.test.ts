import { BEGINNING } from '../../../src/core/time/clock';
import { begin, receive } from '../../../src/core/browser/browser';
import { NEW_BROWSER, type BrowserState, type Deed, type Turn } from '../../../src/core/browser/state';
import { FixedClock } from '../../../src/core/time/clock';
import {
  EMPTY_PAGE,
  LOGIN_WANTED,
  respond,
  type HttpRequest,
  type HttpResponse,
} from '../../../src/core/http/messages';
import { policyText, project } from '../../support/policies';

const CLOCK = new FixedClock(0);
const TOKENS = 'tokens: { access: { life: 5m }, refresh: { life: 1h }, refresh-when: refused }';
const policyWithTokens = policyText({
  login: 'login: { page: /in, submit: POST /in, by: tokens }',
  more: TOKENS,
});

function clientFor(text: string) {
  return project(text).stage.client;
}

/** Answers each request of a deed by a script and gives the requests, in short, and the last turn. */
function answer(
  deed: Deed,
  script: (request: HttpRequest, number: number) => HttpResponse,
  {
    browser = NEW_BROWSER,
    text = policyText(),
    clock = CLOCK,
  }: { browser?: BrowserState; text?: string; clock?: FixedClock } = {},
): { readonly requests: string[]; readonly turn: Turn } {
  const client = clientFor(text);
  const requests: string[] = [];
  let turn = begin(client, browser, deed, clock);
  while (turn.flight !== null) {
    const { request } = turn.flight;
    requests.push(`${request.method} ${request.path}${request.query} ${request.authorization}`.trim());
    turn = receive(client, turn.browser, turn.flight, script(request, requests.length - 1), clock);
  }
  return { requests, turn };
}

const claims = { account: 'ann', roles: new Set(['clerk']), secondFactor: false };
const holding: BrowserState = {
  ...NEW_BROWSER,
  tab: {
    page: null,
    history: null,
    tokens: { access: 'access-1', refresh: 'refresh-1', receivedAt: CLOCK.now, expiresIn: 300, claims },
  },
};
const tokens = (accessToken: string): HttpResponse =>
  respond(200, {
    body: { kind: 'tokens', accessToken, expiresIn: 300, refreshToken: null, claims, next: null },
  });

describe('redirects (https://fetch.spec.whatwg.org/#http-redirect-fetch)', () => {
  test.each([
    [301, 'POST', 'GET'],
    [302, 'POST', 'GET'],
    [303, 'POST', 'GET'],
    [303, 'PUT', 'GET'],
    [301, 'PUT', 'PUT'],
    [307, 'POST', 'POST'],
    [308, 'DELETE', 'DELETE'],
    [303, 'HEAD', 'HEAD'],
  ] as const)('%i after %s goes on with %s', (status, method, then) => {
    const { requests } = answer({ deed: 'submit', method, address: '/x' }, (_request, number) =>
      number === 0 ? respond(status, { location: '/y' }) : respond(200),
    );
    expect(requests).toEqual([`${method} /x`, `${then} /y`]);
  });

  test('after twenty the browser gives up', () => {
    const { requests, turn } = answer({ deed: 'open', address: '/0' }, (_request, number) =>
      respond(302, { location: `/${number + 1}` }),
    );
    expect(requests).toHaveLength(21);
    expect(turn.cutShort).toBe('redirect-loop');
  });

  test('another origin ends the way, and the tab is there', () => {
    const { requests, turn } = answer({ deed: 'open', address: '/x' }, () =>
      respond(302, { location: '//other.example/y' }),
    );
    expect(requests).toEqual(['GET /x']);
    expect(turn.cutShort).toBe('off-origin');
    expect(turn.browser.tab.page?.address).toEqual({
      origin: 'https://other.example',
      path: '/y',
      query: '',
    });
  });

  test('a location is resolved against the address that gave it', () => {
    const { requests } = answer({ deed: 'open', address: '/a/b?c' }, (_request, number) =>
      number === 0 ? respond(302, { location: '../d?e' }) : respond(200),
    );
    expect(requests[1]).toBe('GET /d?e');
  });
});

describe('calls by script', () => {
  const call: Deed = { deed: 'call', method: 'POST', address: '/api' };
  const options = { browser: holding, text: policyWithTokens };

  test('a call carries the token and no cookie', () => {
    const cookies = [
      {
        name: 's',
        value: '1',
        host: 'app.example',
        hostOnly: true,
        path: '/',
        secure: true,
        httpOnly: true,
        sameSite: null,
        createdAt: BEGINNING,
        storedAt: CLOCK.now,
        life: null,
      },
    ];
    const { requests } = answer(call, (request) => respond(request.cookie === '' ? 200 : 500), {
      ...options,
      browser: { ...holding, cookies },
    });
    expect(requests).toEqual(['POST /api Bearer access-1']);
  });

  test('a 401 leads to one refresh and one repeat with the new token', () => {
    const { requests, turn } = answer(
      call,
      (_request, number) => [respond(401), tokens('access-2'), respond(200)][number] ?? respond(500),
      options,
    );
    expect(requests).toEqual(['POST /api Bearer access-1', 'POST /oauth/token', 'POST /api Bearer access-2']);
    expect(turn.browser.tab.tokens).toMatchObject({ access: 'access-2', refresh: 'refresh-1' });
  });

  test('a second 401 is not refreshed again, and the token that is worth nothing goes', () => {
    const { requests, turn } = answer(
      call,
      (request) => (request.path === '/api' ? respond(401) : tokens('access-2')),
      options,
    );
    expect(requests).toHaveLength(3);
    expect(turn.browser.tab.tokens).toBeNull();
  });

  test('a 401 that asks for a new login (RFC 9470 §3) is not refreshed, and the token stays', () => {
    const { requests, turn } = answer(call, () => respond(401, { authenticate: LOGIN_WANTED }), options);
    expect(requests).toHaveLength(1);
    expect(turn.browser.tab.tokens).toMatchObject({ access: 'access-1' });
  });

  test.each([400, 403, 404, 500, 503])('a %i is passed on without a refresh', (status) => {
    expect(answer(call, () => respond(status), options).requests).toHaveLength(1);
  });

  test('without a token a 401 is passed on', () => {
    expect(answer(call, () => respond(401), { text: policyWithTokens }).requests).toEqual(['POST /api']);
  });

  test('a failed refresh drops both tokens and goes to the login, even when it was answered with a 401', () => {
    const { requests, turn } = answer(
      call,
      (request) => respond(request.path === '/in' ? 200 : 401),
      options,
    );
    expect(requests).toEqual(['POST /api Bearer access-1', 'POST /oauth/token', 'GET /in']);
    expect(turn.browser.tab.tokens).toBeNull();
    expect(turn.browser.tab.page?.address.path).toBe('/in');
  });

  test.each([
    [
      'within the origin the token goes along',
      '/other',
      ['POST /api Bearer access-1', 'POST /other Bearer access-1'],
    ],
    ['to another origin nothing goes', 'https://other.example/x', ['POST /api Bearer access-1']],
  ])('a redirected call: %s', (_what, location, expected) => {
    const script = (_request: HttpRequest, number: number) =>
      number === 0 ? respond(307, { location }) : respond(200);
    expect(answer(call, script, options).requests).toEqual(expected);
  });

  test.each([
    [269, ['POST /api Bearer access-1']],
    [270, ['POST /oauth/token', 'POST /api Bearer access-2']],
  ])('thirty seconds ahead of expiry, at second %i', (seconds, expected) => {
    const text = policyWithTokens.replace('refresh-when: refused', 'refresh-when: 30s');
    const script = (request: HttpRequest) => (request.path === '/api' ? respond(200) : tokens('access-2'));
    expect(answer(call, script, { ...options, text, clock: new FixedClock(seconds) }).requests).toEqual(
      expected,
    );
  });
});

describe('forms', () => {
  const fields = new Map([['account', 'ann']]).set('password', 'a-1');
  const ANN = { form: 'login', fields } as const;

  test('logging in goes to the login page first and passes its return address on', () => {
    const seen: (string | undefined)[] = [];
    const script = (request: HttpRequest) => {
      seen.push(request.form.get('back'));
      return respond(200, {
        body: EMPTY_PAGE,
      });
    };
    const login: Deed = { deed: 'fill-in', fill: ANN };
    expect(answer(login, script).requests).toEqual(['GET /in', 'POST /in']);
    const page = {
      address: { origin: 'https://app.example', path: '/in', query: '?back=/desk' },
      method: 'GET',
      status: 200,
      menu: [],
      parts: [],
      refusals: null,
      reader: null,
      kept: false,
      frozen: false,
      sent: new Map<string, string>(),
      again: null,
      crossSite: false,
      token: null,
      script: null,
    } as const;
    const browser: BrowserState = { ...NEW_BROWSER, tab: { page, tokens: null, history: null } };
    expect(answer(login, script, { browser }).requests).toEqual(['POST /in']);
    expect(seen).toEqual([undefined, undefined, '/desk']);
  });

  test('where the login page does not show its form, nothing is sent', () => {
    const script = (_request: HttpRequest, number: number) =>
      number === 0 ? respond(302, { location: '/desk' }) : respond(200);
    const { requests } = answer({ deed: 'fill-in', fill: ANN }, script);
    expect(requests).toEqual(['GET /in', 'GET /desk']);
  });

  test.each([
    ['[access, refresh]', null],
    ['[refresh]', { access: 'access-1', refresh: null }],
    ['[]', { access: 'access-1', refresh: 'refresh-1' }],
  ])('a logout that clears %s', (clears, expected) => {
    const text = policyWithTokens.replace('logout: {', `logout: { clears: ${clears}, ends: [refresh],`);
    let sent: string | undefined;
    const { turn } = answer(
      { deed: 'log-out' },
      (request) => ((sent = request.form.get('refresh_token')), respond(200)),
      { browser: holding, text },
    );
    expect(sent).toBe('refresh-1');
    if (expected === null) expect(turn.browser.tab.tokens).toBeNull();
    else expect(turn.browser.tab.tokens).toMatchObject(expected);
  });
});
