import type { Method } from '../http/messages.js';
import type { Endpoint, LinkRules, Login, Policy } from '../language/policy.js';
import { encodedPath, normalisePath } from '../paths/normalise.js';
import { parsePattern, type Pattern } from '../paths/pattern.js';
import { ANYBODY, type Audience } from '../vocabulary/audience.js';
import { FOR_GUESTS, type Task } from './tasks.js';

/** A request for which the app does something itself. */
export interface AppEndpoint {
  readonly pattern: Pattern;
  readonly task: Task;
  readonly method: Method;
  readonly at: Endpoint['at'];
  /** The page whose audience it has; null where it has its own. */
  readonly page: string | null;
  /** Whom it is for where neither a page nor a rule says so. */
  readonly audience: Audience;
  readonly login: Login | null;
}

/** Every endpoint of a policy. */
export function endpointsOf(policy: Policy): AppEndpoint[] {
  const { logins, logout, tokens, signUp, confirm, secondFactor, password, linkLogin } = policy;
  const { providers, impersonation } = policy;
  const acting: Audience = { ...ANYBODY, any: impersonation?.by ?? [] };
  return [
    ...logins.flatMap((login) => at('login', login.submit, { page: login.page, login })),
    ...(logout?.submits ?? []).flatMap((submit) => at('logout', submit)),
    ...at('refresh', tokens?.submit),
    ...at('revoke', tokens?.revoke),
    ...at('sign-up', signUp?.submit, signUp),
    ...at('code', secondFactor?.submit, secondFactor),
    ...at('change-password', password?.change?.submit, password?.change),
    ...at('ask-reset', password?.reset?.submit, password?.reset),
    ...at('ask-link', linkLogin?.submit, linkLogin),
    ...providers.flatMap(({ start, back }) => [...at('provider-start', start), ...at('provider-back', back)]),
    ...atLink('confirm', confirm, ['GET']),
    ...atLink('reset', password?.reset?.link, ['GET', 'POST']),
    ...atLink('open-link', linkLogin?.link, ['GET']),
    ...at('act-for', impersonation?.start, { audience: acting }),
    ...at('stop-acting', impersonation?.stop, { audience: { who: 'signed-in' } }),
  ];
}

/** The endpoint of a request; none for an address that is no path. */
function at(
  task: Task,
  endpoint: Endpoint | null | undefined,
  more: { readonly page?: string; readonly login?: Login; readonly audience?: Audience } | null = null,
): AppEndpoint[] {
  const pattern = endpoint ? parsePattern(pathOf(endpoint.path)) : '';
  if (!endpoint || typeof pattern === 'string') return [];
  const { method, at: place } = endpoint;
  const { page = null, login = null, audience = usualAudience(task) } = more ?? {};
  return [{ pattern, task, method, at: place, page, login, audience }];
}

function atLink(task: Task, link: LinkRules | null | undefined, methods: readonly Method[]): AppEndpoint[] {
  if (!link) return [];
  const { pattern, at: place } = link;
  const own = { pattern, task, at: place, page: null, login: null, audience: usualAudience(task) };
  return methods.map((method) => ({ ...own, method }));
}

/** Whom an endpoint is for where nothing else is said: links are for guests, and what shows what it needs in itself for everyone. */
function usualAudience(task: Task): Audience {
  return { who: FOR_GUESTS.has(task) ? 'guests' : 'everyone' };
}

/** The path of an address as it is sent, which is the app's to read. */
export function sentPath(address: string): string {
  const [path = '/'] = address.split('?', 1);
  return path;
}

/** The normalised path of an address that the policy itself names. */
export function pathOf(address: string): string {
  const path = sentPath(address);
  return normalisePath(encodedPath(path)) ?? path;
}
