import { livesBy } from '../language/session-lives.js';
import { wordsOf } from '../vocabulary/tables.js';
import type { Policy } from '../language/policy.js';
import type { RefusalKey } from '../vocabulary/refusal.js';
import type { Path } from '../language/text/yaml-text.js';
import { conditionsOf } from '../audience/all-conditions.js';
import type { Refused } from '../audience/condition.js';
import { audiencesOf, statedAudiences } from '../language/stated.js';
import type { Audience } from '../vocabulary/audience.js';

/** What is said of a reason. */
interface ReasonKind {
  /** Its row in docs/language. */
  readonly when: string;
  /** The limit that decided, where that tells more than the page where it showed. */
  readonly limit?: Path;
  /** What whoever is refused for it gets; left out: what a guest gets, or somebody whose role does not do. */
  readonly refusal?: RefusalKey;
  /** Whether a login by itself would help (RFC 9470 §3). */
  readonly asksForLogin?: true;
  /** The part of a policy without which it never comes about, and whether a policy has it. */
  readonly needs?: readonly [part: string, isThere: (policy: Policy) => boolean];
  /** Whether what a policy says can lead to it, where not every policy can that has that part. */
  readonly isPossible?: (policy: Policy) => boolean;
  /** Whether no policy is meant to come to it, or it is no refusal at all. */
  readonly isUnmeant?: true;
}

const hasRefresh = ({ tokens }: Policy) => (tokens?.refresh ?? null) !== null;
const hasLinks = ({ confirm, password, linkLogin }: Policy) =>
  confirm !== null || linkLogin !== null || (password?.reset ?? null) !== null;
const hasKeys = ({ apiKeys }: Policy) => apiKeys !== null;
const hasCodes = ({ secondFactor }: Policy) => secondFactor !== null;

/** Whether any audience has a condition by which somebody is refused for a reason. */
const asks = (policy: Policy, reason: Refused) =>
  audiencesOf(policy).some((each) => conditionsOf(each).some(({ condition }) => condition.reason === reason));

const isFor = (policy: Policy, ...words: readonly Audience['who'][]) =>
  audiencesOf(policy).some(({ who }) => words.includes(who));

function hasLogins({ logins, accounts }: Policy): boolean {
  return logins.length > 0 && accounts.size > 0;
}

/** Whether there is anything that is not for everyone, nor for guests. */
function isClosedSomewhere(policy: Policy): boolean {
  const isClosed = ({ who }: Audience) => who === 'signed-in' || who === 'some';
  const { pages, otherwise } = policy;
  return (
    statedAudiences(policy).some(({ audience, at }) => at[0] !== 'otherwise' && isClosed(audience)) ||
    (isClosed(otherwise) &&
      pages.some(({ audiences }) => audiences.read === null || audiences.write === null))
  );
}

