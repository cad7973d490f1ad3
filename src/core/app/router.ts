import { SOME_CLIENT } from '../http/client-address.js';
import { hostOf } from '../http/address.js';
import { isSafe, METHODS, type Method } from '../http/messages.js';
import type { BackButton, Kind, Login, Page, Policy, Rule, StatedAudience } from '../language/policy.js';
import { endpointsOf, pathOf, type AppEndpoint } from './endpoints.js';
import { linkParameters } from './link-rules.js';
import type { Task } from './tasks.js';
import type { Refusals } from '../vocabulary/refusal.js';
import { hasBrokenEscape, normalisePath } from '../paths/normalise.js';
import { PageIndex } from '../paths/page-index.js';
import { folded, foldedSegments } from '../paths/letter-case.js';
import { matches, parametersOf, segmentsOf, type Pattern } from '../paths/pattern.js';
import { isConditional, meets, RuleIndex, type Circumstances } from './rule-index.js';

/** An audience and the place of the policy that gives it the word. */
export interface Grounds extends StatedAudience {
  readonly by: 'page' | 'rule' | 'otherwise' | 'endpoint';
}

/** All that the policy says of a request to one address. */
export interface Route {
  /** The path as the app reads it. */
  readonly path: string;
  /** The same as the policy spells it, where letters count the same in either case. */
  readonly spelled: string;
  /** Whether it was sent with a slash at its end by which the app sends people on to the address without. */
  readonly hasSlash: boolean;
  readonly page: Page | null;
  /** Whether the page, or an endpoint, answers the method. */
  readonly isAnswered: boolean;
  /** The first rule that matches. */
  readonly rule: Rule | null;
  readonly kind: Kind;
  /** Who keeps people out of its page. */
  readonly guard: 'server' | 'browser';
  /** What page or rule say of being kept for the back button; null for nothing. */
  readonly cache: BackButton | null;
  /** What those get who are refused. */
  readonly refusals: Refusals;
  readonly parameters: ReadonlyMap<string, string>;
  readonly grounds: Grounds;
  /** What the app does itself for this method. */
  readonly task: Task | null;
  /** The login whose page it is, or whose form is sent there by this method; null for none. */
  readonly login: Login | null;
  /** The methods of all that it does at this address. */
  readonly taskMethods: readonly Method[];
}

/** What a policy says of a path before anything else of the request is known. */
interface Place {
  readonly path: string;
  readonly spelled: string;
  readonly segments: readonly string[];
  readonly page: Page | null;
  readonly rules: readonly Rule[];
  readonly conditional: boolean;
  readonly hasSlash: boolean;
  readonly endpoints: readonly AppEndpoint[];
}

/** Addresses that are remembered once looked up; more than this, and very long ones, are looked up anew. */
const MOST_REMEMBERED = 20_000;
const LONGEST_REMEMBERED = 500;
const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();
const NO_ENDPOINTS: readonly AppEndpoint[] = [];

/** Finds what a policy says of an address. */
export class Router {
  private readonly pages = new PageIndex<Page>();
  private readonly rules: RuleIndex;
  private readonly endpoints = new PageIndex<AppEndpoint[]>();
  private readonly places = new Map<string, Place | null>();
  private readonly routes = new Map<Method, Map<string, Route | null>>();
  /** The logins by the normalised paths of their pages; of two at one page the first. */
  private readonly loginPages: ReadonlyMap<string, Login>;
  private readonly host: string;
  /** Whether letters count the same in either case. */
  private readonly folds: boolean;

  constructor(private readonly policy: Policy) {
    this.folds = policy.routing.letterCase === 'ignored';
    for (const page of policy.pages) this.pages.add(this.folded(page.pattern), page);
    this.rules = new RuleIndex(policy.rules, (pattern) => this.folded(pattern));
    this.loginPages = new Map(policy.logins.toReversed().map((each) => [pathOf(each.page), each]));
    this.host = hostOf(policy.origin);
    for (const method of METHODS) this.routes.set(method, new Map());
    for (const endpoint of endpointsOf(policy)) this.addEndpoint(endpoint);
  }

