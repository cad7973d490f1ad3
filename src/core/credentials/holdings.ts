import { copyOf, ownOf } from '../browser/cookie-jar.js';
import { thawed } from '../browser/tabs.js';
import type { BrowserState } from '../browser/state.js';
import type { Stage } from '../play/stage.js';
import type { Clock } from '../time/clock.js';
import { CREDENTIALS, type Credential } from '../vocabulary/credentials.js';
import { CREDENTIAL_KINDS } from './all-credentials.js';
import { heldHandle } from './credential-kind.js';

const NOTHING: readonly Credential[] = [];

/** What a browser has of all that a login can hand out, whether or not the app still honours it. */
export function heldBy(stage: Stage, browser: BrowserState, clock: Clock): readonly Credential[] {
  if (browser.cookies.length === 0 && browser.tab.tokens === null) return NOTHING;
  return CREDENTIALS.filter((what) => handleOf(stage, browser, what, clock) !== null);
}

/** The handle of a credential that a browser has; null where it has none. */
export function handleOf(stage: Stage, browser: BrowserState, what: Credential, clock: Clock): string | null {
  return heldHandle(CREDENTIAL_KINDS[what], stage, browser, clock);
}

/** That somebody gives a browser what another has: a copy, which it keeps whatever happens, or as its own from then on. */
export interface Giving {
  readonly what: Credential;
  readonly isCopy: boolean;
}

/** The browser that was given something; the other keeps its own. Null where there is nothing to give. */
export function given(
  stage: Stage,
  from: BrowserState,
  before: BrowserState,
  { what, isCopy }: Giving,
  clock: Clock,
): BrowserState | null {
  const place = CREDENTIAL_KINDS[what].place(stage.app.policy);
  if (place === null || handleOf(stage, from, what, clock) === null) return null;
  const to = isCopy ? before : thawed(before, 'all');
  const own = from.tab.tokens;
  if (place.by === 'script') {
    if (own === null) return null;
    const theirs = to.tab.tokens ?? { ...own, access: '', refresh: null };
    return { ...to, tab: { ...to.tab, tokens: { ...theirs, [place.slot]: own[place.slot] } } };
  }
  const names = [place.names.name, ...place.names.others];
  const cookies = from.cookies.filter(({ name }) => names.includes(name));
  const others = to.cookies.filter(
    (each) => !cookies.some(({ name, host }) => name === each.name && host === each.host),
  );
  // What script knows of tokens in cookies goes with them.
  const tab = place.isToken ? { ...to.tab, tokens: to.tab.tokens ?? own } : to.tab;
  return { ...to, tab, cookies: [...others, ...cookies.map(isCopy ? copyOf : ownOf)] };
}
