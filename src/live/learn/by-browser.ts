import type { BrowserContext, ElementHandle, Page, Request } from 'playwright-core';
import type { SetCookie } from '../../core/internal.js';
import type { AppAddress } from '../app-address.js';
import type { Chromium } from '../chromium.js';
import * as inPage from '../in-page.js';
import { claimsIn, parsed, valueAt } from '../json-answers.js';
import { TabRest } from '../tab-rest.js';
import { typeInto } from '../typing.js';
import { NOTHING } from './by-requests.js';
import type { Learnt, LearntLogin, LearntToken, Looker } from './learnt.js';
import { logoutOn } from './looked-at.js';
import { elementOfWho, type ThreeViews } from './who-learnt.js';

/** How long the body of an answer is waited for, in milliseconds. */
const LONGEST_BODY = 2_000;

/** What was seen when somebody logged in in a browser. */
interface Seen {
  readonly context: BrowserContext;
  /** Where it landed: path and query. */
  readonly lands: string;
  readonly html: string;
  readonly login: LearntLogin | null;
  /** What the login was answered with, as JSON; undefined for anything else. */
  readonly answer: unknown;
  readonly storages: Readonly<Record<'session' | 'local', Readonly<Record<string, string>>>>;
  readonly bearers: ReadonlySet<string>;
  readonly cookies: readonly SetCookie[];
}

/** An app whose login page is drawn by script, looked at in a browser; null where no login form can be filled in there. */
export async function learnByBrowser(
  address: AppAddress,
  chromium: Chromium,
  login: string,
  lookers: readonly [Looker, Looker],
): Promise<Learnt | null> {
  const [one, other] = [
    await signIn(address, chromium, login, lookers[0]),
    await signIn(address, chromium, login, lookers[1]),
  ];
  if (one === null || other === null) return null;
  const [path = '/'] = login.split('?', 1);
  for (const [at, { lands }] of [one, other].entries()) {
    if (lands.split('?', 1)[0] !== path) continue;
    return {
      ...NOTHING,
      notes: [`the login of ${lookers[at]?.account ?? ''} did not get in: it stayed at ${lands}`],
    };
  }
  const guest = await chromium.context(null);
  const views: ThreeViews[] = [];
  for (const target of new Set([one.lands, other.lands, '/'])) {
    const shown: (string | null)[] = [];
    for (const context of [one.context, other.context, guest]) {
      shown.push(await shownAt(context, address, target));
    }
    const [a, b, nobody] = shown;
    if (typeof a === 'string' && typeof b === 'string') {
      views.push({ one: a, other: b, guest: nobody ?? null });
    }
  }
  for (const context of [one.context, other.context, guest]) await context.close();
  const texts = [...textsIn(one.answer)];
  const access =
    texts.find(([, text]) => one.bearers.has(text)) ??
    texts.find(([pointer]) => /access|jwt|^\/token$/i.test(pointer));
  const refresh = texts.find(([pointer]) => /refresh/i.test(pointer));
  const token = (found: readonly [string, string] | undefined): LearntToken | null =>
    found === undefined
      ? null
      : {
          ...placeOf(found[1], one.storages),
          answer: found[0],
          life: lifeOf(found[1], one.answer),
          isBearer: one.bearers.has(found[1]),
        };
  return {
    ...NOTHING,
    login: one.login,
    session: one.cookies.map((cookie) => ({ cookie })),
    who: elementOfWho(views, lookers),
    logout:
      logoutOn(one.html) ?? views.map((view) => logoutOn(view.one)).find((each) => each !== null) ?? null,
    access: token(access),
    refresh: token(refresh),
  };
}

async function signIn(
  address: AppAddress,
  chromium: Chromium,
  login: string,
  looker: Looker,
): Promise<Seen | null> {
  const context = await chromium.context(null);
  const page = await context.newPage();
  const rest = new TabRest(page);
  const requests: Request[] = [];
  page.on('request', (request) => requests.push(request));
  await page.goto(address.origin + address.pathOf(login));
  await rest.settle();
  const before = requests.length;
  const filledIn = await fillInLogin(page, rest, looker);
  if (filledIn === null) return null;
  requests.splice(0, before);
  const { hasBox } = filledIn;
  const sent = requests.find((request) => carries(request.postData(), looker.password)) ?? null;
  const answer = sent === null ? undefined : parsed((await bodyOf(sent)) ?? '');
  return {
    context,
    lands: targetAt(page, address),
    html: await page.content(),
    login: sent === null ? null : loginOf(sent, looker, address, hasBox),
    answer,
    storages: await storagesOf(page),
    bearers: new Set(
      requests.flatMap(
        (request) => /^Bearer (.+)$/.exec(request.headers()['authorization'] ?? '')?.[1] ?? [],
      ),
    ),
    cookies: (await context.cookies()).map(asSetCookie),
  };
}

/**
 * Fills in the login form that a page shows, and sends it; null where it shows none.
 *
 * @throws Hindered where a field cannot be written to
 */
