import { wordsOf } from './tables.js';

/** What is said of a credential where no rule is at work yet. */
interface CredentialWords {
  /** What sentences call it. */
  readonly words: string;
  /** What the app has on record of it. */
  readonly record: string;
  /** What hands it out: a login with a session, one with tokens, or a visitor who asks to be known again. */
  readonly comesBy: 'session' | 'tokens' | 'remember';
  /** Whether a logout ends it where the policy does not say: a token that nobody looks up cannot be called back. */
  readonly endsAtLogout: boolean;
}

const TABLE = {
  session: { words: 'session cookie', record: 'session', comesBy: 'session', endsAtLogout: true },
  access: { words: 'access token', record: 'access token', comesBy: 'tokens', endsAtLogout: false },
  refresh: { words: 'refresh token', record: 'refresh token', comesBy: 'tokens', endsAtLogout: true },
  remember: { words: 'remember cookie', record: 'remember token', comesBy: 'remember', endsAtLogout: true },
} as const satisfies Readonly<Record<string, CredentialWords>>;

/** What a login can hand out. `src/core/credentials` has a file for each, which says what becomes of it. */
export type Credential = keyof typeof TABLE;

/** What a login can hand out, in the order in which reports name it. */
export const CREDENTIALS = wordsOf(TABLE);

/** What sentences call a credential. */
export function credentialWords(what: Credential): string {
  return TABLE[what].words;
}

/** What the app has on record of a credential. */
export function recordWords(what: Credential): string {
  return TABLE[what].record;
}

/** What a policy hands out: by its login (one that is left out would give a session), and to visitors who ask to be known again. */
export function handedOut({ login, remember }: Givers): Credential[] {
  const by = login?.by ?? 'session';
  return CREDENTIALS.filter((what) => {
    const { comesBy } = TABLE[what];
    return comesBy === 'remember' ? remember !== null : by === 'both' || by === comesBy;
  });
}

/** The parts of a policy that hand something out. */
interface Givers {
  readonly login: { readonly by: 'session' | 'tokens' | 'both' } | null;
  readonly remember: object | null;
}

/** Whether a logout ends a credential where the policy does not say. */
export function endsAtLogout(what: Credential): boolean {
  return TABLE[what].endsAtLogout;
}
