import type { Act } from './acts.js';
import type { Recording } from './evidence.js';
import { loginOutcome, pageOf, passwordsIn, type FoundLogin } from './login-found.js';

/** The request by which people make themselves an account, as it was recorded. */
export interface FoundSignUp {
  readonly method: string;
  readonly path: string;
  /** The address of the page whose form it is. */
  readonly page: string;
  readonly isCall: boolean;
  /** Who made themselves an account. */
  readonly people: readonly string[];
}

/** A password for somebody that no recording has. */
export function madeUpPassword(
  person: string,
  { passwords }: { readonly passwords: ReadonlySet<string> },
): string {
  return [1, 2].map((number) => `${person}-${number}`).find((each) => !passwords.has(each)) ?? '';
}

const JOIN = /sign-?up|regist|join|enrol|(?:create|new)[-_]?account|\/(?:users|accounts|members)\/?$/i;

/** The sign-up: what somebody sends before they ever logged in, with a password in it. */
export function signUpIn(
  recorded: readonly (readonly Act[])[],
  recordings: readonly Recording[],
  login: FoundLogin,
): FoundSignUp | null {
  let found: FoundSignUp | null = null;
  const people: string[] = [];
  for (const [index, acts] of recorded.entries()) {
    const person = recordings[index]?.person ?? null;
    for (const [at, act] of acts.entries()) {
      const { method, path } = act.first;
      if (method === login.method && path === login.path) break;
      if (
        method === 'GET' ||
        act.first.bearer !== null ||
        !JOIN.test(path) ||
        passwordsIn(act.first).length === 0
      ) {
        continue;
      }
      const page = pageOf(acts, at);
      if (loginOutcome(act, { page }) === 'wrong') continue;
      found ??= { method, path, page, isCall: act.kind === 'call', people };
      if (person !== null && method === found.method && path === found.path) people.push(person);
    }
  }
  return found;
}
