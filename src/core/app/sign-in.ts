import type { Clock } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import type { Account, Login } from '../language/policy.js';
import type { Answer } from './answer.js';
import type { App, AppState } from './app.js';
import { askForCode } from './second-factor.js';
import { letIn, type Entrant } from './way-in.js';

/** Lets somebody in who gave no password here: by a link or by the word of a provider, with the code where they owe one and that does not count as it. */
export function signIn(
  app: App,
  state: AppState,
  request: HttpRequest,
  {
    account,
    code,
    by,
    asked = null,
  }: {
    readonly account: Account;
    readonly code: 'asked' | 'given';
    readonly by: Login;
    /** The address that was asked for first. */
    readonly asked?: string | null;
  },
  clock: Clock,
): Answer {
  const entrant: Entrant = {
    by,
    account,
    asRole: null,
    secondFactor: false,
    asked,
    lands: null,
    remember: false,
  };
  const owes = account.secondFactor && code === 'asked' && app.policy.secondFactor?.asked === 'at-login';
  return owes ? askForCode(app, state, request, entrant, clock) : letIn(app, state, request, entrant, clock);
}
