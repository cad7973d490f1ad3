import { admit } from '../app/admit.js';
import { isTaken } from '../app/at-once.js';
import { barrierBefore, isPassedByFacts } from '../app/barriers.js';
import { indexOf } from '../app/app.js';
import type { Reason } from '../app/reasons.js';
import type { Account } from '../language/policy.js';
import { handleOf } from '../credentials/holdings.js';
import type { Exchange } from '../play/stage.js';
import { heldCounting } from '../credentials/counts.js';
import { letsIn } from '../play/entries.js';
import type { Law, Sight, View } from './law.js';
import { canLogIn, canPass, canReach } from './ways.js';
import { codeOf, entrantOf, linkOf, requestOf } from '../steps/asking.js';
import type { Entrant } from '../steps/step-kind.js';

/**
 * Nobody comes to a dead end on the way to what is for them. It shows where somebody does as they are asked: at the form that a
 * refusal sends them to, at a right login, a right code or a good link that is not taken.
 */
export const wayThrough: Law = {
  meta: {
    name: 'way-through',
    title: 'Somebody whom a page is for can no longer get to it by anything they may do.',
    holds: 'Whoever a page is for can get to it, whatever came before.',
    mend: 'let the form that people are sent to admit them',
    weight: 'law',
  },
  broken: (view) => {
    if (view.played.exchanges.length === 0) return null;
    return deadEnd(view) ?? stuck(view);
  },
};

/** The end of the way that a step is on. */
function deadEnd(view: View): Sight | null {
  const met = bounced(view);
  if (met !== null) return met;
  const { action } = view;
  const entrant = entrantOf(action);
  if (entrant !== null) return lockedOut(view, entrant);
  const code = codeOf(action);
  if (code !== null) return code === 'right' ? codeRefused(view) : null;
  const link = linkOf(action);
  return link?.kind === 'confirm' ? linkRefused(view, link.account) : cutOff(view);
}

const ASKS = new Set<Reason>(['code-needed', 'stale-login']);

/** A refusal sends to a form, and the form refuses. */
function bounced({ played: { exchanges, refusedByScript } }: View): Sight | null {
  for (let at = 1; at < exchanges.length; at++) {
    const sender = exchanges[at - 1];
    const target = exchanges[at];
    if (sender === undefined || target === undefined || target.explanation.reason === 'served') continue;
    const byScript = sender.response.body.kind === 'page' && refusedByScript !== null;
    const reason = byScript ? refusedByScript : sender.explanation.reason;
    const isSent = byScript || sender.response.location !== null;
    if (!isSent || !ASKS.has(reason) || !BOUNCES.has(target.explanation.reason)) continue;
    const asked = reason === 'code-needed' ? 'for a one-time code' : 'to log in again';
    return {
      seen: `${sender.visitor.account ?? 'somebody'} is asked ${asked} at ${target.request.path} and refused there: ${target.explanation.reason}`,
      allowedBy: target.route?.grounds.at ?? [],
      weakness: `${asked} ${target.request.path}`,
    };
  }
  return null;
}

const BOUNCES = new Set<Reason>(['guests-only', 'guest', 'role', 'not-owner', 'unknown-page', 'code-needed']);

/** A guest gives the right password of an account in good standing, and nothing that they may do lets them in. */
function lockedOut(view: View, { account: name, password }: Entrant): Sight | null {
  const { played, before, clock, stage } = view;
  const account = before.accounts.get(name);
  const attempt = played.exchanges.find(({ route }) => route?.task === 'login');
  if (account?.password !== password || attempt?.visitor.account !== null) return null;
  if (attempt.explanation.reason !== 'locked-out' || account.state !== 'active') return null;
  const { state, browser } = played;
  if (canLogIn({ stage, state, browser, clock }, account)) return null;
  const isInTheWay = isTaken(stage.app, state, name, -1, clock);
  return {
    seen: `${name} gives the right password and is let in neither now nor after any pause${isInTheWay ? ': another session of theirs is in the way' : ''}`,
    allowedBy: attempt.explanation.decidedBy,
    ...(isInTheWay ? { mend: 'set session.at-once: latest-wins, or give sessions an idle limit' } : {}),
  };
}

/** Somebody who was sent a code gives it in time, and is not let in. */
function codeRefused({ before, from, played, stage, clock }: View): Sight | null {
  const { exchanges } = played;
  if (exchanges.some(letsIn)) return null;
  const session = before.sessions[indexOf('session', handleOf(stage, from, 'session', clock) ?? '')];
  const life = stage.app.policy.secondFactor?.life ?? 0;
  if (session?.ended !== null || session.code === null || clock.elapsed(session.code.sentAt, life)) {
    return null;
  }
  const account = before.accounts.get(session.account ?? '');
  if (account?.secondFactor !== true || account.state !== 'active') return null;
  const refused = exchanges.findLast(({ route }) => route?.task === 'code') ?? exchanges[0];
  const reason = refused?.explanation.reason;
  // A session that is over by itself is no matter of its code.
  if (refused === undefined || reason === undefined || !BOUNCES.has(reason)) return null;
  return {
    seen: `${account.name} gives the right code and is refused at ${refused.request.path}: ${reason}`,
    allowedBy: refused.route?.grounds.at ?? [],
  };
}

