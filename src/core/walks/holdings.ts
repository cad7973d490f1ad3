import { cookieHeader } from '../browser/cookie-jar.js';
import type { BrowserState } from '../browser/state.js';
import type { Clock } from '../clock.js';
import { cookieValue } from '../http/cookies.js';
import type { Credential } from '../language/policy.js';
import type { Stage } from './stage.js';

const NOTHING: readonly Credential[] = [];

/** What a browser has of all that a login can hand out, whether or not the app still honours it. */
export function heldBy(stage: Stage, browser: BrowserState, clock: Clock): readonly Credential[] {
  const { tokens } = browser.tab;
  if (browser.cookies.length === 0 && tokens === null) return NOTHING;
  const held: Credential[] = [];
  if (handleOf(stage, browser, 'session', clock) !== null) held.push('session');
  if (tokens !== null && tokens.access !== '') held.push('access');
  if (tokens !== null && tokens.refresh !== null) held.push('refresh');
  if (stage.app.policy.remember !== null && handleOf(stage, browser, 'remember', clock) !== null) {
    held.push('remember');
  }
  return held;
}

/** The handle of a credential that a browser has; null where it has none. */
export function handleOf(stage: Stage, browser: BrowserState, what: Credential, clock: Clock): string | null {
  const { session, remember } = stage.app.policy;
  switch (what) {
    case 'access':
      return browser.tab.tokens?.access === '' ? null : (browser.tab.tokens?.access ?? null);
    case 'refresh':
      return browser.tab.tokens?.refresh ?? null;
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
  const { session, remember } = stage.app.policy;
  if (what === 'access' || what === 'refresh') {
    const own = from.tab.tokens;
    if (own === null || handleOf(stage, from, what, clock) === null) return null;
    const theirs = to.tab.tokens ?? { ...own, access: '', refresh: null };
    return { ...to, tab: { ...to.tab, tokens: { ...theirs, [what]: own[what] } } };
  }
  const name = what === 'session' ? session.cookie.name : remember?.cookie.name;
  const cookie = from.cookies.find((each) => each.name === name);
  if (cookie === undefined || handleOf(stage, from, what, clock) === null) return null;
  const others = to.cookies.filter((each) => each.name !== name || each.host !== cookie.host);
  return { ...to, cookies: [...others, cookie] };
}