  private addEndpoint(endpoint: AppEndpoint): void {
    const here = this.endpoints.add(this.folded(endpoint.pattern), [endpoint]);
    here?.push(endpoint);
  }

  /**
   * The route of a path as it was sent; null where the path cannot be normalised safely. Host and client are those of an
   * ordinary visitor unless given.
   */
  find(method: Method, path: string, host = this.host, client = SOME_CLIENT): Route | null {
    const remembered = this.routes.get(method);
    const known = remembered?.get(path);
    if (known !== undefined && (host === this.host || known === null) && client === SOME_CLIENT) return known;
    const place = this.place(path);
    if (place === null) return null;
    const usual = !place.conditional || (host === this.host && client === SOME_CLIENT);
    const route = (usual ? remembered?.get(path) : null) ?? this.routeOf(place, { method, host, client });
    if (usual) remember(remembered, path, route);
    return route;
  }

  /** Every rule whose path matches a path as it was sent, in order, whatever else it asks for. */
  candidates(path: string): readonly Rule[] {
    return this.place(path)?.rules ?? [];
  }

  /** Whether a pattern covers a path as the app reads it. */
  covers(pattern: Pattern, path: string): boolean {
    return matches(this.folded(pattern), this.compared(segmentsOf(path)));
  }

  /** A pattern as paths are compared with it: in small letters, where letters count the same in either case. */
  folded(pattern: Pattern): Pattern {
    return folded(pattern, this.policy.routing);
  }

  private compared(segments: readonly string[]): readonly string[] {
    return foldedSegments(segments, this.policy.routing);
  }

  private place(raw: string): Place | null {
    const known = this.places.get(raw);
    if (known !== undefined) return known;
    const { routing } = this.policy;
    const read = normalisePath(raw, routing);
    let place: Place | null = null;
    const sent = read === null ? [] : segmentsOf(read);
    const compared = this.compared(sent);
    const page = read === null ? null : this.pages.find(compared);
    // What stands for a parameter is decoded even so, as it is handed to the page.
    if (read !== null && !(page !== null && hasBrokenEscape(read))) {
      const segments = page === null || !this.folds ? sent : spelledAs(page.pattern, sent);
      const spelled = segments === sent ? read : `/${segments.join('/')}`;
      const rules = this.rules.matching(routing.expressions === 'as-sent' ? raw : read, compared);
      const conditional = rules.some((rule) => isConditional(rule.conditions));
      const endpoints = this.endpoints.find(compared) ?? NO_ENDPOINTS;
      const slash = routing.trailingSlash === 'redirected' && read !== '/' && raw.endsWith('/');
      place = {
        path: read,
        spelled,
        segments,
        page,
        rules,
        conditional,
        endpoints,
        hasSlash: slash,
      };
    }
    remember(this.places, raw, place);
    return place;
  }

  private routeOf(place: Place, request: Circumstances): Route {
    const { path, page, endpoints } = place;
    const rule = place.rules.find((each) => meets(each.conditions, request)) ?? null;
    const endpoint = endpoints.find((each) => each.method === request.method) ?? null;
    const isAnswered = endpoint !== null || (page !== null && answers(page, request.method));
    const kind = page?.kind ?? rule?.kind ?? 'page';
    // Routers look for the method before they ask anything of the page: what it does not answer is as good as not there.
    const grounds = this.groundsOf(isAnswered ? page : null, rule, request.method, endpoint, endpoints[0]);
    return {
      path,
      spelled: place.spelled,
      hasSlash: place.hasSlash,
      page,
      rule,
      kind,
      guard: page?.guard ?? rule?.guard ?? 'server',
      cache: page?.cache ?? rule?.cache ?? null,
      refusals: this.refusalsOf(kind, page, rule),
      parameters: this.parametersAt(place, rule, grounds),
      isAnswered,
      grounds,
      task: endpoint?.task ?? null,
      login: endpoint === null ? (this.loginPages.get(place.spelled) ?? null) : endpoint.login,
      taskMethods: endpoints.map((each) => each.method),
    };
  }

