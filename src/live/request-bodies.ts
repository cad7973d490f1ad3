import {
  type BrowserState,
  type Fill,
  type Flight,
  type FormName,
  formNames,
  hintsFor,
  type HttpRequest,
  loginOfForm,
  type Policy,
  targetIn,
  normalisePath,
} from '../core/internal.js';
import { filledIn, slotsIn, type Answers } from './form-filling.js';
import { Hindered } from './hindered.js';
import type { HtmlPage, PageForm } from './html-page.js';
import type { Site } from './site.js';

/** What goes along with a request. */
export interface Sending {
  readonly type: string;
  readonly text: string;
  /** Another target than the policy has, where a page's own form says so. */
  readonly target?: string;
  readonly method?: string;
}

/** The forms that people fill in. */ const NO_BODY: Sending = { type: '', text: '' };

/** Finds what a browser sends along: the fields of the forms on its pages, filled in. */
/** The forms that ask for a text, and for no password. */
export const ASKS_A_TEXT: ReadonlySet<FormName> = new Set<FormName>(['code', 'ask-reset', 'ask-link']);

export class RequestBodies {
  constructor(
    private readonly site: Site,
    /** The pages as they came, by the requests that they answer. */
    private readonly pages: WeakMap<object, HtmlPage>,
  ) {}

  private get policy(): Policy {
    return this.site.stage.app.policy;
  }

  /** What a request carries: a form of the page in front where it has one, else what the browser half says. */
  bodyFor(
    { request, purpose, redirects }: Flight,
    browser: BrowserState,
    answers: Answers | null,
    fill: Fill | null,
  ): Sending {
    const { method, path, form } = request;
    const { client } = this.site.stage;
    if (purpose.kind === 'refresh') return this.refreshBody(form);
    const shown = browser.tab.page === null ? null : (this.pages.get(browser.tab.page.address) ?? null);
    const isLogout = client.logout?.submit.path === path && client.logout.submit.method === method;
    if (isLogout && redirects === 0) return this.logoutBody(form, shown, browser);
    const filled =
      fill?.at !== undefined && pathIn(fill.at) === path
        ? fill.form
        : formNames(client).find((name) => {
            const submit = client.forms[name]?.submit;
            return submit?.method === method && submit.path === path;
          });
    if (method === 'GET' || method === 'HEAD') return NO_BODY;
    if (redirects > 0) return formBody(form);
    if (filled !== undefined && answers !== null) {
      return request.crossOrigin
        ? this.foreignBody(filled, answers)
        : this.filledBody(filled, answers, browser, purpose.kind === 'login', request);
    }
    if (request.crossOrigin) return formBody(form);
    const own = this.formFor(shown, path, browser);
    return own === null ? formBody(form) : formBody(asPressed(own));
  }

  /** What a logout sends: the form or link that the app has for it, wherever it leads, or what the policy says. */
  private logoutBody(form: HttpRequest['form'], shown: HtmlPage | null, browser: BrowserState): Sending {
    const { logout } = this.site.config;
    const { path = '/', query = '' } = browser.tab.page?.address ?? {};
    const here = path + query;
    const targetOf = (reference: string) =>
      targetIn(this.site.address.inPolicy(reference === '' ? here : reference, here), this.policy.origin);
    if (form.has('refresh_token')) return this.refreshBody(form);
    if (logout?.by === 'request') return { ...formBody(form), method: logout.method, target: logout.path };
    if (logout?.by === 'link') {
      const link = shown?.link(logout.selector) ?? null;
      return link === null ? formBody(form) : { ...NO_BODY, method: 'GET', target: targetOf(link) };
    }
    const submit = this.site.stage.client.logout?.submit;
    const own =
      logout?.by === 'form'
        ? (shown?.form(logout.selector) ?? null)
        : this.formFor(shown, submit?.path ?? '', browser);
    if (own === null) return formBody(form);
    return {
      ...formBody(asPressed(own)),
      ...(logout === null ? {} : { method: own.method, target: targetOf(own.action) }),
    };
  }

