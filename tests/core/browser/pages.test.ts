import { begin, receive } from '../../../src/core/browser/browser';
import { storeCookies, copyOf } from '../../../src/core/browser/cookie-jar';
import { NEW_BROWSER, type BrowserState, type Deed, type PageBody } from '../../../src/core/browser/state';
import { FixedClock } from '../../../src/core/time/clock';
import { EMPTY_PAGE, respond, type HttpRequest, type HttpResponse } from '../../../src/core/http/messages';
import { policyText, project } from '../../support/policies';

/** A person at one browser of an app that answers as it is told. */
class Person {
  browser: BrowserState = NEW_BROWSER;
  now = 0;
  private readonly client;
  private asked: string[] = [];

  constructor(
    text: string,
    private readonly answer: (request: HttpRequest) => HttpResponse,
  ) {
    this.client = project(text).stage.client;
  }

  /** Does something and gives the requests that came of it. */
  do(deed: Deed): readonly string[] {
    this.asked = [];
    const clock = new FixedClock(this.now);
    let turn = begin(this.client, this.browser, deed, clock);
    while (turn.flight !== null) {
      const { request } = turn.flight;
      const form = [...request.form].map(([name, value]) => ` ${name}=${value}`);
      this.asked.push(`${request.method} ${request.path}${request.query}${form.join('')}`);
      turn = receive(this.client, turn.browser, turn.flight, this.answer(request), clock);
    }
    this.browser = turn.browser;
    return this.asked;
  }

  open(address: string, isLink = false): readonly string[] {
    return this.do({ deed: 'open', address, ...(isLink ? { isLink } : {}) });
  }

  back(pages = 1): readonly string[] {
    return this.do({ deed: 'back', pages });
  }

  /** The path in front. */
  get at(): string | undefined {
    return this.browser.tab.page?.address.path;
  }
}

const page = (more: Partial<PageBody> = {}, response: Partial<HttpResponse> = {}) =>
  respond(200, { noStore: true, body: { ...EMPTY_PAGE, ...more }, ...response });

const claims = { account: 'ann', roles: new Set(['clerk']), secondFactor: false };
const TOKENS = { access: 'access-1', refresh: 'refresh-1', receivedAt: 0, expiresIn: 300, claims };
const byTokens = (kept: string) =>
  policyText({
    login: 'login: { page: /in, submit: POST /in, by: tokens }',
    more: `tokens: { access: { life: 5m, kept: ${kept} }, refresh: { life: 1h, kept: ${kept} }, refresh-when: refused }`,
  });
const holding = (person: Person) => {
  const { tab } = person.browser;
  person.browser = { ...person.browser, tab: { ...tab, tokens: TOKENS as unknown as typeof tab.tokens } };
};

describe('tabs', () => {
  test.each([
    ['tab', null, 'access-1'],
    ['browser', 'access-1', 'access-1'],
  ])('with tokens kept in the %s a new one has %s, and the one behind it %s', (kept, inNew, behind) => {
    const person = new Person(byTokens(kept), () => page());
    person.open('/hall');
    holding(person);
    person.do({ deed: 'new-tab' });
    expect([person.at, person.browser.tab.tokens?.access ?? null]).toEqual([undefined, inNew]);
    person.open('/desk');
    person.do({ deed: 'new-tab' });
    expect(person.browser.behind.map(({ page: shown }) => shown?.address.path)).toEqual(['/hall', '/desk']);
    person.do({ deed: 'close-tab' });
    expect([person.at, person.browser.behind.length]).toEqual(['/desk', 1]);
    person.do({ deed: 'close-tab' });
    expect([person.at, person.browser.tab.tokens?.access]).toEqual(['/hall', behind]);
    expect(person.browser.behind).toEqual([]);
    person.do({ deed: 'new-tab' });
    for (const deed of ['close-browser', 'open-browser'] as const) {
      person.do({ deed });
      expect(person.browser.behind).toEqual([]);
      expect([person.at, person.browser.tab.tokens?.access ?? null]).toEqual([undefined, inNew]);
    }
  });

  test('reloading asks for the page as it was asked for, and for nothing where there is none', () => {
    const person = new Person(policyText(), () => page());
    expect(person.do({ deed: 'reload' })).toEqual([]);
    person.do({ deed: 'submit', method: 'POST', address: '/desk?a=1' });
    expect(person.do({ deed: 'reload' })).toEqual(['POST /desk?a=1']);
    expect(person.browser.tab.history).toBeNull();
  });
});

