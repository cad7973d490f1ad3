import { changed, handle, indexOf, type AppState } from '../app/app.js';
import { explain, redirect, refuseWith } from '../app/answer.js';
import { GUEST } from '../app/identify.js';
import { clearedIn, handedOutIn, shownIn } from '../app/own-cookies.js';
import type { Decided } from '../app/respond-to.js';
import type { Reason } from '../app/reasons.js';
import { parameterOf, withParameter } from '../http/address.js';
import type { CookieRules } from '../http/cookies.js';
import { EMPTY_PAGE, isSafe, respond, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { IdentityProvider, Policy } from '../language/policy.js';
import type { Clock } from '../time/clock.js';
import { PROVIDER_PATHS } from '../vocabulary/provider-paths.js';

/** The cookie by which a provider knows a browser. */
export const PROVIDER_COOKIE: Omit<CookieRules, 'life'> = {
  name: 'provider-session',
  others: [],
  path: '/',
  domain: null,
  secure: true,
  httpOnly: true,
  sameSite: 'lax',
};

/** The provider whose own origin a request goes to; undefined for a request to the app. */
export function providerAt({ providers }: Policy, origin: string): IdentityProvider | undefined {
  return providers.length === 0 ? undefined : providers.find(({ issuer }) => issuer === origin);
}

/**
 * The provider half: answers one request to an identity provider. Pure as the app half is: who is known there, and the codes that it
 * gave, are part of the same state.
 */
export function respondAsProvider(
  policy: Policy,
  provider: IdentityProvider,
  state: AppState,
  request: HttpRequest,
  clock: Clock,
): Decided {
  const end = (after: AppState, response: HttpResponse, reason: Reason = 'served'): Decided => ({
    state: after,
    response,
    explanation: explain(null, reason, provider.at),
    visitor: GUEST,
    route: null,
  });
  switch (request.path) {
    case PROVIDER_PATHS.authorize: {
      const asked = indexOf('asked', parameterOf(request.query, 'state') ?? '');
      const known = knownPerson(provider, state, request, clock);
      if (known === null || provider.asksAgain) return end(state, loginPage());
      return givingCode(policy, provider, state, { person: known, asked }, request, end);
    }
    case PROVIDER_PATHS.login: {
      const person = request.form.get('person') ?? '';
      if (isSafe(request.method) || person === '') return end(state, loginPage());
      const asked = indexOf('asked', request.form.get('state') ?? '');
      const started = changed(state, {
        providerSessions: [
          ...state.providerSessions,
          { provider: provider.name, person, startedAt: clock.now, ended: false },
        ],
      });
      const cookie = handedOutIn(
        PROVIDER_COOKIE,
        handle('provider', state.providerSessions.length),
        provider.session,
      );
      return givingCode(policy, provider, started, { person, asked }, request, end, cookie);
    }
    case PROVIDER_PATHS.endSession: {
      const index = indexOf('provider', shownIn(request.cookie, PROVIDER_COOKIE) ?? '');
      const record = state.providerSessions[index];
      const after =
        record === undefined
          ? state
          : changed(state, {
              providerSessions: state.providerSessions.with(index, { ...record, ended: true }),
            });
      const back = parameterOf(request.query, 'post_logout_redirect_uri');
      const setCookie = record === undefined ? [] : clearedIn(PROVIDER_COOKIE);
      return end(
        after,
        back === null
          ? respond(200, { body: EMPTY_PAGE, setCookie, noStore: true })
          : redirect(request.method, back, setCookie),
      );
    }
    default:
      return end(state, refuseWith(404, request), 'unknown-page');
  }
}

function loginPage(): HttpResponse {
  return respond(200, { body: EMPTY_PAGE, noStore: true });
}

/** Whom a provider knows a browser as; null for nobody. */
export function knownPerson(
  provider: IdentityProvider,
  { providerSessions }: AppState,
  { cookie }: Pick<HttpRequest, 'cookie'>,
  clock: Clock,
): string | null {
  const record = providerSessions[indexOf('provider', shownIn(cookie, PROVIDER_COOKIE) ?? '')];
  if (record?.provider !== provider.name || record.ended) return null;
  const isOver = provider.session !== null && clock.elapsed(record.startedAt, provider.session);
  return isOver ? null : record.person;
}

/** Sends somebody back with a code for whom the provider takes them (RFC 6749 §4.1.2). */
function givingCode(
  policy: Policy,
  provider: IdentityProvider,
  state: AppState,
  { person, asked }: { readonly person: string; readonly asked: number },
  request: HttpRequest,
  end: (after: AppState, response: HttpResponse) => Decided,
  setCookie: readonly string[] = [],
): Decided {
  const { state: after, address } = withCode(policy, provider, state, person, asked);
  return end(after, redirect(request.method, address, setCookie));
}

/** A state in which a provider has given a code, and the address of the app at which it is shown. */
export function withCode(
  policy: Policy,
  provider: IdentityProvider,
  state: AppState,
  person: string,
  asked: number,
): { readonly state: AppState; readonly address: string } {
  const codes = [...state.codes, { provider: provider.name, person, asked, used: false }];
  const back = withParameter(
    `${policy.origin}${provider.back.path}`,
    'code',
    handle('code', codes.length - 1),
  );
  const address = provider.state === 'absent' ? back : withParameter(back, 'state', handle('asked', asked));
  return { state: changed(state, { codes }), address };
}
