import { checkName, readAddress, readPattern, type Scope } from './text/name-reader.js';
import { readLandingList } from './landing-reader.js';
import type { Names } from './audience-reader.js';
import type { PolicyText } from './policy-schema.js';
import { rolesHeld } from './people-reader.js';
import type {
  Confirm,
  Login,
  Logout,
  Proxy,
  SecondFactor,
  ShownAgain,
  SignUp,
  TokenRules,
} from './policy.js';
import { endsAtLogout, type Credential } from '../vocabulary/credentials.js';
import { readEndpoint } from './endpoint-reader.js';
import { readLink } from './password-reader.js';
import { problem } from './text/problems.js';
import type { Path } from './text/yaml-text.js';

type Section<Key extends keyof PolicyText> = NonNullable<PolicyText[Key]>;

/** Reads how people log in: the one login, or all of several. */
export function readLogins(
  { login, logins }: Pick<PolicyText, 'login' | 'logins'>,
  names: Names,
  scope: Scope,
): Login[] {
  if (login !== undefined && logins !== undefined) {
    const says = 'login and logins say the same twice; name the login in logins';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOfKey([], 'login')));
  }
  if (logins === undefined) {
    return login === undefined ? [] : [readLogin(login, null, ['login'], names, scope)];
  }
  const [first, ...others] = Object.entries(logins).map(([name, text]) => {
    const place = scope.input.placeOfKey(['logins'], name);
    checkName(name, 'login', place, scope.report);
    if (REFUSAL_WORDS.has(name)) {
      scope.report(problem('bad-name', { name, what: 'login', reserved: true }, place));
    }
    return readLogin(text, name, ['logins', name], names, scope);
  });
  if (first === undefined) return [];
  return [first, ...others.map((each) => asTheFirst(first, logins[each.name ?? ''], each, scope))];
}

/** What refusals lead to by a word of their own. */
const REFUSAL_WORDS: ReadonlySet<string> = new Set(['code-page', 'shell']);

/** What every login hands out, and what the browser knows of all of them, is the same. */
function asTheFirst(first: Login, text: LoginText | undefined, login: Login, scope: Scope): Login {
  const differs = (key: string, isOther: boolean) => {
    if (!isOther) return;
    const at: Path = [...login.at, ...key.split('.')];
    const says = `${key} is the same in all logins; leave it out here, or write what ${first.name ?? ''} has`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  };
  differs('by', text?.by !== undefined && login.by !== first.by);
  differs('as-role', text?.['as-role'] !== undefined && login.asRole !== first.asRole);
  const [own, usual] = [login.return, first.return];
  if (own !== null && usual !== null) {
    differs('return.param', text?.return?.param !== undefined && own.param !== usual.param);
    differs('return.kept', text?.return?.kept !== undefined && own.kept !== usual.kept);
  }
  const shared = own === null || usual === null ? own : { ...own, param: usual.param, kept: usual.kept };
  return { ...login, form: `login ${login.name ?? ''}`, by: first.by, asRole: first.asRole, return: shared };
}

type LoginText = Section<'login'>;

function readLogin(text: LoginText, name: string | null, at: Path, names: Names, scope: Scope): Login {
  const page = readAddress(text.page, [...at, 'page'], scope);
  return {
    at,
    name,
    form: 'login',
    page,
    submit: readEndpoint(text.submit, [...at, 'submit'], scope),
    wrong: typeof text.wrong === 'string' ? readAddress(text.wrong, [...at, 'wrong'], scope) : page,
    shownAgain: readShownAgain(typeof text.wrong === 'string' ? undefined : text.wrong),
    by: text.by ?? 'session',
    asRole: text['as-role'] ?? false,
    renewSessionId: text['renew-session-id'] ?? true,
    attempts: text.attempts === undefined ? null : { at: [...at, 'attempts'], ...text.attempts },
    return: text.return === undefined ? null : readReturn(text.return, [...at, 'return'], scope),
    takes: text.takes?.map((role, index) => names.roles.resolve(role, [...at, 'takes', index])) ?? null,
    landing: readLandingList(text.landing ?? [], [...at, 'landing'], 'landing', names, scope),
    fields: readFields(text.fields ?? {}, [...at, 'fields'], scope),
  };
}

function readShownAgain(text: { readonly status?: number | undefined } | undefined): ShownAgain | null {
  return text === undefined ? null : { status: text.status ?? 200 };
}

