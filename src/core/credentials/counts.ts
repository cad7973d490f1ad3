import { indexOf, type AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import type { Stage } from '../play/stage.js';
import type { Clock } from '../time/clock.js';
import { CREDENTIALS, credentialWords, type Credential } from '../vocabulary/credentials.js';
import { CREDENTIAL_KINDS } from './all-credentials.js';
import { handleOf } from './holdings.js';

/** Whether the app would still take a credential for somebody, whoever shows it. */
export function counts(
  { app }: Stage,
  state: AppState,
  what: Credential,
  handle: string,
  clock: Clock,
): boolean {
  return CREDENTIAL_KINDS[what].counts(app, state, indexOf(what, handle), clock);
}

/** A credential that a browser has and the app would take; null for none. */
export function heldCounting(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  clock: Clock,
): string | null {
  for (const what of CREDENTIALS) {
    const held = handleOf(stage, browser, what, clock);
    if (held !== null && counts(stage, state, what, held, clock)) return held;
  }
  return null;
}

/** The kind of credential that a handle is of. */
export function kindOf(handle: string): Credential {
  return CREDENTIALS.find((kind) => handle.startsWith(kind)) ?? 'session';
}

/** What was left behind, in words: a copy of it, or what was got for one. */
export function copyWords({ what, handle }: { readonly what: Credential; readonly handle: string }): string {
  const copy = `a copy of the ${credentialWords(what)}`;
  const kind = kindOf(handle);
  return kind === what ? copy : `the ${credentialWords(kind)} got for ${copy}`;
}
