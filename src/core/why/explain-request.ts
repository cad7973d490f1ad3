import { sentPath } from '../app/endpoints.js';
import type { Reason } from '../app/reasons.js';
import { GUEST, type Identity } from '../app/identify.js';
import { admit } from '../app/admit.js';
import { barrierBefore } from '../app/barriers.js';
import { isNothingThere } from '../app/decision/audience.js';
import type { Path } from '../language/text/yaml-text.js';
import { inNetwork } from '../http/client-address.js';
import type { App } from '../app/app.js';
import { meets, type Circumstances } from '../app/rule-index.js';
import type { Grounds, Route } from '../app/router.js';
import { FixedClock } from '../time/clock.js';
import { askAs, type LoginState } from '../grid/login-state.js';
import { hostOf } from '../http/address.js';
import { lackingFacts, type LackingFact } from '../audience/facts.js';
import { isSafe, type Method } from '../http/messages.js';
import type { Barrier, Page, Part, Rule } from '../language/policy.js';
import type { Played, Stage } from '../play/stage.js';
import { outcomeOf, type Outcome } from '../steps/outcome.js';
import { knownToScript } from '../browser/script.js';
import { changesThatAdmit, type Change } from './changes.js';

/** Everything that decides what one request comes to. */
export interface Explained {
  readonly method: Method;
  readonly address: string;
  /** null where the path cannot be normalised safely: then nothing of the policy was asked. */
  readonly route: Route | null;
  readonly page: Page | null;
  /** Every rule that was looked at, in order, up to the first that matches. */
  readonly rules: readonly RuleLookedAt[];
  readonly visitor: Identity;
  /** The roles that the account was given, each with those it brings. */
  readonly given: readonly { readonly role: string; readonly brings: readonly string[] }[];
  /** Whether the visitor is in the audience, or why not. */
  readonly admitted: Reason;
  /** What it comes to, in the words of a walk: `served` where they get what they ask for. */
  readonly outcome: Outcome;
  /** The barrier that stops the visitor before anything else is asked; null for none. */
  readonly barrier: Barrier | null;
  /** The place of the impersonation rules that refuses it: to whoever acts for somebody, or to act for whom it names; null where none does. */
  readonly closedBy: Path | null;
  /** The facts that are asked for and that the visitor does not have. */
  readonly lacking: readonly LackingFact[];
  /** The parts of the page, and whether the visitor sees each; empty where they do not see the page. */
  readonly parts: readonly { readonly part: Part; readonly admitted: Reason }[];
  readonly grounds: Grounds | null;
  readonly played: Played;
  /** Whether there is nothing at the address, whoever asks. */
  readonly isMissing: boolean;
  /** The smallest changes of which each would admit the visitor; empty where they are admitted or nothing would. */
  readonly changes: readonly Change[];
}

export interface RuleLookedAt {
  readonly rule: Rule;
  readonly matches: boolean;
  /** Why it does not match; null where it does. */
  readonly because: string | null;
  /** Whether it bears on the request: it matches, or its path does and the request is not of its kind. */
  readonly isNear: boolean;
}