  /** What the parameters of a path stand for: those of its page and of its rule, of two of one name that of whose audience counts. */
  private parametersAt(
    { page, path, segments }: Place,
    rule: Rule | null,
    { by }: Grounds,
  ): ReadonlyMap<string, string> {
    const covering = rule?.patterns.find((each) => hasNames(each) && this.covers(each, path));
    if (page === null && covering === undefined) return linkParameters(this.policy, path);
    const ofPage = page === null ? NO_PARAMETERS : parametersOf(page.pattern, segments);
    if (covering === undefined) return ofPage;
    const ofRule = parametersOf(covering, segments);
    return by === 'rule' ? new Map([...ofPage, ...ofRule]) : new Map([...ofRule, ...ofPage]);
  }

  private refusalsOf(kind: Kind, page: Page | null, rule: Rule | null): Refusals {
    const usual = this.policy.refusals[kind];
    const [ofRule, ofPage] = [rule?.refusals?.[kind], page?.refusals?.[kind]];
    return ofRule === undefined && ofPage === undefined ? usual : { ...usual, ...ofRule, ...ofPage };
  }

  private groundsOf(
    page: Page | null,
    rule: Rule | null,
    method: Method,
    endpoint: AppEndpoint | null,
    first: AppEndpoint | undefined,
  ): Grounds {
    if (endpoint !== null) return this.endpointGrounds(endpoint, page, rule);
    // An address that is only an endpoint is as open to other methods as to its own, so that they get a 405.
    if (page === null && rule === null && first !== undefined) {
      return this.endpointGrounds(first, page, rule);
    }
    return this.stated(page, rule, method) ?? this.otherwise();
  }

  private stated(page: Page | null, rule: Rule | null, method: Method): Grounds | null {
    const operation = isSafe(method) ? 'read' : 'write';
    const ofPage = page?.audiences.methods.get(method) ?? page?.audiences[operation];
    if (ofPage) return { ...ofPage, by: 'page' };
    const ofRule = rule?.audiences[operation];
    return ofRule ? { ...ofRule, by: 'rule' } : null;
  }

  private otherwise(): Grounds {
    return { audience: this.policy.otherwise, at: ['otherwise'], by: 'otherwise' };
  }

  /**
   * Sending a form is for those whom its page is for. Logging out and refreshing are for everyone, and confirming for
   * guests, unless a page or a rule says otherwise: they show what they need in the request itself.
   */
  private endpointGrounds(endpoint: AppEndpoint, page: Page | null, rule: Rule | null): Grounds {
    const { task, at, method, audience } = endpoint;
    // Whoever acts for somebody is judged by what these may do, and gets out of it all the same.
    if (task === 'stop-acting') return { audience, at, by: 'endpoint' };
    if (endpoint.page !== null) {
      const place = this.place(pathOf(endpoint.page));
      const ruleOfPage =
        place?.rules.find((each) =>
          meets(each.conditions, { method, host: this.host, client: SOME_CLIENT }),
        ) ?? null;
      return this.stated(place?.page ?? null, ruleOfPage, method) ?? this.otherwise();
    }
    const own = this.stated(page, rule, method) ?? (page === null ? null : this.otherwise());
    return own ?? { audience, at, by: 'endpoint' };
  }
}

function hasNames({ segments }: Pattern): boolean {
  return segments.some(({ kind }) => kind === 'name');
}

/** Whether a page answers a method: HEAD as GET, and OPTIONS always. */
function answers({ answers: named }: Page, method: Method): boolean {
  return named === null || method === 'OPTIONS' || named.includes(method === 'HEAD' ? 'GET' : method);
}

/** The segments of a path, with those that a pattern spells out in its spelling. */
function spelledAs({ segments }: Pattern, sent: readonly string[]): readonly string[] {
  return sent.map((segment, at) => {
    const own = segments[at];
    return own?.kind === 'literal' ? own.text : segment;
  });
}

function remember<T>(remembered: Map<string, T> | undefined, path: string, value: T): void {
  if (remembered === undefined || path.length > LONGEST_REMEMBERED) return;
  if (remembered.size >= MOST_REMEMBERED) remembered.clear();
  remembered.set(path, value);
}
