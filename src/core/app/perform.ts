import type { IdentityProvider } from '../language/policy.js';
import { startActing, stopActing } from './act-for.js';
import type { Answer } from './answer.js';
import type { App } from './app.js';
import type { Asking } from './asking.js';
import { askLink, openLink } from './link-login.js';
import { login } from './login.js';
import { logout } from './logout.js';
import { askReset, changePassword, reset } from './passwords.js';
import { backFromProvider, startAtProvider } from './provider-login.js';
import { pathOf } from './endpoints.js';
import type { Route } from './router.js';
import { takeCode } from './second-factor.js';
import { confirm, signUp } from './sign-up.js';
import { refresh, revoke } from './tokens.js';

/** Does what the app does itself at an address, for a visitor who is in its audience. */
export function perform({ app, state, request, route, visitor, clock }: Asking): Answer {
  const isApi = route.kind === 'api';
  const { task } = route;
  switch (task) {
    case null:
      throw new Error('nothing is done there');
    case 'login':
      if (route.login === null) throw new Error('a login endpoint without its login');
      return login(app, route.login, state, request, isApi, clock);
    case 'logout':
      return logout(app, state, request, isApi, visitor);
    case 'refresh':
      return refresh(app, state, request, route.grounds, clock);
    case 'revoke':
      return revoke(app, state, request, route.grounds);
    case 'sign-up':
      return signUp(app, state, request, clock);
    case 'confirm':
      return confirm(app, state, request, route.parameters, clock);
    case 'code':
      return takeCode(app, state, request, visitor, clock);
    case 'change-password':
      return changePassword(app, state, request, visitor, clock);
    case 'ask-reset':
      return askReset(app, state, request, clock);
    case 'reset':
      return reset(app, state, request, route, visitor, clock);
    case 'ask-link':
      return askLink(app, state, request, clock);
    case 'open-link':
      return openLink(app, state, request, route.parameters, clock);
    case 'provider-start':
      return startAtProvider(app, state, request, providerOf(app, route));
    case 'provider-back':
      return backFromProvider(app, state, request, providerOf(app, route), clock);
    case 'act-for':
      return startActing(app, state, request, route, visitor, clock);
    case 'stop-acting':
      return stopActing(app, state, request, visitor);
  }
}

/** The identity provider to which, or from which, an endpoint leads. */
function providerOf({ policy }: App, { grounds, task, path }: Route): IdentityProvider {
  const found = policy.providers.find(
    ({ start, back }) => pathOf((task === 'provider-start' ? start : back).path) === path,
  );
  if (found === undefined) throw new Error(`no identity provider at ${grounds.at.join('.')}`);
  return found;
}
