import type { Clock } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import { parametersOf, segmentsOf } from '../paths/pattern.js';
import { isActedFor, mayAct } from './acting.js';
import { explain, refuse, type Answer } from './answer.js';
import { changed, type Acting, type App, type AppState } from './app.js';
import type { Identity } from './identify.js';
import { landingEntry } from './landing.js';
import type { Route } from './router.js';
import { renewId } from './sessions.js';
import { goOn } from './way-in.js';

/** The endpoint at which somebody starts to act for an account. */
export function startActing(
  app: App,
  state: AppState,
  request: HttpRequest,
  route: Route,
  visitor: Identity,
  clock: Clock,
): Answer {
  const rules = app.policy.impersonation;
  if (rules === null) throw new Error('a start of acting without rules for it');
  const [named = ''] = parametersOf(rules.start.pattern, segmentsOf(route.path)).values();
  const account = state.accounts.get(named);
  const isMeant = account !== undefined && account.name !== visitor.account && isActedFor(rules, account);
  // It is noted in a session, so that whoever shows a token alone cannot start it.
  const may = mayAct(rules, visitor.roles) && visitor.session >= 0;
  // Whom there is, nobody is told who may not act for them.
  if (!isMeant || !may) {
    const response = refuse(app, route, request, visitor, 'role');
    const explanation = explain(visitor.account, 'role', [...rules.at, may ? 'of' : 'by']);
    return { state, response, explanation };
  }
  const after = noted(app, state, visitor, { account: account.name, since: clock.now });
  const lands = landingEntry(app.policy, account)?.to ?? '/';
  const response = goOn(request, lands, after.setCookie);
  const explanation = { ...explain(account.name, 'served', rules.at), actedBy: visitor.account };
  return { state: after.state, response, explanation };
}

/** The endpoint at which somebody is themselves again. */
export function stopActing(app: App, state: AppState, request: HttpRequest, visitor: Identity): Answer {
  const rules = app.policy.impersonation;
  if (rules === null) throw new Error('an end of acting without rules for it');
  const self = state.accounts.get(visitor.actedBy ?? visitor.account ?? '');
  const after = noted(app, state, visitor, null);
  const lands = landingEntry(app.policy, self ?? visitor)?.to ?? '/';
  const explanation = explain(self?.name ?? null, 'served', rules.stop.at);
  return { state: after.state, response: goOn(request, lands, after.setCookie), explanation };
}

/** Notes whom a visitor acts for: in the session, under another id as at a login, or with the account. */
function noted(
  app: App,
  state: AppState,
  visitor: Identity,
  acting: Acting | null,
): { readonly state: AppState; readonly setCookie: readonly string[] } {
  if (app.policy.impersonation?.kept === 'session') {
    return renewId(app, state, visitor.session, { acting }, 'signed-out');
  }
  const all = new Map(state.acting);
  const self = visitor.actedBy ?? visitor.account ?? '';
  if (acting === null) all.delete(self);
  else all.set(self, acting);
  return { state: changed(state, { acting: all }), setCookie: [] };
}
