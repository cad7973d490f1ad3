import type { RefusalKey, RefusalText } from './access-schema.js';
import { readAddress, type Scope } from './name-reader.js';
import type { PolicyText } from './policy-schema.js';
import type { Policy, Refusal, Refusals } from './policy.js';
import { problem } from './problems.js';
import type { Path } from './yaml-text.js';

type Defaults = Readonly<Record<RefusalKey, RefusalText>>;
const PAGE: Defaults = {
  guest: 'login',
  'guests-only': 'landing',
  role: 403,
  'second-factor': 'code-page',
  'stale-login': 'login',
  unknown: 404,
};
const API: Defaults = {
  guest: 401,
  'guests-only': 403,
  role: 403,
  'second-factor': 403,
  'stale-login': 401,
  unknown: 404,
};

/** Reads the refusals; an api differs from a page where it says so, and by its careful defaults. */
export function readRefusals(text: NonNullable<PolicyText['refusals']>, scope: Scope): Policy['refusals'] {
  const read = (
    part: { [Key in RefusalKey]?: RefusalText | undefined } & { method?: 404 | 405 | undefined },
    defaults: Defaults,
    at: Path,
  ): Refusals => {
    const one = (key: RefusalKey) => readRefusal(part[key] ?? defaults[key], [...at, key], scope);
    return {
      guest: one('guest'),
      guestsOnly: one('guests-only'),
      role: one('role'),
      secondFactor: one('second-factor'),
      staleLogin: one('stale-login'),
      unknown: one('unknown'),
      method: part.method ?? 405,
    };
  };
  return {
    page: read(text, PAGE, ['refusals']),
    api: read(text.api ?? {}, API, ['refusals', 'api']),
  };
}

function readRefusal(text: RefusalText, at: Path, scope: Scope): Refusal {
  if (text === 'shell' && at.at(-1) === 'unknown') return { to: text };
  if (text === 'login' || text === 'landing' || text === 'code-page') return { to: text };
  if (text === 401 || text === 403 || text === 404) return { to: 'status', status: text };
  if (typeof text === 'string' && text.startsWith('/')) {
    return { to: 'path', path: readAddress(text, at, scope) };
  }
  const says = `${text} is no refusal: use login, landing, code-page, 401, 403, 404 or a path`;
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  return { to: 'status', status: 403 };
}
