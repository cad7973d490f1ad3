import { TOKEN_COOKIES } from '../app/token-cookies.js';
import { shownIn } from '../app/own-cookies.js';
import { cookieHeader, copyOf, ownOf } from '../browser/cookie-jar.js';
import { thawed } from '../browser/tabs.js';
import type { BrowserState } from '../browser/state.js';
import type { Clock } from '../clock.js';
import { CREDENTIALS, type CookieRules, type Credential } from '../language/policy.js';
import type { Stage } from './stage.js';
import type { Action } from './walk.js';

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
      if (tokens?.kept === 'cookie') {
        return cookieOf(stage, browser, { name: TOKEN_COOKIES[what], others: [] }, clock);
      }
      const held = browser.tab.tokens?.[what] ?? null;
      return held === '' ? null : held;
    }
    case 'session':
      return cookieOf(stage, browser, session.cookie, clock);
    case 'remember':
      return remember === null ? null : cookieOf(stage, browser, remember.cookie, clock);
  }
}

function cookieOf(
  stage: Stage,
  browser: BrowserState,
  rules: Pick<CookieRules, 'name' | 'others'>,
  clock: Clock,
): string | null {
  if (browser.cookies.length === 0) return null;
  const home = { origin: stage.client.origin, path: '/', query: '' };
  return shownIn(cookieHeader(browser.cookies, home, clock), rules);
}

/** That somebody gives a browser what another has: a copy, which it keeps whatever happens, or as its own from then on. */
export type Giving = Pick<Extract<Action, { verb: 'copy' | 'plant' }>, 'verb' | 'what'>;

/** The browser that was given something; the other keeps its own. Null where there is nothing to give. */
export function given(
  stage: Stage,
  from: BrowserState,
  before: BrowserState,
  { verb, what }: Giving,
  clock: Clock,
): BrowserState | null {
  const to = verb === 'copy' ? before : thawed(before, 'all');
  const own = from.tab.tokens;
  const names = cookiesOf(stage, what);
  if (handleOf(stage, from, what, clock) === null) return null;
  if (names === null) {
    if (own === null) return null;
    const theirs = to.tab.tokens ?? { ...own, access: '', refresh: null };
    return { ...to, tab: { ...to.tab, tokens: { ...theirs, [what]: own[what as 'access' | 'refresh'] } } };
  }
  const cookies = from.cookies.filter(({ name }) => names.includes(name));
  const others = to.cookies.filter(
    (each) => !cookies.some(({ name, host }) => name === each.name && host === each.host),
  );
  // What script knows of tokens in cookies goes with them.
  const isToken = what === 'access' || what === 'refresh';
  const tab = isToken ? { ...to.tab, tokens: to.tab.tokens ?? own } : to.tab;
  return { ...to, tab, cookies: [...others, ...cookies.map(verb === 'copy' ? copyOf : ownOf)] };
}

/** The names of the cookies in which a credential is kept; null for one that script keeps. */
function cookiesOf({ app: { policy } }: Stage, what: Credential): readonly string[] | null {
  const { session, remember, tokens } = policy;
  if (what === 'access' || what === 'refresh') {
    return tokens?.kept === 'cookie' ? [TOKEN_COOKIES[what]] : null;
  }
  const rules = what === 'session' ? session.cookie : remember?.cookie;
  return rules === undefined ? [] : [rules.name, ...rules.others];
}
