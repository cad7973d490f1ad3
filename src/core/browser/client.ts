import type { App, MenuEntry } from '../app/app.js';
import { pathOf } from '../app/endpoints.js';
import { hostOf } from '../http/address.js';
import { encodedPath } from '../paths/normalise.js';
import type { FormName, LoginForm } from '../http/messages.js';
import type {
  Endpoint,
  LandingEntry,
  IdentityProvider,
  PasswordReset,
  Policy,
  TokenRules,
} from '../language/policy.js';
import { PROVIDER_PATHS } from '../vocabulary/provider-paths.js';
import type { Refusals } from '../vocabulary/refusal.js';
import type { Credential } from '../vocabulary/credentials.js';

/** What a browser knows of the app from the pages it was given: the forms on them and the script in them. */
export interface Client {
  readonly origin: string;
  /** Every origin under which the app answers, or an identity provider. */
  readonly origins: ReadonlySet<string>;
  /** The origins of identity providers among them. */
  readonly issuers: ReadonlySet<string>;
  readonly forms: Readonly<Record<FormName, Form | null>>;
  readonly logout: LogoutForm | null;
  /** The field in which forms carry the app's token; null for none. */
  readonly csrfField: string | null;
  readonly tokens: TokenRules | null;
  /** Whether a login hands out tokens and no session. */
  readonly knownByTokens: boolean;
  /** The pages of the logins as the policy names them. */
  readonly loginPages: Readonly<Partial<Record<LoginForm, string>>>;
  /** The query parameter that carries the address asked for first; null for none. */
  readonly returnParameter: string | null;
  /** Where the script goes when a refresh has failed. */
  readonly failedRefresh: string;
  /** Where script sends those whom it, or one of its requests, refuses. */
  readonly refusals: Refusals;
  readonly landing: readonly LandingEntry[];
  /** What script draws the menu from on pages that it guards. */
  readonly menu: readonly MenuEntry[];
}

export interface LogoutForm {
  readonly submit: Endpoint;
  readonly clears: ReadonlySet<Credential>;
  /** Whether script asks for it, and goes on by itself. */
  readonly byScript: boolean;
  readonly lands: readonly LandingEntry[];
}

export interface Form {
  /** The normalised path of its page. */
  readonly page: string;
  /** Where one goes to come to it, as the policy writes it: perhaps with a slash at its end. */
  readonly opens: string;
  readonly submit: Endpoint;
  /** The origin of the site that has it, where that is another. */
  readonly elsewhere?: string;
  /** Whether script submits the form, so that it can take the tokens out of the response. */
  readonly byScript: boolean;
}

/** The client of an app. */
export function clientOf({ policy, menu, router }: App): Client {
  const { login, logins, logout, tokens, signUp, secondFactor, password, linkLogin, csrf } = policy;
  const { change = null, reset = null } = password ?? {};
  const [submit] = logout?.submits ?? [];
  const failed = tokens?.failedRefresh ?? 'login';
  const byScript = login !== null && login.by !== 'session';
  const isApi = ({ method, path }: Endpoint) => router.find(method, pathOf(path))?.kind === 'api';
  const form = (section: { page: string; submit: Endpoint } | null, script: boolean): Form | null =>
    section && {
      page: pathOf(section.page),
      opens: encodedPath(section.page.split('?', 1)[0] ?? '/'),
      submit: section.submit,
      byScript: script || isApi(section.submit),
    };
  return {
    origin: policy.origin,
    origins: originsOf(policy),
    issuers: new Set(policy.providers.map(({ issuer }) => issuer)),
    forms: {
      ...Object.fromEntries(policy.providers.map((each) => [`with ${each.name}`, providerForm(each)])),
      ...Object.fromEntries(logins.map((each) => [each.form, form(each, byScript)])),
      login: form(login, byScript),
      'sign-up': form(signUp, byScript && signUp?.then === 'login'),
      code: form(secondFactor, byScript),
      'change-password': form(change, byScript),
      'ask-reset': form(reset, false),
      reset: reset && linkForm(reset, byScript && reset.then === 'signed-in'),
      'ask-link': form(linkLogin, false),
    },
    logout:
      logout && submit
        ? { submit, clears: logout.clears, byScript: isApi(submit), lands: logout.lands }
        : null,
    csrfField: csrf === null || csrf.token === 'absent' ? null : csrf.field,
    tokens,
    knownByTokens: login?.by === 'tokens',
    loginPages: Object.fromEntries(logins.map((each) => [each.form, each.page])),
    returnParameter: login?.return?.param ?? null,
    failedRefresh: failed === 'login' ? (login?.page ?? '/') : failed,
    refusals: policy.refusals.page,
    landing: policy.landing,
    menu,
  };
}

/** The app answers at its origin, at its further hosts, at those that its rules name and, where a rule asks for https, over plain http too. */
function originsOf(policy: Policy): ReadonlySet<string> {
  const own = hostOf(policy.origin);
  const hosts = [own, ...policy.hosts, ...policy.rules.flatMap((rule) => rule.conditions.hosts ?? [])];
  const schemes = policy.rules.some((rule) => rule.onlyHttps)
    ? ['https:', 'http:']
    : [policy.origin.startsWith('https:') ? 'https:' : 'http:'];
  const origins = hosts.flatMap((host) => schemes.map((scheme) => `${scheme}//${host}`));
  return new Set([policy.origin, ...origins, ...policy.providers.map(({ issuer }) => issuer)]);
}

/** The login form of an identity provider, to which one comes by the app. */
function providerForm({ at, issuer, start }: IdentityProvider): Form {
  return {
    page: PROVIDER_PATHS.authorize,
    submit: { at, method: 'POST', path: issuer + PROVIDER_PATHS.login },
    opens: start.path,
    elsewhere: issuer,
    byScript: false,
  };
}

/** The form at a link, which is sent to the link itself. */
function linkForm({ link: { at, pattern } }: PasswordReset, byScript: boolean): Form {
  return {
    page: pattern.text,
    opens: pattern.text,
    submit: { at, method: 'POST', path: pattern.text },
    byScript,
  };
}