  private filledBody(
    name: FormName,
    answers: Answers,
    browser: BrowserState,
    byScript: boolean,
    { form, path, method }: HttpRequest,
  ): Sending {
    const hints = hintsFor(this.site.config, name);
    const shown = browser.tab.page === null ? null : (this.pages.get(browser.tab.page.address) ?? null);
    const own =
      shown === null
        ? null
        : hints.form === null
          ? this.formFor(shown, path, browser, name)
          : shown.form(hints.form);
    if (own !== null && !byScript) {
      const slots = slotsIn(own, hints);
      this.site.secrets.add(answers.password);
      return formBody(filledIn(own, slots, answers));
    }
    if (!byScript) {
      throw new Hindered(
        `the page ${browser.tab.page?.address.path ?? ''} has no form that sends ${method} ${path}`,
      );
    }
    const login = loginOfForm(this.policy, name) ?? this.policy.login;
    const fields = new Map<string, string>();
    const put = (key: string, value: string | null) => {
      if (value !== null) fields.set(key, value);
    };
    put(hints.name ?? login?.fields.account ?? 'account', answers.name);
    put(hints.password ?? login?.fields.password ?? 'password', answers.password);
    put(hints.role ?? 'role', answers.role);
    put(hints.code ?? 'code', answers.code);
    put('old-password', answers.old);
    if (answers.remember) fields.set(hints.remember ?? 'remember', form.get('remember') ?? 'yes');
    const back = this.site.stage.client.returnParameter;
    if (back !== null) put(back, form.get(back) ?? null);
    return hints.sends === 'json' ? jsonBody(fields) : formBody(fields);
  }

  /** A form on another site: what the app's own asks for, but for what shows that it is the app's own. */
  private foreignBody(name: FormName, answers: Answers): Sending {
    const hints = hintsFor(this.site.config, name);
    const known = this.lastForm.get(name);
    const login = loginOfForm(this.policy, name) ?? this.policy.login;
    const fields = new Map<string, string>();
    const slots = known === undefined ? null : slotsIn(known, hints);
    const put = (key: string, value: string | null) => {
      if (value !== null) fields.set(key, value);
    };
    put(slots?.name ?? hints.name ?? login?.fields.account ?? 'account', answers.name);
    put(slots?.passwords[0] ?? hints.password ?? login?.fields.password ?? 'password', answers.password);
    put(slots?.code ?? hints.code ?? 'code', answers.code);
    return formBody(fields);
  }

  /** The forms as they were last seen. */
  private readonly lastForm = new Map<FormName, PageForm>();

  /** The form on a page that sends to a path. */
  private formFor(
    shown: HtmlPage | null,
    path: string,
    browser: BrowserState,
    name: FormName | null = null,
  ): PageForm | null {
    const from = browser.tab.page?.address;
    if (shown === null || from === undefined) return null;
    const here = from.path + from.query;
    const sendsThere = (form: PageForm) => {
      const action = this.site.address.inPolicy(form.action === '' ? here : form.action, here);
      return form.method === 'POST' && normalisePath(pathIn(action)) === normalisePath(path);
    };
    const found = shown.forms().filter(sendsThere);
    const fits = (form: PageForm) =>
      form.inputs.some(({ type }) => type === 'password') === (name === null || !ASKS_A_TEXT.has(name));
    const form = (name === null ? found[0] : (found.find(fits) ?? found[0])) ?? null;
    if (form !== null && name !== null) this.lastForm.set(name, form);
    return form;
  }

  private refreshBody(form: HttpRequest['form']): Sending {
    const { sends, field } = this.site.config.credentials.refresh;
    const token = form.get('refresh_token');
    if (token === undefined) return formBody(form);
    if (sends === 'form' && field === 'refresh_token') return formBody(form);
    const fields = new Map([[field, token]]);
    return sends === 'json' ? jsonBody(fields) : formBody(fields);
  }
}

/** What a form sends as it stands, by its first button. */
function asPressed({ fields, button }: PageForm): (readonly [string, string])[] {
  return button === null ? [...fields] : [...fields, button];
}

function formBody(fields: Iterable<readonly [string, string]>): Sending {
  const text = new URLSearchParams(
    [...fields].map(([name, value]): [string, string] => [name, value]),
  ).toString();
  return { type: 'application/x-www-form-urlencoded', text };
}

function jsonBody(fields: ReadonlyMap<string, string>): Sending {
  return { type: 'application/json', text: JSON.stringify(Object.fromEntries(fields)) };
}

function pathIn(address: string): string {
  const target = address.startsWith('/') ? address : new URL(address).pathname;
  return target.split('?', 1)[0] ?? target;
}
