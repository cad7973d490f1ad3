import type { Clock } from '../time/clock.js';
import type { CookieRules } from '../http/cookies.js';
import type { HttpRequest } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import { explain, redirect, type Answer } from './answer.js';
import { handle, type App, type AppState } from './app.js';
import { withUsed } from './links.js';
import { openLinkOf } from './open-link.js';
import { clearedIn, handedOutIn, shownIn } from './own-cookies.js';
import { askForLink } from './ask-for-link.js';
import { signIn } from './sign-in.js';
import type { Reason } from './reasons.js';

/** The cookie that tells the browser in which a sign-in link was asked for. It comes along when the link is followed from a mail. */
export function linkCookie({ session }: Pick<Policy, 'session'>): Omit<CookieRules, 'life'> {
  return { ...session.cookie, name: 'sign-in-link', others: [], path: '/', sameSite: 'lax' };
}

/** The endpoint that sends a link to log in by. Unless the policy says so it tells nobody apart. */
export function askLink(app: App, state: AppState, request: HttpRequest, clock: Clock): Answer {
  const rules = app.policy.linkLogin;
  if (rules === null) throw new Error('an endpoint for sign-in links without rules for it');
  const answer = askForLink(state, request, clock, 'sign-in', rules);
  if (!rules.sameBrowser || answer.response.status >= 400) return answer;
  const sent = answer.state === state ? -1 : answer.state.links.length - 1;
  const setCookie = handedOutIn(linkCookie(app.policy), handle('link', sent), rules.link.life);
  return {
    ...answer,
    response: { ...answer.response, setCookie: [...answer.response.setCookie, ...setCookie] },
  };
}

/** The link to log in by: good once, for its life and, where the policy says so, in the browser that asked for it. */
export function openLink(
  app: App,
  state: AppState,
  request: HttpRequest,
  parameters: ReadonlyMap<string, string>,
  clock: Clock,
): Answer {
  const { linkLogin: rules, login } = app.policy;
  if (rules === null || login === null) throw new Error('a sign-in link without rules for it');
  const limits = { at: rules.at, life: rules.link.life, back: rules.page };
  const { opened, refused: over } = openLinkOf('sign-in', state, request, parameters, limits, clock);
  if (over !== null) return over;
  const refused = (reason: Reason, key: string): Answer => ({
    state,
    response: redirect(request.method, rules.page),
    explanation: explain(null, reason, [...rules.at, key]),
  });
  const { account, index } = opened;
  const cookie = linkCookie(app.policy);
  if (rules.sameBrowser && shownIn(request.cookie, cookie) !== handle('link', index)) {
    return refused('other-browser', 'same-browser');
  }
  if (account.state !== 'active') return refused(account.state, 'link');
  const answer = signIn(
    app,
    withUsed(state, opened),
    request,
    { account, code: rules.code, by: login },
    clock,
  );
  if (!rules.sameBrowser) return answer;
  const setCookie = [...answer.response.setCookie, ...clearedIn(cookie)];
  return { ...answer, response: { ...answer.response, setCookie } };
}
