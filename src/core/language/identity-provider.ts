import type { Seconds } from '../time/duration.js';
import type { Endpoint, Placed } from './text/placed.js';

/** Another site by whose word people come in (OpenID Connect Core §3.1). */
export interface IdentityProvider extends Placed {
  readonly name: string;
  /** Its origin. */
  readonly issuer: string;
  /** Where the app sends people to it, and where it sends them back. */
  readonly start: Endpoint;
  readonly back: Endpoint;
  /** What becomes of the state of a request (RFC 6749 §10.12): compared, sent and not compared, or not sent. */
  readonly state: 'checked' | 'ignored' | 'absent';
  /** Whether codes are bound to the request that they answer (RFC 7636). */
  readonly pkce: boolean;
  /** The same for the nonce of an ID token (OpenID Connect Core §3.1.2.1). */
  readonly nonce: 'checked' | 'ignored' | 'absent';
  /** The accounts of the app that it knows, with what it calls them. */
  readonly knows: ReadonlyMap<string, string>;
  /** By what an account is found: what never changes hands, an address that was confirmed, or any. */
  readonly matches: 'subject' | 'confirmed-address' | 'address';
  /** What becomes of somebody who has no account. */
  readonly unknown: 'refuse' | 'sign-up';
  /** Whether its word does for the one-time code of the login. */
  readonly code: 'asked' | 'given';
  /** How long it knows a browser; null: until that closes. */
  readonly session: Seconds | null;
  readonly logout: 'app-only' | 'provider-too';
  /** Whether it asks for the password each time. */
  readonly asksAgain: boolean;
}
