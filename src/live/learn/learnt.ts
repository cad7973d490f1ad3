import type { SetCookie } from '../../core/internal.js';

/** What was found out about an app by looking; null for what was not found. */
export interface Learnt {
  readonly login: LearntLogin | null;
  readonly session: readonly LearntCookie[];
  readonly remember: readonly LearntCookie[];
  readonly who: LearntWho | null;
  readonly logout: { readonly by: 'form' | 'link'; readonly selector: string; readonly leads: string } | null;
  readonly access: LearntToken | null;
  readonly refresh: LearntToken | null;
  /** Whether it sends plain http to https, and takes from its proxy what came by https. */
  readonly isProxied: boolean;
  /** What was seen that is worth a thought, and what could not be found. */
  readonly notes: readonly string[];
}

export interface LearntLogin {
  /** As `POST /sign-in`. */
  readonly request: string;
  readonly by: 'form' | 'script';
  readonly sends: 'form' | 'json';
  readonly name: string;
  readonly password: string;
  readonly remember: string | null;
  readonly role: string | null;
  /** Fields that the form brings by itself. */
  readonly hidden: readonly string[];
}

export interface LearntCookie {
  readonly cookie: SetCookie;
}

export interface LearntToken {
  readonly storage: 'session' | 'local' | null;
  readonly key: string | null;
  /** Where in the value of the storage, and in the answer (RFC 6901). */
  readonly pointer: string;
  readonly answer: string;
  /** How long it lives, in seconds; null where it does not say. */
  readonly life: number | null;
  readonly isBearer: boolean;
}

export type LearntWho = (
  | { readonly by: 'header'; readonly header: string }
  | { readonly by: 'element'; readonly selector: string; readonly attribute: string | null }
) & { readonly says: ReadonlyMap<string, string> };

/** Somebody whose account is used to look. */
export interface Looker {
  /** What the account is called in the policy, or by its login name. */
  readonly account: string;
  readonly name: string;
  readonly password: string;
}
