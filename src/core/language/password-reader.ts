import type { Seconds } from '../time/duration.js';
import { endsAtLogout, type Credential } from '../vocabulary/credentials.js';
import { readEndpoint } from './endpoint-reader.js';
import { readAddress, readPattern, type Scope } from './text/name-reader.js';
import type { PolicyText } from './policy-schema.js';
import type {
  LinkForm,
  LinkLogin,
  LinkRules,
  PasswordChange,
  PasswordReset,
  PasswordRules,
} from './policy.js';
import { problem } from './text/problems.js';
import type { Path } from './text/yaml-text.js';

type Section<Key extends keyof PolicyText> = NonNullable<PolicyText[Key]>;
type LinkText = Omit<Section<'link-login'>, 'same-browser'>;

/** Reads a link that ends in a secret. */
export function readLink(text: string, at: Path, life: Seconds, scope: Scope): LinkRules {
  const pattern = readPattern(text, at, scope);
  if (pattern.segments.at(-1)?.kind !== 'name' || pattern.tail) {
    const says = 'the path ends in a parameter for the secret, as in /confirm/:token';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return { at, pattern, life };
}

/**
 * Reads how passwords are changed.
 *
 * @param handed what a login hands out; all of it ends but what the app cannot call back, unless the policy says otherwise
 */
export function readPassword(
  text: Section<'password'>,
  handed: readonly Credential[],
  scope: Scope,
): PasswordRules {
  const at: Path = ['password'];
  const { change, reset, ends, own } = text;
  return {
    at,
    change: change === undefined ? null : readChange(change, [...at, 'change'], scope),
    reset: reset === undefined ? null : readReset(reset, [...at, 'reset'], scope),
    ends: new Set(ends ?? [...handed.filter(endsAtLogout), 'links' as const]),
    own: own ?? 'renews',
  };
}

function readChange(
  text: NonNullable<Section<'password'>['change']>,
  at: Path,
  scope: Scope,
): PasswordChange {
  const page = readAddress(text.page, [...at, 'page'], scope);
  return {
    at,
    page,
    submit: readEndpoint(text.submit, [...at, 'submit'], scope),
    asksOld: text['asks-old'] ?? true,
    lands: text.lands === undefined ? page : readAddress(text.lands, [...at, 'lands'], scope),
  };
}

function readReset(text: NonNullable<Section<'password'>['reset']>, at: Path, scope: Scope): PasswordReset {
  const then = text.then ?? 'login';
  if (then === 'login' && text.code !== undefined) {
    const says = 'whoever logs in after it is asked for the code there; code is for then: signed-in';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'code'])));
  }
  return { ...readLinkForm(text, at, scope), then };
}

/** Reads how people log in by a link. */
export function readLinkLogin(text: Section<'link-login'>, scope: Scope): LinkLogin {
  const at: Path = ['link-login'];
  return { ...readLinkForm(text, at, scope), sameBrowser: text['same-browser'] ?? true };
}

function readLinkForm(text: LinkText, at: Path, scope: Scope): LinkForm {
  const page = readAddress(text.page, [...at, 'page'], scope);
  return {
    at,
    page,
    submit: readEndpoint(text.submit, [...at, 'submit'], scope),
    lands: text.lands === undefined ? page : readAddress(text.lands, [...at, 'lands'], scope),
    link: readLink(text.link, [...at, 'link'], text.life, scope),
    code: text.code ?? 'asked',
    tells: text.tells ?? false,
  };
}
