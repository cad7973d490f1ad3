import { pathOf } from '../app/router.js';
import type { Credential, Endpoint, Policy, TokenRules } from '../language/policy.js';

/** What a browser knows of the app from the pages it was given: the forms on them and the script in them. */
export interface Client {
  readonly origin: string;
  readonly login: {
    /** The normalised path of the login page. */
    readonly page: string;
    readonly submit: Endpoint;
    /** The query parameter that the form passes on; null for none. */
    readonly returnParameter: string | null;
    /** Whether script submits the form, so that it can take the tokens out of the response. */
    readonly byScript: boolean;
  } | null;
  readonly logout: { readonly submit: Endpoint; readonly clears: ReadonlySet<Credential> } | null;
  readonly tokens: TokenRules | null;
  /** Where the script goes when a refresh has failed. */
  readonly failedRefresh: string;
}

/** The client of a policy. */
export function clientOf(policy: Policy): Client {
  const { login, logout, tokens } = policy;
  const [submit] = logout?.submits ?? [];
  const failed = tokens?.failedRefresh ?? 'login';
  return {
    origin: policy.origin,
    login: login && {
      page: pathOf(login.page),
      submit: login.submit,
      returnParameter: login.return?.param ?? null,
      byScript: login.by !== 'session',
    },
    logout: logout && submit ? { submit, clears: logout.clears } : null,
    tokens,
    failedRefresh: failed === 'login' ? (login?.page ?? '/') : failed,
  };
}