/** A link that is good is refused to the guest whom it was sent to. */
function linkRefused({ before, played, stage, clock }: View, name: string): Sight | null {
  const opened = played.exchanges.find(({ route }) => route?.task === 'confirm');
  const sent = before.links.findLast(({ kind, account }) => kind === 'confirm' && account === name);
  const rules = stage.app.policy.confirm;
  if (opened === undefined || sent === undefined || rules === null || opened.visitor.account !== null) {
    return null;
  }
  const isGood = !sent.used && !clock.elapsed(sent.sentAt, rules.life) && before.accounts.has(name);
  if (!isGood || opened.explanation.reason === 'served') return null;
  return {
    seen: `the confirmation link of ${name} is refused to a guest: ${opened.explanation.reason}`,
    allowedBy: opened.route?.grounds.at ?? rules.at,
    weakness: 'confirmation link',
  };
}

/** Somebody is refused what they could have after a step that they are not sent to, and cannot take either. */
function cutOff(view: View): Sight | null {
  const { played, stage, clock, action } = view;
  const asked = requestOf(action);
  if (asked?.from !== null) return null;
  const { state, browser } = played;
  const last = played.exchanges.at(-1);
  const refused = played.exchanges.find(
    (each) => (ASKS.has(each.explanation.reason) && each === last) || isUnknown(view, each),
  );
  if (refused === undefined) return null;
  const account = whoIs(view, refused);
  if (account === null || canReach({ stage, state, browser, clock }, account, refused)) return null;
  const what = refused.request.path;
  return {
    seen: isUnknown(view, refused)
      ? `${account.name} holds a token and is taken for a guest at ${what}: no request of a page carries it`
      : `${account.name} is refused at ${what} (${refused.explanation.reason}), and nothing that they may do opens it`,
    allowedBy: refused.route?.grounds.at ?? [],
    ...(isUnknown(view, refused)
      ? { mend: 'set login.by: both, so that pages know who is signed in, or guard: browser for the page' }
      : {}),
  };
}

/** A barrier sends somebody to a page where they can pass, and nothing that they may write makes it let them pass. */
function stuck({ played, stage, clock }: View): Sight | null {
  const { state, browser, exchanges, cutShort } = played;
  // Round in a circle is told by itself.
  if (cutShort !== null) return null;
  for (const { explanation, route, visitor } of exchanges) {
    if (explanation.reason !== 'barrier' || route === null || visitor.account === null) continue;
    // Whoever acts for somebody passes nothing for them, and can be themselves again.
    if (visitor.actedBy !== null) continue;
    const barrier = barrierBefore(stage.app, route, visitor, clock);
    if (barrier === null || !isPassedByFacts(barrier)) continue;
    if (canPass({ stage, state, browser, clock }, barrier, visitor.account)) continue;
    return {
      seen: `the barrier ${barrier.name} sends ${visitor.account} to ${barrier.sends ?? ''}, and nothing that they may do lets them pass`,
      allowedBy: barrier.at,
      weakness: `barrier ${barrier.name}`,
      mend: `write sets at the page where people pass the barrier ${barrier.name}`,
    };
  }
  return null;
}

/** Whether a page does not see that its visitor is signed in by tokens. */
function isUnknown({ stage }: View, { purpose, request, explanation, visitor, route }: Exchange): boolean {
  const { login } = stage.app.policy;
  return (
    login?.by === 'tokens' &&
    purpose === 'navigate' &&
    // Script sends no forms to pages: what it changes it calls the api for.
    request.method === 'GET' &&
    explanation.reason === 'guest' &&
    visitor.account === null &&
    route !== null &&
    route.page !== null
  );
}

/** Whose account a visitor is known by, or would be; null where the page would not be for it. */
function whoIs({ stage, played, clock }: View, { visitor, route }: Exchange): Account | null {
  const { state, browser } = played;
  if (route === null || route.page === null) return null;
  const name = visitor.account ?? state.sessions[visitor.session]?.account ?? null;
  const held = name === null ? heldCounting(stage, state, browser, clock) : null;
  const token =
    state.accessTokens[indexOf('access', held ?? '')] ?? state.refreshTokens[indexOf('refresh', held ?? '')];
  const account = state.accounts.get(name ?? state.families[token?.family ?? -1]?.account ?? '');
  if (account?.state !== 'active') return null;
  // A code is asked for of somebody only who can be sent one.
  const known = {
    ...visitor,
    account: account.name,
    roles: account.roles,
    facts: account.facts,
    secondFactor: account.secondFactor,
    since: clock.now,
    joinedAt: state.joined.get(account.name) ?? null,
    flags: state.flags,
  };
  // What a barrier keeps them from is not for them until they have passed it.
  if (barrierBefore(stage.app, route, known, clock) !== null) return null;
  return admit(route.grounds.audience, known, route.parameters, clock) === 'served' ? account : null;
}
