import { valueUnder } from './text/plain.js';
import type { Path, YamlText } from './text/yaml-text.js';
import { audienceReader, type Names } from './audience-reader.js';
import { readLandingList } from './landing-reader.js';
import {
  readConfirm,
  readLogins,
  readLogout,
  readProxy,
  readSecondFactor,
  readSignUp,
  readTokens,
} from './login-reader.js';
import { readAddress, readHost, readOrigin, type Scope } from './text/name-reader.js';
import { readAccounts, readRoles } from './people-reader.js';
import { Flags } from './roles-and-flags.js';
import type { Diagnostic } from './text/diagnostic.js';
import { reportIssues } from './text/issues.js';
import { problem, type Report } from './text/problems.js';
import { policySchema, type PolicyText } from './policy-schema.js';
import { readablePart } from './readable-part.js';
import type { Endpoint, MenuLink, Placed, Policy } from './policy.js';
import { handedOut } from '../vocabulary/credentials.js';
import { readPromise } from './promise-reader.js';
import { readSession } from './session-options.js';
import { readLinkLogin, readPassword } from './password-reader.js';
import { readApiKeys, requireKeys } from './api-key-reader.js';
import { readImpersonation } from './impersonation-reader.js';
import { readProviders, requireOtherOrigins } from './provider-reader.js';
import { readCsrf, readRemember, readRouting } from './session-reader.js';
import { readPages } from './page-reader.js';
import { readRefusals } from './refusals.js';
import { readBarriers } from './barrier-reader.js';
import { readRules } from './rule-reader.js';

/**
 * Reads a policy: its shape, then the names in it, then the defaults of what was left out. Everything wrong is reported;
 * the result is null when any of it was.
 */
export function readPolicy(input: YamlText, report: Report): Policy | null {
  const faults: Diagnostic[] = [];
  const note: Report = (diagnostic) => {
    faults.push(diagnostic);
    report(diagnostic);
  };
  if (input.value === null) {
    note(
      problem(
        'empty-file',
        { expects: 'a policy: at least cavrin, app, origin and login' },
        input.placeOf([]),
      ),
    );
    return null;
  }
  if (isWalkFile(input.value)) {
    note(problem('walks-not-policy', { file: input.source.file }, input.placeOf([])));
    return null;
  }
  const read = policySchema.safeParse(input.value);
  if (!read.success) reportIssues(read.error.issues, input, note);
  // The names are looked at even so, in whatever part of the policy has its form, so that one run reports everything.
  const text = read.success ? read.data : readablePart(input.value, read.error.issues);
  const policy = text === null ? null : resolve(text, { input, report: note });
  return faults.length === 0 ? policy : null;
}

/** Whether a file holds walks and nothing of a policy. */
function isWalkFile(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || !('walks' in value)) return false;
  return !['cavrin', 'app', 'origin', 'pages', 'login', 'logins'].some((key) => key in value);
}

/** Whether a form's token, or an address to come back to, is kept in the session. */
function keepsOfGuests({ csrf }: PolicyText, login: Policy['login']): boolean {
  const hasToken = csrf?.token !== undefined && csrf.token !== 'absent';
  return hasToken || login?.return?.kept === 'session';
}

function resolve(text: PolicyText, scope: Scope): Policy {
  const roles = readRoles(text.roles ?? {}, scope);
  const flags = new Flags(text.flags ?? {}, scope);
  const names: Names = { roles, audience: audienceReader(roles, flags, scope) };
  const logins = readLogins(text, names, scope);
  const login = logins[0] ?? null;
  const remember = text.remember === undefined ? null : readRemember(text.remember, scope);
  const handed = handedOut({ login, remember });
  const accounts = readAccounts(text.accounts ?? {}, roles, text['second-factor']?.of ?? [], scope);
  const policy: Policy = {
    app: text.app,
    origin: readOrigin(text.origin, ['origin'], scope),
    hosts: (text.hosts ?? []).map((host, index) => readHost(host, ['hosts', index], scope)),
    roles,
    accounts,
    flags,
    pages: readPages(text.pages ?? {}, text.routing?.['letter-case'] === 'ignored', names, scope),
    rules: readRules(text.rules ?? [], names, scope),
    otherwise: names.audience(text.otherwise ?? 'signed-in', ['otherwise'], []),
    barriers: readBarriers(text.barriers ?? [], names, scope),
    refusals: readRefusals(text.refusals ?? {}, scope),
    login,
    logins,
    landing: readLandingList(text.landing ?? [], ['landing'], 'landing', names, scope),
    signUp: text['sign-up'] === undefined ? null : readSignUp(text['sign-up'], names, scope),
    confirm: text.confirm === undefined ? null : readConfirm(text.confirm, scope),
    secondFactor:
      text['second-factor'] === undefined ? null : readSecondFactor(text['second-factor'], names, scope),
    password: text.password === undefined ? null : readPassword(text.password, handed, scope),
    linkLogin: text['link-login'] === undefined ? null : readLinkLogin(text['link-login'], scope),
    providers: readProviders(text['identity-providers'] ?? {}, accounts, scope),
    apiKeys: text['api-keys'] === undefined ? null : readApiKeys(text['api-keys'], scope),
    impersonation:
      text.impersonation === undefined ? null : readImpersonation(text.impersonation, roles, scope),
    logout: text.logout === undefined ? null : readLogout(text.logout, handed, names, scope),
    session: readSession(text.session ?? {}, { isForGuests: keepsOfGuests(text, login), roles, scope }),
    remember,
    tokens: text.tokens === undefined ? null : readTokens(text.tokens, scope),
    csrf: text.csrf === undefined ? null : readCsrf(text.csrf, scope),
    routing: readRouting(text.routing ?? {}),
    proxy: text.proxy === undefined ? null : readProxy(text.proxy),
    backButton: text['back-button'] ?? 'no-store',
    menu: readMenu(text.menu ?? [], names, scope),
    promises: (text.promises ?? []).map((promise, index) => readPromise(promise, index, names, scope)),
    accepted: (text.accepted ?? []).map((entry, index) => ({ at: ['accepted', index], ...entry })),
  };
  requireSections(policy, scope);
  requireOwnField(policy, scope);
  requireDistinctEndpoints(policy, scope);
  requireOtherOrigins(policy, scope);
  requireKeys(policy, scope);
  return policy;
}

