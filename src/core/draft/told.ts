import type { Act } from './acts.js';

/** Where script went by itself. */
export interface Led {
  readonly path: string;
  readonly query: string;
}

/** What an act of a recording is to the app. */
export type Part = 'login' | 'wrong login' | 'sign-up' | 'logout' | 'code' | 'refresh' | 'other';

/** An act with who did it. */
export interface Told {
  readonly act: Act;
  readonly part: Part;
  /** Who was signed in before it; null for nobody. */
  readonly who: string | null;
  /** Who is signed in once it is done. */
  readonly after: string | null;
  /** Whose login, sign-up, logout or code it is. */
  readonly person: string | null;
  /** Whether it is a login after which a code is asked for. */
  readonly owes: boolean;
  /** Where script went after it by itself; null for nowhere. */
  readonly led: Led | null;
}