function readFields(text: NonNullable<LoginText['fields']>, at: Path, scope: Scope): Login['fields'] {
  const fields = { account: text.account ?? 'account', password: text.password ?? 'password' };
  if (fields.account === fields.password) {
    const says = `the two fields need names of their own, and both are called ${fields.account}`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return fields;
}

function readReturn(
  text: NonNullable<LoginText['return']>,
  at: Path,
  scope: Scope,
): NonNullable<Login['return']> {
  const accept = text.accept ?? 'same-origin';
  const listed = (paths: readonly string[]) => ({
    listed: paths.map((path, index) => readPattern(path, [...at, 'accept', 'listed', index], scope)),
  });
  return {
    at,
    param: text.param ?? 'back',
    accept: typeof accept === 'string' ? accept : listed(accept.listed),
    onlyIfAllowed: text['only-if-allowed'] ?? true,
    kept: text.kept ?? 'address',
    carriedOver: text['carried-over'] ?? true,
    of: text.of ?? 'reads',
  };
}

/** Reads how people make an account. */
export function readSignUp(text: Section<'sign-up'>, names: Names, scope: Scope): SignUp {
  const at: Path = ['sign-up'];
  const given = (text.roles ?? []).map((name, index) => names.roles.resolve(name, [...at, 'roles', index]));
  const then = text.then ?? 'login';
  const lands = text.lands ?? (then === 'login' ? 'landing' : text.page);
  return {
    at,
    page: readAddress(text.page, [...at, 'page'], scope),
    submit: readEndpoint(text.submit, [...at, 'submit'], scope),
    given,
    roles: rolesHeld(given, names.roles),
    then,
    lands: lands === 'landing' ? lands : { path: readAddress(lands, [...at, 'lands'], scope) },
    shownAgain: readShownAgain(text.wrong),
  };
}

/** Reads how a new account is confirmed: by a link that ends in a secret. */
export function readConfirm(text: Section<'confirm'>, scope: Scope): Confirm {
  const at: Path = ['confirm'];
  return { ...readLink(text.path, [...at, 'path'], text.life, scope), at };
}

/** Reads the one-time code. */
export function readSecondFactor(text: Section<'second-factor'>, names: Names, scope: Scope): SecondFactor {
  const at: Path = ['second-factor'];
  return {
    at,
    page: readAddress(text.page, [...at, 'page'], scope),
    submit: readEndpoint(text.submit, [...at, 'submit'], scope),
    life: text.life,
    tries: text.tries ?? 3,
    asked: text.asked ?? 'at-login',
    of: (text.of ?? []).map((role, index) => names.roles.resolve(role, [...at, 'of', index])),
    shownAgain: readShownAgain(text.wrong),
  };
}

/** Reads what stands before the app. */
export function readProxy(text: Section<'proxy'>): Proxy {
  return { at: ['proxy'], endsTls: text['ends-tls'] ?? true, trusted: text.trusted ?? true };
}

/** Reads how people log out. Left out, all that the login handed out is cleared and ended. */
export function readLogout(
  text: Section<'logout'>,
  handed: readonly Credential[],
  names: Names,
  scope: Scope,
): Logout {
  const at: Path = ['logout'];
  if (text.everywhere === true && text.of !== undefined && text.of !== 'account') {
    const says = `everywhere: true is of: account: leave out one of the two, since of: ${text.of} ends less`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'of'])));
  }
  return {
    at,
    submits: text.submit.map((request) => readEndpoint(request, [...at, 'submit'], scope)),
    lands: readLogoutLanding(text.lands ?? '/', [...at, 'lands'], names, scope),
    of: text.of ?? (text.everywhere === true ? 'account' : 'login'),
    status: text.status ?? 200,
    clears: new Set(text.clears ?? handed),
    ends: new Set(text.ends ?? handed.filter(endsAtLogout)),
  };
}

function readLogoutLanding(
  text: NonNullable<Section<'logout'>['lands']>,
  at: Path,
  names: Names,
  scope: Scope,
): Logout['lands'] {
  if (typeof text !== 'string') return readLandingList(text, at, 'logout', names, scope);
  return [{ at, role: null, facts: null, leaving: null, to: readAddress(text, at, scope) }];
}

/** Reads the tokens' lives and what the browser does with them. */
export function readTokens(text: Section<'tokens'>, scope: Scope): TokenRules {
  const at: Path = ['tokens'];
  const when = text['refresh-when'] ?? 'refused';
  const failed = text['failed-refresh'] ?? 'login';
  if (typeof when === 'number' && when >= text.access.life) {
    const says = 'it refreshes before the access token is used at all; choose less than access.life';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'refresh-when'])));
  }
  const kept = text.access.kept ?? text.refresh?.kept ?? 'tab';
  if (text.refresh?.kept !== undefined && text.refresh.kept !== kept) {
    const what = 'keeping the two tokens in different places';
    scope.report(problem('not-built', { what }, scope.input.placeOf([...at, 'refresh', 'kept'])));
  }
  return {
    at,
    access: { life: text.access.life, leeway: text.access.leeway ?? 0 },
    refresh: text.refresh === undefined ? null : readRefresh(text.refresh),
    roles: text.roles ?? 'in-token',
    kept,
    sharedRefresh: text['shared-refresh'] ?? 'until-settled',
    submit: readEndpoint(text.submit ?? { method: 'POST', target: '/oauth/token' }, [...at, 'submit'], scope),
    revoke: text.revoke === undefined ? null : readEndpoint(text.revoke, [...at, 'revoke'], scope),
    refreshWhen: when,
    refused: text.refused ?? 400,
    failedRefresh: failed === 'login' ? 'login' : readAddress(failed, [...at, 'failed-refresh'], scope),
  };
}

function readRefresh(text: NonNullable<Section<'tokens'>['refresh']>): NonNullable<TokenRules['refresh']> {
  return {
    life: text.life,
    rotates: text.rotates ?? true,
    longest: text.longest ?? null,
    reuse: text.reuse ?? 'end-family',
    grace: text.grace ?? 0,
  };
}
