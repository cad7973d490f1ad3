import { sentPath } from '../app/endpoints.js';
import { admit } from '../app/admit.js';
import { flagsAtFirst, type App } from '../app/app.js';
import { barrierBefore } from '../app/barriers.js';
import { GUEST, type Identity } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import type { Route } from '../app/router.js';
import { isShell } from '../app/decision/audience.js';
import { decide as decidedFor } from '../app/decision/decide.js';
import type { Question } from '../app/decision/gate.js';
import { hostOf } from '../http/address.js';
import { SOME_CLIENT } from '../http/client-address.js';
import type { Method } from '../http/messages.js';
import { rolesHeld } from '../language/people-reader.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Stage } from '../play/stage.js';
import { FixedClock, instantOf } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';

/** Somebody as a server knows them. */
export interface Visitor {
  readonly account: string;
  /** The roles that they were given; those that these include come with them. */
  readonly roles: readonly string[];
  /** What else is known of them; a fact may have several values. */
  readonly facts: Readonly<Record<string, string | readonly string[]>>;
  /** Whether a one-time code was given in this session. */
  readonly secondFactor: boolean;
  /** How long ago they logged in; null where that was by a cookie that remembers them. */
  readonly loggedInFor: Seconds | null;
  /** How long ago the account was made; null where that is so long that nothing asks for it. */
  readonly joinedFor: Seconds | null;
  /** The switches of the app that are on. */
  readonly flags: readonly string[];
  /** Who acts for that account; left out, or null, where they are themselves. */
  readonly actedBy?: string | null;
}

/** One request of a server. */
export interface AskedRequest {
  readonly method: Method;
  /** A path, perhaps with a query. */
  readonly address: string;
  /** The host without port; left out: that of the policy's origin. */
  readonly host?: string;
  /** The network address that it comes from; left out: one that no rule asks about. */
  readonly client?: string;
}

/** Whether somebody may have what they ask for, and what decides. */
export interface Decision {
  /** `served` where they may. */
  readonly reason: Reason;
  /** The place of the policy that decides; null where nothing of it was asked. */
  readonly decidedBy: Path | null;
}

/** Decides one request by barriers, pages and rules alone: no session, token or cookie takes part, nor the scheme or a slash at the end. */
export function decide(stage: Stage, request: AskedRequest, visitor: Visitor | null): Decision {
  const { app, client: browser } = stage;
  const { host = hostOf(app.policy.origin), client = SOME_CLIENT } = request;
  const route = app.router.find(request.method, sentPath(request.address), host, client);
  if (route === null) return { reason: 'unsafe-path', decidedBy: null };
  const question = questionOf(app, { ...route, hasSlash: false }, request.method, identityOf(stage, visitor));
  const { by, reason, at } = decidedFor(question);
  // The shell of a page is given to anybody; script that knows people shows it to those whom the page is for.
  const byScript = by === 'page' && isShell(question) && browser.tokens !== null;
  return { reason: byScript ? question.admitted() : reason, decidedBy: at };
}

function questionOf(app: App, route: Route, method: Method, visitor: Identity): Question {
  const clock = new FixedClock(NOW);
  return {
    app,
    route,
    method,
    visitor,
    clock,
    stoppedBy: () => barrierBefore(app, route, visitor, clock),
    admitted: () => admit(route.grounds.audience, visitor, route.parameters, clock),
    isSecure: () => true,
    isForeign: () => false,
    openForm: () => null,
  };
}

/** Far enough from the start that any login lies between. */
const NOW = 1_000_000_000;

function identityOf({ app: { policy } }: Stage, visitor: Visitor | null): Identity {
  if (visitor === null) return { ...GUEST, flags: flagsAtFirst(policy) };
  const { actedBy = null } = visitor;
  const { account, roles, facts, secondFactor, loggedInFor, joinedFor, flags } = visitor;
  return {
    ...GUEST,
    account,
    actedBy,
    roles: rolesHeld(roles, policy.roles),
    facts: new Map(
      Object.entries(facts).map(([name, value]) => [name, typeof value === 'string' ? [value] : value]),
    ),
    secondFactor,
    since: loggedInFor === null ? null : instantOf(NOW - loggedInFor),
    joinedAt: joinedFor === null ? null : instantOf(NOW - joinedFor),
    flags: new Set(flags),
    reason: 'served',
  };
}