export async function fillInLogin(
  page: Page,
  rest: TabRest,
  looker: Looker,
): Promise<{ readonly hasBox: boolean } | null> {
  const find = `(${inPage.FIND_FORM})(${JSON.stringify({ selector: null, action: '', wants: 'password' })})`;
  const form = (await page.evaluateHandle<unknown>(find)).asElement() as ElementHandle | null;
  if (form === null) return null;
  const inside = async (find: unknown, argument: unknown) => {
    // The browser gives the function whatever element it is; there are no types of it here.
    const run = find as (where: unknown, argument: unknown) => unknown;
    return (await form.evaluateHandle(run, argument)).asElement() as ElementHandle | null;
  };
  const control = (what: inPage.Wanted['what']) => inside(inPage.findControl, { what, named: null });
  const [name, password] = [await control('name'), await control('password')];
  if (name === null || password === null) return null;
  const hasBox = (await control('remember')) !== null;
  const { pathname } = new URL(page.url());
  await typeInto(name, looker.name, `the field for the name on ${pathname}`);
  await typeInto(password, looker.password, `the field for the password on ${pathname}`);
  const { asked } = rest;
  const button = await inside(inPage.findButton, null);
  if (button === null) return null;
  await button.evaluate((each) => {
    (each as { click(): void }).click();
  });
  await rest.settle(asked);
  return { hasBox };
}

function loginOf(request: Request, looker: Looker, address: AppAddress, hasBox: boolean): LearntLogin {
  const text = request.postData() ?? '';
  const json = parsed(text);
  const isJson = typeof json === 'object' && json !== null;
  const fields = isJson
    ? [...textsIn(json)].map(([pointer, value]): [string, string] => [pointer.slice(1), value])
    : [...new URLSearchParams(text)];
  const named = (value: string) => fields.find(([, each]) => each === value)?.[0] ?? '';
  const { pathname, search } = new URL(request.url());
  return {
    request: `${request.method()} ${address.withoutBase(pathname) ?? pathname}${search}`,
    by: request.isNavigationRequest() ? 'form' : 'script',
    sends: isJson ? 'json' : 'form',
    name: named(looker.name),
    password: named(looker.password),
    remember: hasBox
      ? (fields.map(([name]) => name).find((name) => /remember|keep|stay/i.test(name)) ?? null)
      : null,
    role: null,
    hidden: [],
  };
}

function carries(data: string | null, password: string): boolean {
  return (
    data !== null &&
    (data.includes(password) ||
      data.includes(encodeURIComponent(password)) ||
      data.includes(JSON.stringify(password).slice(1, -1)))
  );
}

/** The body of an answer; null for one that does not come to its end, as where script does not read it. */
async function bodyOf(request: Request): Promise<string | null> {
  const response = await request.response();
  const late = new Promise<null>((give) => setTimeout(give, LONGEST_BODY, null));
  return Promise.race([response?.text().catch(() => null) ?? null, late]);
}

async function storagesOf(page: Page): Promise<Seen['storages']> {
  return page.evaluate<Seen['storages']>('({ session: { ...sessionStorage }, local: { ...localStorage } })');
}

/** A page as somebody is shown it; null where they are sent elsewhere. */
async function shownAt(context: BrowserContext, address: AppAddress, target: string): Promise<string | null> {
  // What a tab keeps is not in another one.
  const page = context.pages()[0] ?? (await context.newPage());
  const rest = new TabRest(page);
  await page.goto(address.origin + address.pathOf(target)).catch(() => null);
  await rest.settle();
  return targetAt(page, address) === target ? page.content() : null;
}

function targetAt(page: Page, address: AppAddress): string {
  const { pathname, search } = new URL(page.url());
  return `${address.withoutBase(pathname) ?? pathname}${search}`;
}

/** Every text in a JSON value with its pointer (RFC 6901), down to three levels. */
function* textsIn(value: unknown, pointer = ''): Generator<readonly [string, string]> {
  if (typeof value === 'string' && value !== '') yield [pointer, value];
  if (typeof value !== 'object' || value === null || pointer.split('/').length > 4) return;
  for (const key of Object.keys(value)) {
    yield* textsIn(valueAt(value, `/${escaped(key)}`), `${pointer}/${escaped(key)}`);
  }
}

const escaped = (key: string) => key.replaceAll('~', '~0').replaceAll('/', '~1');

/** The storage that holds a token: by itself, or somewhere in a JSON value. */
function placeOf(
  token: string,
  storages: Seen['storages'],
): Pick<LearntToken, 'storage' | 'key' | 'pointer'> {
  for (const storage of ['session', 'local'] as const) {
    for (const [key, text] of Object.entries(storages[storage])) {
      if (text === token) return { storage, key, pointer: '' };
      for (const [pointer, value] of textsIn(parsed(text))) {
        if (value === token) return { storage, key, pointer };
      }
    }
  }
  return { storage: null, key: null, pointer: '' };
}

function lifeOf(token: string, answer: unknown): number | null {
  const claims = claimsIn(token);
  const [from, to] = [valueAt(claims, '/iat'), valueAt(claims, '/exp')];
  if (typeof from === 'number' && typeof to === 'number') return to - from;
  const said = valueAt(answer, '/expires_in');
  return claims !== undefined && typeof said === 'number' ? said : null;
}

function asSetCookie(cookie: Awaited<ReturnType<BrowserContext['cookies']>>[number]): SetCookie {
  return {
    name: cookie.name,
    value: cookie.value,
    path: cookie.path,
    domain: null,
    secure: cookie.secure,
    httpOnly: cookie.httpOnly,
    sameSite: cookie.sameSite === 'Strict' ? 'strict' : cookie.sameSite === 'None' ? 'none' : 'lax',
    maxAge: cookie.expires < 0 ? null : Math.round(cookie.expires - Date.now() / 1000),
    expires: null,
  };
}
