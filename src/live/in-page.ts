/**
 * What is looked up in a page of a real browser. Most are the texts of functions that the browser runs: the program itself has no
 * document to type them against.
 */

const IS_SEEN = '(each) => each.checkVisibility({ checkVisibilityCSS: true })';

/** The form for a login, sign-up or code: by a selector, by where it leads, or by what it asks for; null for none. */
export const FIND_FORM = `({ selector, action, wants }) => {
  const isSeen = ${IS_SEEN};
  if (selector !== null) {
    const found = document.querySelector(selector);
    return found === null ? null : found.matches('form') ? found : (found.closest('form') ?? found.querySelector('form') ?? found);
  }
  const forms = [...document.forms].filter(isSeen);
  const leadsThere = (form) => form.getAttribute('action') !== null && new URL(form.action).pathname === action;
  const asks = (form) => {
    const hasPassword = form.querySelector('input[type=password]') !== null;
    return wants === 'password' ? hasPassword : !hasPassword && form.querySelector('input:not([type=hidden]):not([type=checkbox]):not([type=submit])') !== null;
  };
  return forms.find((form) => leadsThere(form) && asks(form)) ?? forms.find((form) => asks(form) && !form.hasAttribute('action')) ?? forms.find((form) => wants === 'password' && asks(form)) ?? null;
}`;

/** What functions that look into a form need of it. */
interface FormElement {
  querySelector(selector: string): Control | null;
  querySelectorAll(selector: string): Iterable<Control>;
}

interface Control {
  readonly name: string;
  readonly id: string;
  readonly type: string;
  readonly tagName: string;
  readonly disabled: boolean;
}

/** A control that is looked for: what goes into it, and its name where that is known. */
export interface Wanted {
  readonly what: 'name' | 'password' | 'again' | 'repeat' | 'code' | 'remember' | 'role';
  readonly named: string | null;
}

/** Of a form the control for something: by its name or id, or by type and order. It runs in the browser, and so by itself. */
export function findControl(form: FormElement, { what, named }: Wanted): Control | null {
  const all = [...form.querySelectorAll('input, select, textarea')].filter(({ disabled }) => !disabled);
  if (named !== null) return all.find(({ name, id }) => name === named || id === named) ?? null;
  const isText = ({ type }: Control) => ['text', 'email', 'tel', 'search', 'number'].includes(type);
  const passwords = all.filter(({ type }) => type === 'password');
  const boxes = all.filter(({ type }) => type === 'checkbox');
  const first = all.findIndex(({ type }) => type === 'password');
  switch (what) {
    case 'password':
      return passwords[0] ?? null;
    case 'again':
      return passwords[1] ?? null;
    case 'repeat':
      return passwords[2] ?? null;
    case 'name':
      return all.slice(0, Math.max(0, first)).filter(isText).at(-1) ?? all.find(isText) ?? null;
    case 'code':
      return all.find(isText) ?? null;
    case 'remember':
      return (
        boxes.find(({ name, id }) => /remember|keep|stay/i.test(`${name} ${id}`)) ??
        (boxes.length === 1 ? (boxes[0] ?? null) : null)
      );
    case 'role':
      return all.find(({ tagName }) => tagName === 'SELECT') ?? null;
  }
}

/** The button that sends a form; null for none. */
export function findButton(form: FormElement): Control | null {
  return (
    form.querySelector('button[type=submit], input[type=submit], input[type=image], button:not([type])') ??
    form.querySelector('button')
  );
}

/** What logs out: by a selector, by where its form leads, or by its words; null for none that is seen. */
export const FIND_LOGOUT = `({ selector, action }) => {
  const isSeen = ${IS_SEEN};
  const pressed = (found) => (found?.matches('form') ? (found.querySelector('button, input[type=submit]') ?? found) : found);
  if (selector !== null) {
    const found = document.querySelector(selector);
    return found !== null && isSeen(found) ? pressed(found) : null;
  }
  const form = [...document.forms].find((each) => each.getAttribute('action') !== null && new URL(each.action).pathname === action && isSeen(each));
  if (form !== undefined) return pressed(form);
  const words = /\\b(?:log|sign)[ -]?out\\b/i;
  return [...document.querySelectorAll('button, a[href], input[type=submit]')].find((each) => isSeen(each) && words.test(each.textContent + ' ' + (each.value ?? ''))) ?? null;
}`;