/** Explains one request of somebody in a login state. */
export function explainRequest(
  stage: Stage,
  who: LoginState,
  method: Method,
  address: string,
  client: string,
): Explained {
  const { app } = stage;
  const path = sentPath(address);
  const circumstances = { method, host: hostOf(app.policy.origin), client };
  const from = { ...who, browser: { ...who.browser, client } };
  const played = askAs(stage, from, method, address);
  const route = app.router.find(method, path, circumstances.host, client);
  const clock = new FixedClock(who.time);
  const visitor = visitorAt(stage, played, route, clock);
  const admitted =
    route === null ? 'unsafe-path' : admit(route.grounds.audience, visitor, route.parameters, clock);
  const barrier = route === null ? null : barrierBefore(app, route, visitor, clock);
  const isMissing = route !== null && isNothingThere(route);
  const account = who.state.accounts.get(visitor.account ?? who.account ?? '');
  return {
    method,
    address,
    route,
    page: route?.page ?? null,
    rules: route === null ? [] : rulesLookedAt(app, route, path, circumstances),
    visitor,
    given: (account?.given ?? []).map((role) => ({
      role,
      brings: [...(app.policy.roles.get(role)?.holds ?? [])].filter((name) => name !== role),
    })),
    admitted,
    barrier,
    closedBy: closedBy(played),
    lacking:
      route?.grounds.audience.who === 'some' && admitted === 'role'
        ? lackingFacts(route.grounds.audience.facts, visitor.facts, route.parameters)
        : [],
    parts: (admitted === 'served' && barrier === null && isSafe(method)
      ? (route?.page?.parts ?? [])
      : []
    ).map((part) => ({
      part,
      admitted: admit(part.audience.audience, visitor, route?.parameters ?? NO_PARAMETERS, clock),
    })),
    grounds: route?.grounds ?? null,
    outcome: outcomeOf(stage, played, clock),
    played,
    isMissing,
    // Where there is nothing, or not by that method, no change of the visitor helps.
    changes:
      route === null || admitted === 'served' || isMissing || !(route.isAnswered || method === 'OPTIONS')
        ? []
        : changesThatAdmit(app.policy, route, visitor, who),
  };
}

/**
 * Whom the request that asked for the address itself showed; of a page that is given to anybody and guarded by script, whom script
 * takes the visitor for.
 */
function visitorAt(
  { client }: Stage,
  { exchanges, browser, state }: Played,
  route: Route | null,
  clock: FixedClock,
): Identity {
  const asked = exchanges.find(({ purpose }) => purpose !== 'refresh');
  const isShell = asked?.purpose === 'navigate' && asked.response.body.kind === 'page';
  // Without tokens script knows nobody, and guards nothing.
  const guards = client.tokens !== null && route?.guard === 'browser';
  if (guards && isShell && asked.response.body.guard !== null) {
    return { ...knownToScript(client, browser, clock), flags: state.flags };
  }
  return asked?.visitor ?? GUEST;
}

function closedBy({ exchanges }: Played): Path | null {
  const [first] = exchanges;
  const isRefused = first !== undefined && first.explanation.reason !== 'served';
  return isRefused && first.explanation.decidedBy[0] === 'impersonation' ? first.explanation.decidedBy : null;
}

const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();

function rulesLookedAt(
  { policy, router }: App,
  route: Route,
  sent: string,
  request: Circumstances,
): RuleLookedAt[] {
  const seen = policy.routing.expressions === 'as-sent' ? sent : route.path;
  const covers = ({ patterns, expression }: Rule) =>
    expression === null
      ? patterns.some((pattern) => router.covers(pattern, route.path))
      : expression.language.has(seen);
  const looked: RuleLookedAt[] = [];
  for (const rule of policy.rules) {
    const isNear = covers(rule);
    const because = isNear ? unmet(rule, request) : uncovered(rule, expressionSees(rule, seen, route.path));
    looked.push({ rule, matches: because === null, because, isNear });
    if (because === null) break;
  }
  return looked;
}

function expressionSees({ expression }: Rule, seen: string, path: string): string {
  return expression === null ? path : seen;
}

function uncovered({ patterns, expression }: Rule, path: string): string {
  return expression === null
    ? `${patterns.map((pattern) => pattern.text).join(', ')} does not cover ${path}`
    : `${expression.source} finds nothing in ${path}`;
}

/** What a rule that covers a path asks of a request besides, and does not find; null where it matches. */
function unmet({ conditions }: Rule, request: Circumstances): string | null {
  if (meets(conditions, request)) return null;
  const { methods, hosts, from } = conditions;
  if (methods !== null && !methods.includes(request.method)) return `it is for ${methods.join(', ')} only`;
  if (hosts !== null && !hosts.includes(request.host)) return `it is for the host ${hosts.join(', ')} only`;
  const networks = (from ?? []).filter((network) => !inNetwork(network, request.client));
  return `it is for requests from ${networks.map((network) => network.text).join(', ')} only`;
}