/** Every reason, in the order of docs/language. */
const REASON_KINDS = {
  served: { when: 'it was given what it asked for', isUnmeant: true },
  guest: { when: 'nobody is signed in, and guests may not', isPossible: isClosedSomewhere },
  'guests-only': {
    when: 'somebody is signed in, and only guests may',
    refusal: 'guests-only',
    isPossible: (policy) => hasLogins(policy) && isFor(policy, 'guests'),
  },
  role: {
    when: 'the roles or facts of whoever asked do not do',
    refusal: 'role',
    isPossible: (policy) => (hasLogins(policy) && isFor(policy, 'some')) || isFor(policy, 'nobody'),
  },
  'not-owner': { when: 'it is another account’s', isPossible: (policy) => asks(policy, 'not-owner') },
  'idle-expired': {
    when: 'the session was not used for too long',
    limit: ['session', 'idle'],
    needs: ['session.idle', (policy) => livesBy('idle', policy).some((life) => life !== null)],
  },
  'absolute-expired': {
    when: 'the session began too long ago',
    limit: ['session', 'absolute'],
    needs: ['session.absolute', (policy) => livesBy('absolute', policy).some((life) => life !== null)],
  },
  'signed-out': {
    when: 'the session was ended by a logout, or by another login',
    isPossible: ({ logout, session }) => logout !== null || session['at-once'] === 'latest-wins',
  },
  'password-changed': {
    when: 'the session was ended since the password was changed',
    needs: ['password', ({ password }) => password !== null],
  },
  'session-lost': {
    when: 'the app has no such session, or no longer',
    isPossible: ({ session }) => session.kept === 'memory',
  },
  'access-expired': {
    when: 'the access token is over',
    limit: ['tokens', 'access'],
    needs: ['tokens', ({ tokens }) => tokens !== null],
  },
  'refresh-expired': {
    when: 'the refresh token is over',
    limit: ['tokens', 'refresh'],
    needs: ['tokens.refresh', hasRefresh],
  },
  'refresh-reused': {
    when: 'the refresh token was exchanged before',
    limit: ['tokens', 'refresh'],
    needs: ['tokens.refresh', hasRefresh],
  },
  'refresh-revoked': {
    when: 'the refresh token was called back',
    needs: ['tokens.refresh', hasRefresh],
  },
  'wrong-password': {
    when: 'account and password do not go together',
    needs: ['login', ({ login }) => login !== null],
  },
  'other-login': {
    when: 'this login does not take the account',
    needs: ['takes of a login', ({ logins }) => logins.some(({ takes }) => takes !== null)],
  },
  'locked-out': {
    when: 'there were too many wrong passwords under that name',
    needs: ['login.attempts', ({ logins }) => logins.some(({ attempts }) => attempts !== null)],
  },
  suspended: { when: 'the account is suspended', isPossible: hasLogins },
  unconfirmed: {
    when: 'the account was not confirmed yet',
    isPossible: ({ accounts, signUp }) =>
      signUp?.then === 'confirm' || [...accounts.values()].some(({ state }) => state === 'unconfirmed'),
  },
  'account-gone': { when: 'there is no such account, or no longer', isPossible: hasLogins },
  'code-needed': {
    when: 'the one-time code is owed',
    refusal: 'second-factor',
    asksForLogin: true,
    needs: ['second-factor', hasCodes],
  },
  'code-wrong': { when: 'the one-time code is another', needs: ['second-factor', hasCodes] },
  'code-expired': {
    when: 'the one-time code, or a link that was sent, is over',
    needs: ['second-factor', (policy) => hasCodes(policy) || hasLinks(policy)],
  },
  'other-browser': {
    when: 'the link was asked for in another browser',
    needs: ['link-login with same-browser', ({ linkLogin }) => linkLogin?.sameBrowser === true],
  },
  'answer-refused': {
    when: 'the answer of an identity provider was not to a request of this browser, or came twice',
    needs: ['identity-providers', ({ providers }) => providers.length > 0],
  },
  'unknown-person': {
    when: 'an identity provider knows somebody who has no account',
    needs: ['identity-providers', ({ providers }) => providers.length > 0],
    isPossible: ({ providers }) => providers.some(({ unknown }) => unknown === 'refuse'),
  },
  'key-expired': {
    when: 'the key of a machine is over, or another has taken its place',
    limit: ['api-keys'],
    needs: ['api-keys with a life, or a key that is rotated', hasKeys],
  },
  'key-revoked': { when: 'the key of a machine was called back', needs: ['api-keys', hasKeys] },
  acting: {
    when: 'whoever asked acts for somebody else, and this is closed meanwhile',
    needs: ['impersonation', ({ impersonation }) => impersonation !== null],
  },
  'stale-login': {
    when: 'the login is too long ago for this',
    refusal: 'stale-login',
    asksForLogin: true,
    isPossible: (policy) => asks(policy, 'stale-login'),
  },
  flag: {
    when: 'a switch of the app stands otherwise',
    needs: ['flags', ({ flags }) => flags.size > 0],
  },
  'joined-long-ago': {
    when: 'the account was made too long ago for this',
    isPossible: (policy) => asks(policy, 'joined-long-ago'),
  },
  barrier: {
    when: 'a barrier stops whoever asked',
    needs: ['barriers', ({ barriers }) => barriers.length > 0],
  },
  'unknown-page': { when: 'there is no such page', refusal: 'unknown' },
  'unsafe-path': { when: 'the path cannot be read as one path', isUnmeant: true },
  'method-not-allowed': {
    when: 'the page does not answer that method',
    isPossible: ({ pages }) => pages.some(({ answers }) => answers !== null),
  },
  'insecure-scheme': {
    when: 'it came over plain http, where only https does',
    needs: ['rule with scheme: https', ({ rules }) => rules.some((rule) => rule.onlyHttps)],
  },
  'cookie-not-kept': { when: 'the browser did not get or keep the cookie', isUnmeant: true },
  'redirect-loop': { when: 'the browser gave up following redirects', isUnmeant: true },
  'off-origin': { when: 'a redirect led off the site', isUnmeant: true },
  forwarded: {
    when: 'the page sent the visitor on, as it is meant to',
    needs: ['page with forward', ({ pages }) => pages.some((page) => page.forward !== null)],
    isUnmeant: true,
  },
  'unsafe-return': {
    when: 'the return address was not one to follow, and was left',
    needs: ['login.return', ({ logins }) => logins.some((login) => login.return !== null)],
  },
  'csrf-refused': { when: 'the form was not one of the app’s own', isPossible: ({ csrf }) => csrf !== null },
} as const satisfies Readonly<Record<string, ReasonKind>>;

/** Why a request came out as it did: a closed list, the same in walks, reports and the app half. */
export type Reason = keyof typeof REASON_KINDS;

export const REASONS = wordsOf(REASON_KINDS);

/** What is said of a reason. */
export function reasonKind(reason: Reason): ReasonKind {
  return REASON_KINDS[reason];
}

/** The part of the language without which a reason never comes about; null where a policy has it. */
export function whatLacks(reason: Reason, policy: Policy): string | null {
  const [part, isThere] = reasonKind(reason).needs ?? [];
  return part === undefined || isThere?.(policy) === true ? null : part;
}

/** Whether requests can be meant to come to a reason under a policy. */
export function comesAbout(reason: Reason, policy: Policy): boolean {
  const { isUnmeant, isPossible } = reasonKind(reason);
  return isUnmeant !== true && whatLacks(reason, policy) === null && isPossible?.(policy) !== false;
}
