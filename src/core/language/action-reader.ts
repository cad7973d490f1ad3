import { encodedReference } from '../http/address.js';
import type { Action, Wait } from '../walks/walk.js';
import { checkName } from './name-reader.js';
import { problem } from './problems.js';
import { nearest } from './suggestions.js';
import { checkAccount, checkAddress, checkRole, readFrom, type WalkScope } from './walk-names.js';
import type { VERBS } from './walk-schema.js';
import { type StepText } from './walk-schema.js';
import type { Path } from './yaml-text.js';

export type Verb = keyof typeof VERBS;

/** Reads what a step does. */
export function readAction(verb: Verb, text: StepText, at: Path, scope: WalkScope): Action {
  switch (verb) {
    case 'visit':
      return {
        verb,
        address: checkAddress(text.visit ?? '', [...at, verb], scope),
        from: readFrom(text.from, [...at, 'from'], scope),
      };
    case 'together': {
      const calls = (text.together ?? []).map((item, index) => {
        const { send, tab } = 'send' in item ? item : ({ send: item, tab: 'front' } as const);
        const place = [...at, verb, index, ...('send' in item ? ['send'] : [])];
        return { method: send.method, address: checkAddress(send.target, place, scope), tab };
      });
      return { verb, calls };
    }
    case 'follow':
      return readFollow(text.follow ?? '', [...at, verb], scope);
    case 'code':
      return { verb, given: text.code ?? 'right' };
    case 'sign-up':
      return readSignUpStep(text['sign-up'], [...at, verb], scope);
    case 'back':
      return { verb, pages: text.back ?? 1 };
    case 'confirm':
      checkAccount(text.confirm ?? '', [...at, verb], scope);
      return { verb, account: text.confirm ?? '' };
    case 'send': {
      const { method = 'GET', target = '/' } = text.send ?? {};
      return {
        verb,
        method,
        address: checkAddress(target, [...at, verb], scope),
        from: readFrom(text.from, [...at, 'from'], scope),
      };
    }
    case 'login':
      return {
        ...readLoginStep(text.login ?? '', [...at, verb], scope),
        from: readFrom(text.from, [...at, 'from'], scope),
      };
    case 'wait':
      return { verb, until: readWait(text.wait ?? 0, [...at, verb], scope) };
    case 'clear-cookies':
      return { verb, name: text['clear-cookies'] ?? null };
    case 'copy': {
      const { what = 'session', to = '' } = text.copy ?? {};
      return { verb, what, to };
    }
    case 'plant': {
      const { what = 'session', in: to = '' } = text.plant ?? {};
      return { verb, what, to };
    }
    case 'suspend':
    case 'delete-account': {
      const account = text[verb] ?? '';
      checkAccount(account, [...at, verb], scope);
      if (verb === 'delete-account') scope.deleted.add(account);
      return { verb, account };
    }
    case 'set-roles': {
      const { as: account = '', roles = [] } = text['set-roles'] ?? {};
      checkAccount(account, [...at, verb, 'as'], scope);
      roles.forEach((role, index) => {
        checkRole(role, [...at, verb, 'roles', index], scope);
      });
      return { verb, account, roles };
    }
    case 'set-password': {
      const { as: account = '', password = '' } = text['set-password'] ?? {};
      checkAccount(account, [...at, verb, 'as'], scope);
      scope.changed.set(account, password);
      return { verb, account, password };
    }
    default:
      return { verb };
  }
}

function readLoginStep(
  text: NonNullable<StepText['login']>,
  at: Path,
  scope: WalkScope,
): Omit<Extract<Action, { verb: 'login' }>, 'from'> {
  const name = typeof text === 'string' ? text : text.as;
  checkAccount(name, typeof text === 'string' ? at : [...at, 'as'], scope);
  const given = typeof text === 'string' ? undefined : text.password;
  const own = scope.signedUp.get(name) ?? scope.policy?.accounts.get(name)?.password ?? '';
  const role = typeof text === 'string' ? null : (text.role ?? null);
  const remember = typeof text !== 'string' && text.remember === true;
  if (remember) requirePart('remember', [...at, 'remember'], scope);
  if (role !== null) checkRole(role, [...at, 'role'], scope);
  return {
    verb: 'login',
    account: name,
    password: given ?? own,
    passwordGiven: given !== undefined,
    isWrong: given !== undefined && given !== (scope.changed.get(name) ?? own),
    role,
    remember,
  };
}

function readSignUpStep(text: StepText['sign-up'], at: Path, scope: WalkScope): Action {
  const { as: account = '', password = '' } = text ?? {};
  const place = scope.input.placeOf([...at, 'as']);
  checkName(account, 'account', place, scope.report);
  const isTaken = scope.policy?.accounts.has(account) === true || scope.signedUp.has(account);
  if (isTaken && !scope.deleted.has(account)) {
    const says = `there is an account called ${account} already; sign up under another name`;
    scope.report(problem('bad-value', { problem: says }, place));
  }
  scope.signedUp.set(account, password);
  scope.deleted.delete(account);
  return { verb: 'sign-up', account, password };
}

/** A link is named by its address or its text; either way it must be in the policy's menu. */
function readFollow(name: string, at: Path, scope: WalkScope): Action {
  const menu = scope.policy?.menu ?? [];
  const link = menu.find((each) => each.to === encodedReference(name) || each.text === name);
  if (scope.policy !== null && link === undefined) {
    const near = nearest(name, [...menu.map((each) => each.to), ...menu.map((each) => each.text)]);
    scope.report(problem('unknown-link', { name, near }, scope.input.placeOf(at)));
  }
  return { verb: 'follow', to: link?.to ?? name, link: name };
}

function readWait(text: NonNullable<StepText['wait']>, at: Path, scope: WalkScope): Wait {
  if (typeof text === 'number') return { kind: 'duration', seconds: text };
  const kind = text.past === undefined ? 'short-of' : 'past';
  const deadline = text[kind];
  if (deadline === undefined || (text.past !== undefined && text['short-of'] !== undefined)) {
    const form = 'a wait has one of past and short-of';
    scope.report(problem('bad-value', { problem: form }, scope.input.placeOf(at)));
    return { kind: 'duration', seconds: 0 };
  }
  const { policy } = scope;
  const limits = {
    'session-idle': ['session.idle', policy?.session.idle],
    'session-absolute': ['session.absolute', policy?.session.absolute],
    'access-expiry': ['tokens.access', policy?.tokens?.access.life],
    'refresh-expiry': ['tokens.refresh', policy?.tokens?.refresh?.life],
    'code-expiry': ['second-factor.life', policy?.secondFactor?.life],
    'attempts-pause': ['login.attempts', policy?.login?.attempts?.pause],
    'remember-expiry': ['remember', policy?.remember?.life],
  } as const;
  const [key, limit] = limits[deadline];
  if (scope.policy !== null && (limit ?? null) === null) {
    scope.report(problem('no-deadline', { deadline, key }, scope.input.placeOf([...at, kind])));
  }
  return { kind, deadline };
}

function requirePart(section: 'remember', at: Path, scope: WalkScope): void {
  if (scope.policy === null || scope.policy[section] !== null) return;
  const because = 'this step asks to be remembered';
  scope.report(problem('missing-section', { section, because }, scope.input.placeOf(at)));
}