function readMenu(menu: NonNullable<PolicyText['menu']>, names: Names, scope: Scope): MenuLink[] {
  return menu.map((link, index) => {
    const at: Path = ['menu', index];
    const audience =
      link.for === undefined
        ? null
        : { audience: names.audience(link.for, [...at, 'for'], []), at: [...at, 'for'] };
    return { at, to: readAddress(link.to, [...at, 'to'], scope), text: link.text, audience };
  });
}

/** The token of a form needs a field of its own. */
function requireOwnField({ csrf, logins }: Policy, scope: Scope): void {
  if (csrf === null || logins.length === 0) return;
  const taken = [
    ...logins.flatMap(({ fields, return: rules }) => [fields.account, fields.password, rules?.param]),
    'account',
    'password',
    'role',
    'remember',
    'code',
    'refresh_token',
    'old-password',
  ];
  if (!taken.includes(csrf.field)) return;
  const says = `${csrf.field} is a field of the forms already; the token needs one of its own`;
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(['csrf', 'field'])));
}

/** Sections that others cannot do without. */
function requireSections(policy: Policy, scope: Scope): void {
  const { login, tokens, signUp, confirm, secondFactor, password, linkLogin, impersonation, accounts } =
    policy;
  const require = (section: string, present: boolean, because: string | null, at: Path) => {
    // One that is there and could not be read is told for itself.
    const isWritten = valueUnder(scope.input.value, section) !== undefined;
    if (present || isWritten || because === null) return;
    scope.report(problem('missing-section', { section, because }, scope.input.placeOf(at)));
  };
  const by = login === null || login.by === 'session' ? null : `login.by is ${login.by}`;
  require('tokens', tokens !== null, by, [...(login?.at ?? []), 'by']);
  require('login', login !== null, signUp && 'there is a sign-up', ['sign-up']);
  require('login', login !== null, password && 'passwords are changed', ['password']);
  require('login', login !== null, linkLogin && 'people log in by a link', ['link-login']);
  const notByTokens = (section: Placed | null, doing: string) => {
    if (section === null || login?.by !== 'tokens') return;
    const what = `${doing} where a login hands out tokens alone`;
    scope.report(problem('not-built', { what }, scope.input.placeOf(section.at)));
  };
  notByTokens(linkLogin, 'logging in by a link');
  notByTokens(impersonation, 'acting for an account');
  require('login', login !== null, impersonation && 'people act for accounts', ['impersonation']);
  for (const { at, name, unknown, logout: how, code } of policy.providers) {
    require('login', login !== null, 'people come in by an identity provider', at);
    const signsUp = unknown === 'sign-up' ? `${name} makes accounts, and has to know with which roles` : null;
    require('sign-up', signUp !== null, signsUp, [...at, 'unknown']);
    const goesOn = how === 'provider-too' ? `a logout goes on to ${name}` : null;
    require('logout', policy.logout !== null, goesOn, [...at, 'logout']);
    const given = code === 'given' ? `the code is given at ${name}` : null;
    require('second-factor', secondFactor !== null, given, [...at, 'code']);
    notByTokens({ at }, 'an identity provider');
  }
  const confirms = signUp?.then === 'confirm' ? 'sign-up.then is confirm' : null;
  require('confirm', confirm !== null, confirms, ['sign-up', 'then']);
  const asked = [...accounts.values()].find((account) => account.secondFactor);
  const because = asked ? `the account ${asked.name} has a second factor` : null;
  require('second-factor', secondFactor !== null, because, [...(asked?.at ?? []), 'second-factor']);
}

function requireDistinctEndpoints(policy: Policy, scope: Scope): void {
  const first = new Map<string, Endpoint>();
  const { logins, tokens, signUp, secondFactor, logout, password, linkLogin, providers, impersonation } =
    policy;
  const endpoints = [
    ...logins.map(({ submit }) => submit),
    ...[tokens?.submit, tokens?.revoke ?? undefined, signUp?.submit, secondFactor?.submit],
    ...[password?.change?.submit, password?.reset?.submit, linkLogin?.submit],
    ...providers.flatMap(({ start, back }) => [start, back]),
    ...[impersonation?.start, impersonation?.stop],
    ...(logout?.submits ?? []),
  ];
  for (const endpoint of endpoints.filter((each) => each !== undefined)) {
    const request = `${endpoint.method} ${endpoint.path}`;
    const earlier = first.get(request);
    if (earlier !== undefined) {
      const related = [{ place: scope.input.placeOf(earlier.at), message: 'the other endpoint' }];
      scope.report(problem('same-endpoint', { request }, scope.input.placeOf(endpoint.at), related));
    }
    first.set(request, endpoint);
  }
}
