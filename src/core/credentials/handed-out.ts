import { handle, indexOf, NO_LOGIN, type AppState } from '../app/app.js';
import { CREDENTIALS } from '../vocabulary/credentials.js';
import { CREDENTIAL_KINDS } from './all-credentials.js';
import type { CredentialKind } from './credential-kind.js';

/** One credential that an app has handed out. */
export interface HandedOut {
  readonly kind: CredentialKind;
  /** Its number among those of its kind. */
  readonly index: number;
  readonly handle: string;
  /** The login that it goes back to; NO_LOGIN for a guest's. */
  readonly login: number;
  /** Whose it is; null for a guest's. */
  readonly owner: string | null;
}

/** Every credential that an app has handed out, or that it did not know before. */
export function handedOut(state: AppState, before: AppState | null): HandedOut[] {
  const all: HandedOut[] = [];
  for (const what of CREDENTIALS) {
    const kind = CREDENTIAL_KINDS[what];
    const end = kind.recorded(state);
    for (let index = before === null ? 0 : kind.recorded(before); index < end; index++) {
      const owner = kind.ownerOf(state, index) ?? null;
      all.push({ kind, index, handle: handle(what, index), login: kind.loginOf(state, index), owner });
    }
  }
  return all;
}

/** The login that a credential goes back to; NO_LOGIN for a guest's, and for what is none. */
export function loginOf(state: AppState, handle: string): number {
  for (const what of CREDENTIALS) {
    const index = indexOf(what, handle);
    if (index >= 0) return CREDENTIAL_KINDS[what].loginOf(state, index);
  }
  return NO_LOGIN;
}
