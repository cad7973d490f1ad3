import { targetIn as withoutOrigin, type FormHints } from '../../core/internal.js';
import type { AppAddress } from '../app-address.js';
import { filledIn, slotsIn, type Answers } from '../form-filling.js';
import { HtmlPage, type PageForm } from '../html-page.js';
import type { Transport } from '../transport.js';
import type { Learnt, Looker } from './learnt.js';
import { logoutOn } from './looked-at.js';
import { Visitor, type Arrival } from './visitor.js';
import { elementOfWho, headerOfWho, type ThreeViews } from './who-learnt.js';

export const NO_HINTS: FormHints = {
  form: null,
  sends: null,
  name: null,
  password: null,
  remember: null,
  role: null,
  code: null,
};

/** An app whose login page has a form, looked at by plain requests; null where it has none, or where the form lets nobody in. */
export async function learnByRequests(
  address: AppAddress,
  transport: Transport,
  login: string,
  lookers: readonly [Looker, Looker],
): Promise<Learnt | null> {
  const plain = await new Visitor(address, transport, false).ask('GET', login);
  // An app that sends plain http to https stands behind a proxy that ends TLS: here it stands behind this one.
  const isProxied = asksForHttps(plain, address);
  const newcomer = () => new Visitor(address, transport, isProxied);
  const first = isProxied ? await newcomer().ask('GET', login) : plain;
  const form = loginForm(first);
  if (form === null) return null;
  const slots = slotsIn(form, NO_HINTS);
  const [password] = slots.passwords;
  if (slots.name === null || password === undefined) return null;
  const signIn = async (looker: Looker, remember: boolean) => {
    const visitor = newcomer();
    const page = await visitor.ask('GET', login);
    const own = loginForm(page) ?? form;
    const before = visitor.cookies;
    const answers: Answers = {
      name: looker.name,
      password: looker.password,
      remember,
      role: null,
      code: null,
      old: null,
    };
    const action = targetIn(address, own.action === '' ? page.target : own.action, page.target);
    const came = await visitor.ask(own.method, action, filledIn(own, slotsIn(own, NO_HINTS), answers));
    const fresh = came.set.filter(
      ({ name, value, maxAge }) => before.get(name) !== value && (maxAge === null || maxAge > 0),
    );
    return {
      visitor,
      came,
      fresh: [...new Map(fresh.map((cookie) => [cookie.name, cookie])).values()],
      action,
    };
  };
  const [one, other] = [await signIn(lookers[0], false), await signIn(lookers[1], false)];
  const notes: string[] = [];
  for (const [at, each] of [one, other].entries()) {
    if (loginForm(each.came) === null && each.came.answer.status < 400 && each.fresh.length > 0) continue;
    const name = lookers[at]?.account ?? '';
    notes.push(
      `the login of ${name} did not get in: it led to ${each.came.target} (${each.came.answer.status})`,
    );
    return { ...NOTHING, notes };
  }
  const kept = slots.remember === null ? null : await signIn(lookers[0], true);
  const known = new Set(one.fresh.map(({ name }) => name));
  const targets = [...new Set([one.came.target, other.came.target, '/', login])].filter(
    (target) => target !== login,
  );
  const views: ThreeViews[] = [];
  let who = null;
  for (const target of targets) {
    const [a, b, nobody] = [
      await one.visitor.ask('GET', target),
      await other.visitor.ask('GET', target),
      await newcomer().ask('GET', target),
    ];
    if (a.target !== target || b.target !== target) continue;
    who ??= headerOfWho(a.answer, b.answer, nobody.answer, lookers);
    views.push({
      one: a.answer.body,
      other: b.answer.body,
      guest: nobody.target === target ? nobody.answer.body : null,
    });
  }
  const logout =
    logoutOn(one.came.answer.body) ??
    views.map((view) => logoutOn(view.one)).find((each) => each !== null) ??
    null;
  return {
    login: {
      request: `${form.method} ${one.action}`,
      by: 'form',
      sends: 'form',
      name: slots.name,
      password,
      remember: slots.remember?.name ?? null,
      role: slots.role,
      hidden: form.inputs.filter(({ type }) => type === 'hidden').map(({ name }) => name),
    },
    session: one.fresh.map((cookie) => ({ cookie })),
    remember: (kept?.fresh ?? []).filter(({ name }) => !known.has(name)).map((cookie) => ({ cookie })),
    who: who ?? elementOfWho(views, lookers),
    logout,
    access: null,
    refresh: null,
    isProxied,
    notes,
  };
}

export const NOTHING: Learnt = {
  login: null,
  session: [],
  remember: [],
  who: null,
  logout: null,
  access: null,
  refresh: null,
  isProxied: false,
  notes: [],
};

/** Whether an answer sends on to the same host by https. */
export function asksForHttps({ answer }: Arrival, { at }: AppAddress): boolean {
  const [location = ''] = [answer.headers['location'] ?? []].flat();
  const url = URL.canParse(location) ? new URL(location) : null;
  return url?.protocol === 'https:' && at.startsWith('http:') && url.hostname === new URL(at).hostname;
}

function loginForm({ answer }: Arrival): PageForm | null {
  const type = [answer.headers['content-type'] ?? []].flat()[0] ?? '';
  if (!type.includes('html')) return null;
  const forms = new HtmlPage(answer.body).forms();
  return (
    forms.find(
      ({ method, inputs }) => method === 'POST' && inputs.some((input) => input.type === 'password'),
    ) ?? null
  );
}

/** Where a reference of a page leads, in the app's own addresses. */
function targetIn(address: AppAddress, reference: string, from: string): string {
  return withoutOrigin(address.inPolicy(reference, from), address.origin);
}
