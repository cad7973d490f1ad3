// Step 1 of docs/proof-method.md: time.

import { linkRules } from '../../app/link-rules.js';
import type { Seconds } from '../../time/duration.js';
import { livesBy, longestBy } from '../../language/session-lives.js';
import type { Policy } from '../../language/policy.js';
import { audiencesOf, isGuardedByScript } from '../../language/stated.js';
import type { SomeVisitors } from '../../vocabulary/audience.js';
import type { PromiseEvent } from '../../vocabulary/promise-events.js';
import type { Stage } from '../../play/stage.js';

/** The largest age that each kind of instant is ever compared with; 0 for one that nothing is asked of. */
export interface Limits {
  readonly stage: Stage;
  /** The longest time that is promised for what may still work after something. */
  readonly sinceEvent: Readonly<Record<PromiseEvent, Seconds>>;
  /** The ages at which a session is over, whatever roles its account holds; null for never. */
  readonly absolute: Seconds | null;
  readonly idle: Seconds | null;
  /** The longest time since the login that any audience asks for. */
  readonly loginWithin: Seconds;
  /** The longest time since an account was made that any audience asks for. */
  readonly joinedWithin: Seconds;
  readonly sessionStarted: Seconds;
  readonly sessionActive: Seconds;
  readonly codeSent: Seconds;
  readonly familyStarted: Seconds;
  readonly accessIssued: Seconds;
  readonly refreshIssued: Seconds;
  readonly refreshReplaced: Seconds;
  readonly failure: Seconds;
  readonly paused: Seconds;
  readonly confirmationSent: Seconds;
  readonly resetSent: Seconds;
  readonly signInSent: Seconds;
  readonly remembered: Seconds;
  readonly keyMade: Seconds;
  readonly keyReplaced: Seconds;
  readonly acting: Seconds;
  /** What script asks of when its tokens came, besides how long they last. */
  readonly tokensReceived: Seconds;
}

/** Reads off a policy what its app and its browsers ask of time. */
export function limitsOf(stage: Stage): Limits {
  const { policy } = stage.app;
  const { session, tokens, remember, secondFactor, logins } = policy;
  const sinceLogin = longestAsked(policy, ({ loginWithin }) => loginWithin);
  const refresh = tokens?.refresh ?? null;
  return {
    stage,
    sinceEvent: longestPromised(policy),
    absolute: longestBy('absolute', policy),
    idle: longestBy('idle', policy),
    loginWithin: sinceLogin,
    joinedWithin: longestAsked(policy, ({ joinedWithin }) => joinedWithin),
    sessionStarted: Math.max(...livesBy('absolute', policy).map((life) => life ?? 0), sinceLogin),
    // Activity is written down from one second on, so that is asked for without any limit too.
    sessionActive: Math.max(
      ...livesBy('idle', policy).map((life) => life ?? 0),
      session.renews === 'never' ? 0 : 1,
    ),
    codeSent: secondFactor?.life ?? 0,
    familyStarted: Math.max(refresh?.longest ?? 0, refresh?.rotates === false ? refresh.life : 0, sinceLogin),
    accessIssued: tokens === null ? 0 : tokens.access.life + tokens.access.leeway,
    refreshIssued: refresh?.rotates === true ? refresh.life : 0,
    refreshReplaced: refresh?.grace ?? 0,
    failure: Math.max(0, ...logins.map(({ attempts }) => attempts?.within ?? 0)),
    paused: Math.max(0, ...logins.map(({ attempts }) => attempts?.pause ?? 0)),
    confirmationSent: linkRules(policy, 'confirm')?.life ?? 0,
    resetSent: linkRules(policy, 'reset')?.life ?? 0,
    signInSent: linkRules(policy, 'sign-in')?.life ?? 0,
    remembered: remember?.life ?? 0,
    keyMade: policy.apiKeys?.life ?? 0,
    keyReplaced: policy.apiKeys?.overlap ?? 0,
    acting: policy.impersonation?.life ?? 0,
    // Script that guards a page takes the last tokens for the login.
    tokensReceived: isGuardedByScript(policy) ? sinceLogin : 0,
  };
}

function longestPromised({ promises }: Policy): Limits['sinceEvent'] {
  const longest = { logout: 0, 'role-removed': 0, suspended: 0, 'password-changed': 0 };
  for (const { after, atMost } of promises) {
    if (after !== null) longest[after] = Math.max(longest[after], atMost ?? 0);
  }
  return longest;
}

/** The longest time that any audience of a policy asks for in some way. */
export function longestAsked(policy: Policy, ask: (audience: SomeVisitors) => Seconds | null): Seconds {
  const within = audiencesOf(policy).map((each) => (each.who === 'some' ? (ask(each) ?? 0) : 0));
  return Math.max(...within);
}