/** The form on the page that sends to a path; null for none. */
export const FIND_SENDER = `(action) =>
  [...document.forms].find((form) => form.method === 'post' && new URL(form.action).pathname === action) ?? null`;

/** Puts a form on the page that sends to an address, with the token that the forms of the page carry. */
export const MAKE_FORM = `({ action, field, token }) => {
  const form = document.createElement('form');
  form.method = 'post';
  form.action = action;
  if (field !== null) {
    const own = document.querySelector('input[name="' + CSS.escape(field) + '"]')?.value ?? document.querySelector('meta[name=csrf-token]')?.content ?? token;
    if (own !== null) {
      const input = document.createElement('input');
      Object.assign(input, { type: 'hidden', name: field, value: own });
      form.append(input);
    }
  }
  document.body.append(form);
  return form;
}`;

/** The token that the forms of a page carry; null for none. */
export const READ_TOKEN = `(field) =>
  document.querySelector('input[name="' + CSS.escape(field) + '"]')?.value ?? document.querySelector('meta[name=csrf-token]')?.content ?? null`;

/** The addresses of the links that are seen in a part of the page; null where there is no such part. */
export const READ_LINKS = `(selector) => {
  const isSeen = ${IS_SEEN};
  const part = document.querySelector(selector ?? 'nav');
  if (part === null) return null;
  return [...part.querySelectorAll('a[href]')].filter(isSeen).map((link) => link.href);
}`;

/** The link in the menu that leads to an address; null for none. */
export const FIND_LINK = `({ selector, to }) => {
  const isSeen = ${IS_SEEN};
  const part = document.querySelector(selector ?? 'nav') ?? document;
  return [...part.querySelectorAll('a[href]')].find((link) => isSeen(link) && link.href === to) ?? null;
}`;

/** What an element says, by its text or an attribute; null where it is not there or not seen. */
export const READ_TEXT = `({ selector, attribute }) => {
  const found = document.querySelector(selector);
  if (found === null) return null;
  return attribute === null ? found.textContent.replace(/\\s+/g, ' ').trim() : found.getAttribute(attribute);
}`;

export const HAS = `(selector) => document.querySelector(selector) !== null`;

/** Whether some element shows a text. */
export const SHOWS = `({ selector, text }) => {
  const found = [...document.querySelectorAll(selector)];
  return text === null ? found.length > 0 : found.some((each) => each.textContent.replace(/\\s+/g, ' ').trim().includes(text));
}`;

/** Of some parts of a page the names of those that are in sight: by a selector, or by a text that something has. */
export const READ_PARTS = `({ naming, parts }) => {
  const isSeen = (each) => each.checkVisibility === undefined || each.checkVisibility();
  const words = (text) => text.replace(/\\s+/g, ' ').trim();
  const all = (selector) => [...document.querySelectorAll(selector)].filter(isSeen);
  return parts
    .filter(({ selector, text }) =>
      selector === null
        ? all(naming).some((each) => words(each.textContent) === text || words(each.value ?? '') === text)
        : all(selector).some((each) => text === null || words(each.textContent).includes(text)))
    .map(({ name }) => name);
}`;

/** What a storage has under a key; null for nothing. */
export const READ_STORAGE = `({ storage, key }) => {
  try {
    return (storage === 'local' ? localStorage : sessionStorage).getItem(key);
  } catch {
    return null;
  }
}`;

/** Makes a call as script of the page would, and gives what comes back. */
export const CALL = `async ({ method, address, bearer }) => {
  const headers = { accept: 'application/json', ...(bearer === null ? {} : { authorization: 'Bearer ' + bearer }) };
  const answer = await fetch(address, { method, headers, credentials: bearer === null ? 'same-origin' : 'omit' });
  return { status: answer.status, text: await answer.text() };
}`;