describe('back', () => {
  const answers = (more: Readonly<Record<string, HttpResponse>> = {}) => {
    return (request: HttpRequest) => more[request.path] ?? page();
  };

  test.each<[what: string, on: HttpResponse, asked: readonly string[]]>([
    ['a page that is told not to be stored comes back as it was left', page(), []],
    ['and is asked for again once a cookie has come', page({}, { setCookie: ['a=1'] }), ['GET /desk']],
    ['and once one was dropped', page({}, { setCookie: ['a=; Max-Age=0', 'b=1'] }), ['GET /desk']],
    ['but not for one that is not taken', page({}, { setCookie: ['__Host-a=1; Path=/x'] }), []],
  ])('%s', (_what, on, asked) => {
    const person = new Person(policyText(), answers({ '/hall': on }));
    person.open('/desk');
    person.open('/hall');
    expect(person.back()).toEqual(asked);
    expect(person.at).toBe('/desk');
  });

  test.each([
    [179, []],
    [180, ['GET /desk']],
  ])('after %i seconds elsewhere it comes back with %j', (seconds, asked) => {
    const person = new Person(policyText(), answers());
    person.open('/desk');
    person.now = 1_000;
    person.open('/hall');
    person.now += seconds;
    expect(person.back()).toEqual(asked);
  });

  test('a page whose data must not be stored is asked for again, in the tab in front alone', () => {
    const text = byTokens('tab');
    const data = respond(200, { noStore: true });
    const person = new Person(text, answers({ '/api/data': data, '/api/open': respond(200) }));
    for (const [call, asked] of [
      ['/api/data', ['GET /desk']],
      ['/api/open', []],
    ] as const) {
      person.open('/desk');
      holding(person);
      person.do({ deed: 'call', method: 'GET', address: call });
      person.open('/hall');
      expect(person.back()).toEqual(asked);
    }
  });

  test('what was refused, sent or never answered is not brought back', () => {
    const loop = respond(302, { location: '/loop' });
    const person = new Person(policyText(), answers({ '/loop': loop, '/no': page({}, { status: 403 }) }));
    for (const go of [
      () => person.open('/loop'),
      () => person.do({ deed: 'submit', method: 'POST', address: '/sent' }),
    ]) {
      const [first = ''] = go();
      person.open('/hall');
      expect(person.back()[0]).toBe(first);
    }
  });

  test('a response to a call with a token takes no cookie in', () => {
    const person = new Person(byTokens('tab'), () => respond(200, { setCookie: ['a=1'] }));
    holding(person);
    person.do({ deed: 'call', method: 'GET', address: '/api' });
    expect(person.browser.cookies).toEqual([]);
    const other = new Person(byTokens('tab'), () => respond(200, { setCookie: ['a=1'] }));
    other.do({ deed: 'call', method: 'GET', address: '/api' });
    expect(other.browser.cookies.map(({ name }) => name)).toEqual(['a']);
  });
});

