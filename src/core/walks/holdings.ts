import { TOKEN_COOKIES } from '../app/token-cookies.js';
import { cookieHeader, copyOf } from '../browser/cookie-jar.js';
import type { BrowserState } from '../browser/state.js';
import type { Clock } from '../clock.js';
import { cookieValue } from '../http/cookies.js';
import { CREDENTIALS, type Credential } from '../language/policy.js';
import type { Stage } from './stage.js';

const NOTHING: readonly Credential[] = [];

/** What a browser has of all that a login can hand out, whether or not the app still honours it. */
export function heldBy(stage: Stage, browser: BrowserState, clock: Clock): readonly Credential[] {
  if (browser.cookies.length === 0 && browser.tab.tokens === null) return NOTHING;
  return CREDENTIALS.filter((what) => handleOf(stage, browser, what, clock) !== null);
}

/** The handle of a credential that a browser has; null where it has none. */
export function handleOf(stage: Stage, browser: BrowserState, what: Credential, clock: Clock): string | null {
  const { session, remember, tokens } = stage.app.policy;
  switch (what) {
    case 'access':
    case 'refresh': {
      if (tokens?.kept === 'cookie') return cookieOf(stage, browser, TOKEN_COOKIES[what], clock);
      const held = browser.tab.tokens?.[what] ?? null;
      return held === '' ? null : held;
    }
    case 'session':
      return cookieOf(stage, browser, session.cookie.name, clock);
    case 'remember':
      return remember === null ? null : cookieOf(stage, browser, remember.cookie.name, clock);
  }
}

function cookieOf(stage: Stage, browser: BrowserState, name: string, clock: Clock): string | null {
  if (browser.cookies.length === 0) return null;
  const home = { origin: stage.client.origin, path: '/', query: '' };
  return cookieValue(cookieHeader(browser.cookies, home, clock), name);
}

/** Gives a browser a copy of what another has; the other keeps its own. Null where there is nothing to copy. */
export function copied(
  stage: Stage,
  from: BrowserState,
  to: BrowserState,
  what: Credential,
  clock: Clock,
): BrowserState | null {
  const { session, remember, tokens } = stage.app.policy;
  const isToken = what === 'access' || what === 'refresh';
  const own = from.tab.tokens;
  if (isToken && tokens?.kept !== 'cookie') {
    if (own === null || handleOf(stage, from, what, clock) === null) return null;
    const theirs = to.tab.tokens ?? { ...own, access: '', refresh: null };
    return { ...to, tab: { ...to.tab, tokens: { ...theirs, [what]: own[what] } } };
  }
  const name = isToken
    ? TOKEN_COOKIES[what]
    : what === 'session'
      ? session.cookie.name
      : remember?.cookie.name;
  const cookie = from.cookies.find((each) => each.name === name);
  if (cookie === undefined || handleOf(stage, from, what, clock) === null) return null;
  const others = to.cookies.filter((each) => each.name !== name || each.host !== cookie.host);
  // What script knows of tokens in cookies goes with them.
  const tab = isToken ? { ...to.tab, tokens: to.tab.tokens ?? own } : to.tab;
  return { ...to, tab, cookies: [...others, copyOf(cookie)] };
}
