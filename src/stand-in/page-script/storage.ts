import type { Client } from '../../core/browser/client.js';
import type { HeldTokens } from '../../core/browser/state.js';
import { fromTaggedJson, toTaggedJson } from '../tagged-json.js';

const KEY = 'stand-in-tokens';
const HOPS = 'stand-in-hops';
const GUARDED = 'stand-in-guarded';

/** Tokens in the memory of the page: gone once it is left by anything but its script. */
let inMemory: HeldTokens | null = null;

function storageFor({ tokens }: Client): Storage | null {
  switch (tokens?.kept) {
    case 'tab':
      return sessionStorage;
    case 'browser':
    // Tokens in cookies are out of reach; what script knows of them is where all tabs find it.
    // eslint-disable-next-line no-fallthrough
    case 'cookie':
      return localStorage;
    default:
      return null;
  }
}

/** The tokens, from where the policy has script keep them. */
export function loadTokens(client: Client): HeldTokens | null {
  const storage = storageFor(client);
  if (storage === null) return inMemory;
  const text = storage.getItem(KEY);
  return text === null ? null : (fromTaggedJson(text) as HeldTokens);
}

export function saveTokens(client: Client, tokens: HeldTokens | null): void {
  const storage = storageFor(client);
  if (storage === null) inMemory = tokens;
  else if (tokens === null) storage.removeItem(KEY);
  else storage.setItem(KEY, toTaggedJson(tokens));
}

/** Whether the page shown last in this tab is one that script guards. */
export function wasGuarded(): boolean {
  return sessionStorage.getItem(GUARDED) === 'yes';
}

export function leaveGuarded(isGuarded: boolean): void {
  sessionStorage.setItem(GUARDED, isGuarded ? 'yes' : 'no');
}

/** The times that script has sent the visitor on in a row, so that a circle comes to an end. */
export function takeHops(): number {
  const hops = Number(sessionStorage.getItem(HOPS) ?? 0);
  sessionStorage.removeItem(HOPS);
  return hops;
}

export function leaveHops(hops: number): void {
  sessionStorage.setItem(HOPS, String(hops));
}