describe('an app of one document', () => {
  const guard = {
    audience: { who: 'signed-in' },
    parameters: new Map<string, string>(),
    flags: new Set<string>(),
    parts: [],
  };
  const shell = { guard, loads: [{ method: 'GET', path: '/api/data' }] } as unknown as Partial<PageBody>;
  const app = (request: HttpRequest) =>
    request.path.startsWith('/api') ? respond(200) : page(request.path === '/plain' ? {} : shell);
  const visits = (...all: readonly (readonly [address: string, isLink: boolean])[]) => {
    const person = new Person(byTokens('tab'), app);
    holding(person);
    for (const [address, isLink] of all) person.open(address, isLink);
    return person;
  };

  test.each([
    ['by a link of script its script judges again and loads its data', ['/a', '/b'], true, ['GET /api/data']],
    ['after an address was typed the page is as it was left', ['/a', '/b'], false, []],
    ['from a plain page it is as it was left', ['/a', '/plain'], true, []],
    ['to a plain page nothing is loaded', ['/plain', '/a'], true, []],
  ])('%s', (_what, [first = '', second = ''], isLink, asked) => {
    const person = visits([first, false], [second, isLink]);
    expect(person.back()).toEqual(asked);
    expect(person.at).toBe(first);
  });

  test('two pages back it is one document only where all between are', () => {
    expect(visits(['/a', false], ['/b', true], ['/c', true]).back(2)).toEqual(['GET /api/data']);
    expect(visits(['/a', false], ['/b', false], ['/c', true]).back(2)).toEqual([]);
    expect(visits(['/a', false], ['/b', true], ['/c', false]).back(2)).toEqual([]);
  });

  test.each([
    ['a return address', 'return: { param: to }', 'GET /in?to=/a'],
    ['none', '', 'GET /in'],
  ])(
    'script that takes its visitor for a guest sends them to the login page with %s',
    (_what, more, asked) => {
      const text = byTokens('tab').replace('by: tokens', `by: tokens, ${more}`.replace(/, $/, ''));
      const person = new Person(text, (request) => (request.path === '/in' ? page() : app(request)));
      expect(person.open('/a')).toEqual(['GET /a', asked]);
    },
  );

  test('it draws the menu of whom it knows, and leaves a guest the one that came', () => {
    const text = `${byTokens('tab')}\nmenu: [{ to: /hall, text: Hall }, { to: /safe, text: Safe }]`;
    const open = { ...shell, guard: { ...guard, audience: { who: 'everyone' } }, menu: ['/x'], loads: [] };
    const person = new Person(text, () => page(open as unknown as Partial<PageBody>));
    person.open('/a');
    expect(person.browser.tab.page?.menu).toEqual(['/x']);
    holding(person);
    person.open('/a');
    expect(person.browser.tab.page?.menu).toEqual(['/hall']);
  });
});

test('a form that is shown again at another address is filled in there', () => {
  const text = policyText({
    more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: login }',
  });
  const person = new Person(text, (request) =>
    page(request.method === 'POST' ? { again: request.path === '/in' ? 'login' : 'sign-up' } : {}),
  );
  const fill = (form: 'login' | 'sign-up') =>
    person.do({ deed: 'fill-in', fill: { form, fields: new Map([['name', 'ann']]) } });
  expect(fill('login')).toEqual(['GET /in', 'POST /in name=ann']);
  expect(fill('login')).toEqual(['POST /in name=ann']);
  expect(fill('sign-up')).toEqual(['GET /join', 'POST /join name=ann']);
  expect(fill('login')).toEqual(['GET /in', 'POST /in name=ann']);
});

test('a copied cookie stays without end when the app gives it another value, and no other does', () => {
  const clock = new FixedClock(0);
  const from = { origin: 'https://app.example', path: '/', query: '' };
  const both = storeCookies([], ['a=1; Max-Age=60', 'b=1; Max-Age=60'], from, clock).jar;
  const jar = both.map((each) => (each.name === 'a' ? copyOf(each) : each));
  const after = storeCookies(jar, ['a=2; Max-Age=30', 'b=2; Max-Age=30'], from, clock).jar;
  expect(after.map(({ name, value, life, copied }) => [name, value, life, copied ?? false])).toEqual([
    ['a', '2', null, true],
    ['b', '2', 30, false],
  ]);
});
