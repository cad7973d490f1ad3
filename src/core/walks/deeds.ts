import type { Administration } from '../app/administration.js';
import { handle, type AppState } from '../app/app.js';
import { RIGHT_CODE } from '../app/second-factor.js';
import type { FormName } from '../http/messages.js';
import type { BrowserState, Deed } from '../browser/state.js';
import { requestDeed, type Stage } from './stage.js';
import type { Action } from './walk.js';

/** Steps that a person does with a browser. */
export type Deeds = Exclude<Action, { verb: 'wait' | 'copy' | 'plant' | 'together' } | Administration>;

/** What a step makes a person do, or why they cannot: a form is sent from a page, a call is made by its script. */
export function deedOf(stage: Stage, state: AppState, browser: BrowserState, action: Deeds): Deed | string {
  const { page } = browser.tab;
  switch (action.verb) {
    case 'visit':
      return { deed: 'open', address: action.address, fromOtherSite: action.from !== null };
    case 'follow':
      return page?.menu.includes(action.to) === true
        ? { deed: 'open', address: action.to, isLink: true }
        : `the page shows no link to ${action.to}`;
    case 'reload':
      return page === null ? 'this browser shows no page yet that could be reloaded' : { deed: 'reload' };
    case 'login': {
      const fill = fillOf('login', [
        ['account', action.account],
        ['password', action.password],
        ...(action.role === null ? [] : [['role', action.role] as const]),
        ...(action.remember ? [['remember', 'yes'] as const] : []),
      ]);
      return action.from === null ? fill : { ...fill, fromOtherSite: true };
    }
    case 'sign-up':
      return fillOf('sign-up', [
        ['account', action.account],
        ['password', action.password],
      ]);
    case 'code':
      return action.given === 'wrong' ? fillOf('code', [['code', 'wrong']]) : rightCode();
    case 'confirm': {
      const sent = state.confirmations.findLastIndex((each) => each.account === action.account);
      const { confirm } = stage.app.policy;
      if (sent < 0 || confirm === null) return `no link was sent to ${action.account}`;
      const address = confirm.pattern.text.replace(/:[^/]+$/, handle('confirm', sent));
      return { deed: 'open', address };
    }
    case 'logout':
      return { deed: 'log-out' };
    case 'back':
      return hasBehind(browser, action.pages)
        ? { deed: 'back', pages: action.pages }
        : `there ${action.pages === 1 ? 'is no page' : `are no ${action.pages} pages`} to go back to`;
    case 'new-tab':
    case 'close-tab':
    case 'close-browser':
    case 'open-browser':
      return { deed: action.verb };
    case 'clear-cookies':
      return { deed: action.verb, name: action.name };
    case 'send': {
      const { method, address, from } = action;
      const deed = requestDeed(stage, method, address);
      return deed.deed === 'call' && from === null
        ? deed
        : { deed: 'submit', method, address, fromOtherSite: from !== null };
    }
  }
}

/** Whether a tab has shown so many pages before the one in front. */
function hasBehind({ tab }: BrowserState, pages: number): boolean {
  let { history } = tab;
  for (let left = pages; left > 1 && history !== null; left--) history = history.before;
  return history !== null;
}

function fillOf(
  form: FormName,
  fields: readonly (readonly [string, string])[],
): Extract<Deed, { deed: 'fill-in' }> {
  return { deed: 'fill-in', fill: { form, fields: new Map(fields) } };
}

/** The one-time code that was sent, filled in. */
export function rightCode(): Deed {
  return fillOf('code', [['code', RIGHT_CODE]]);
}
