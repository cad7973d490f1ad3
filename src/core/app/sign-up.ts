import type { Clock } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import { owesByRole } from '../language/people-reader.js';
import type { Account, Policy, SignUp } from '../language/policy.js';
import { explain, redirect, type Answer } from './answer.js';
import { changed, type App, type AppState } from './app.js';
import { nameFault } from '../language/text/name-reader.js';
import { GUEST } from './identify.js';
import { sendLink, withUsed } from './links.js';
import { openLinkOf } from './open-link.js';
import { landingEntry } from './landing.js';
import { showAgain } from './page.js';
import { askedFor } from './return-address.js';
import { letIn } from './way-in.js';

/** The sign-up endpoint. A name that is taken is answered like a free one, so that names do not leak. */
export function signUp(app: App, state: AppState, request: HttpRequest, clock: Clock): Answer {
  const { signUp: rules, login } = app.policy;
  if (rules === null || login === null) throw new Error('a sign-up endpoint without rules for it');
  const name = request.form.get('account') ?? '';
  const account = newAccount(app.policy, rules, name, request.form.get('password') ?? '');
  // A name that no account can have is answered like one that is taken.
  const known = nameFault(name) !== null || state.accounts.has(name);
  const lands =
    rules.lands === 'landing' ? (landingEntry(app.policy, account)?.to ?? null) : rules.lands.path;
  if (known || rules.then !== 'login') {
    const after = known ? state : withAccount(state, account, rules, clock);
    const to = known || lands === null ? rules.page : lands;
    const again = known ? rules.shownAgain : null;
    return {
      state: after,
      response:
        again === null ? redirect(request.method, to) : showAgain(app, 'sign-up', again.status, GUEST, clock),
      explanation: explain(null, 'served', rules.at),
    };
  }
  const entrant = {
    by: login,
    account,
    asRole: null,
    secondFactor: false,
    asked: askedFor(login, request),
    lands: rules.lands === 'landing' ? null : lands,
    remember: false,
  };
  return letIn(app, withAccount(state, account, rules, clock), request, entrant, clock);
}

/** An account as a sign-up makes it. */
export function newAccount({ secondFactor }: Policy, rules: SignUp, name: string, password: string): Account {
  const state = rules.then === 'confirm' ? 'unconfirmed' : 'active';
  const { at, given, roles } = rules;
  const owes = owesByRole(secondFactor?.of ?? [], roles);
  return {
    at,
    name,
    password,
    given,
    roles,
    facts: new Map(),
    secondFactor: owes,
    key: false,
    alwaysOwesCode: false,
    state,
    joined: null,
  };
}

/** The app with a new account in it. */
export function withAccount(before: AppState, account: Account, rules: SignUp, clock: Clock): AppState {
  const state = withoutNamesake(before, account.name);
  const accounts = new Map(state.accounts).set(account.name, account);
  const joined = new Map(state.joined).set(account.name, clock.now);
  const made = changed(state, { accounts, joined });
  return rules.then === 'confirm' ? sendLink(made, 'confirm', account.name, clock) : made;
}

/** An account is not its name: what belonged to a deleted one of the same name must not belong to the new one. */
function withoutNamesake(state: AppState, name: string): AppState {
  const { sessions, families, remembered, links } = state;
  const kinds = [sessions, families, remembered, links];
  if (!kinds.some((records) => records.some(({ account }) => account === name))) return state;
  const gone = `${name} (deleted)`;
  const renamed = <T extends { readonly account: string | null }>(records: readonly T[]): T[] =>
    records.map((record) => (record.account === name ? { ...record, account: gone } : record));
  return changed(state, {
    sessions: renamed(sessions),
    families: renamed(families),
    remembered: renamed(remembered),
    links: renamed(links),
  });
}

/** The link that confirms a new account: good once, and for its life. */
export function confirm(
  app: App,
  state: AppState,
  request: HttpRequest,
  parameters: ReadonlyMap<string, string>,
  clock: Clock,
): Answer {
  const rules = app.policy.confirm;
  if (rules === null) throw new Error('a confirmation link without rules for it');
  const login = app.policy.login?.page ?? '/';
  const limits = { at: rules.at, life: rules.life, back: login };
  const { opened, refused } = openLinkOf('confirm', state, request, parameters, limits, clock);
  if (refused !== null) return refused;
  const { account } = opened;
  // An account that was suspended meanwhile stays so.
  const confirmed = account.state === 'unconfirmed' ? { ...account, state: 'active' as const } : account;
  return {
    state: changed(withUsed(state, opened), {
      accounts: new Map(state.accounts).set(account.name, confirmed),
    }),
    response: redirect(request.method, login),
    explanation: explain(null, 'served', rules.at),
  };
}
