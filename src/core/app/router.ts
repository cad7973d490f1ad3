import { isSafe, type Method } from '../http/messages.js';
import type { Audience, Endpoint, Kind, Operation, Page, Policy, Rule } from '../language/policy.js';
import type { Path } from '../language/yaml-text.js';
import { normalisePath } from '../paths/normalise.js';
import { PageIndex } from '../paths/page-index.js';
import { matches, parametersOf, segmentsOf } from '../paths/pattern.js';

/** An audience and the place of the policy that gives it the word. */
export interface Grounds {
  readonly audience: Audience;
  readonly at: Path;
  readonly by: 'page' | 'rule' | 'otherwise' | 'endpoint';
}

/** What the app does itself at an address. */
export type Task = 'login' | 'logout' | 'refresh';

/** All that the policy says of one address. */
export interface Route {
  /** The normalised path. */
  readonly path: string;
  readonly page: Page | null;
  /** The first rule that matches. */
  readonly rule: Rule | null;
  readonly kind: Kind;
  readonly parameters: ReadonlyMap<string, string>;
  readonly read: Grounds;
  readonly write: Grounds;
  readonly tasks: readonly { readonly task: Task; readonly method: Method; readonly grounds: Grounds }[];
}

/** Addresses that are remembered once looked up; more than this are looked up anew. */
const MOST_REMEMBERED = 10_000;
const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();

/** Finds what a policy says of an address. */
export class Router {
  private readonly pages = new PageIndex<Page>();
  private readonly endpoints: readonly { readonly task: Task; readonly endpoint: Endpoint }[];
  private readonly remembered = new Map<string, Route | null>();

  constructor(private readonly policy: Policy) {
    for (const page of policy.pages) this.pages.add(page.pattern, page);
    const { login, logout, tokens } = policy;
    this.endpoints = [
      ...(login ? [{ task: 'login' as const, endpoint: login.submit }] : []),
      ...(logout?.submits ?? []).map((endpoint) => ({ task: 'logout' as const, endpoint })),
      ...(tokens ? [{ task: 'refresh' as const, endpoint: tokens.submit }] : []),
    ];
  }

  /** The route of a path as it was sent; null where the path cannot be normalised safely. */
  find(path: string): Route | null {
    const known = this.remembered.get(path);
    if (known !== undefined) return known;
    const route = this.lookUp(path);
    if (this.remembered.size >= MOST_REMEMBERED) this.remembered.clear();
    this.remembered.set(path, route);
    return route;
  }

  private lookUp(raw: string): Route | null {
    const path = normalisePath(raw);
    if (path === null) return null;
    const segments = segmentsOf(path);
    const page = this.pages.find(segments);
    const rule =
      this.policy.rules.find((each) => each.patterns.some((pattern) => matches(pattern, segments))) ?? null;
    const endpoints = this.endpoints.filter(({ endpoint }) => pathOf(endpoint.path) === path);
    const read = this.grounds(page, rule, 'read');
    const write = this.grounds(page, rule, 'write');
    const tasks = endpoints.map(({ task, endpoint }) => {
      const own = isSafe(endpoint.method) ? read : write;
      const stated = page !== null || own.by === 'rule';
      return {
        task,
        method: endpoint.method,
        grounds: this.taskGrounds(task, endpoint, stated ? own : null),
      };
    });
    // An address that is only an endpoint is as open to other methods as to its own, so that they get a 405.
    const bare = page === null && rule === null ? tasks[0]?.grounds : undefined;
    const pattern = page?.pattern ?? rule?.patterns.find((each) => matches(each, segments));
    return {
      path,
      page,
      rule,
      kind: page?.kind ?? rule?.kind ?? 'page',
      parameters: pattern ? parametersOf(pattern, segments) : NO_PARAMETERS,
      read: bare ?? read,
      write: bare ?? write,
      tasks,
    };
  }

  private grounds(page: Page | null, rule: Rule | null, operation: Operation): Grounds {
    const ofPage = page?.audiences[operation];
    if (ofPage) return { ...ofPage, by: 'page' };
    const ofRule = rule?.audiences[operation];
    if (ofRule) return { ...ofRule, by: 'rule' };
    return { audience: this.policy.otherwise, at: ['otherwise'], by: 'otherwise' };
  }

  /**
   * Sending the login form is for those whom the login page is for. Logging out and refreshing are for everyone unless a
   * page or a rule says otherwise: both show what they need in the request itself.
   */
  private taskGrounds(task: Task, endpoint: Endpoint, own: Grounds | null): Grounds {
    const open: Grounds = { audience: { who: 'everyone' }, at: endpoint.at, by: 'endpoint' };
    if (task !== 'login') return own ?? open;
    const page = segmentsOf(pathOf(this.policy.login?.page ?? '/'));
    const found = this.pages.find(page);
    const rule =
      this.policy.rules.find((each) => each.patterns.some((pattern) => matches(pattern, page))) ?? null;
    return this.grounds(found, rule, isSafe(endpoint.method) ? 'read' : 'write');
  }
}

/** The normalised path of an address that the policy itself names. */
export function pathOf(address: string): string {
  const [path = '/'] = address.split('?', 1);
  return normalisePath(path) ?? path;
}
