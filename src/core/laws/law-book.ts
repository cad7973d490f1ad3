import { admit } from '../app/admit.js';
import { GUEST } from '../app/identify.js';
import { pathOf, type Route } from '../app/router.js';
import { FixedClock } from '../clock.js';
import type { Method } from '../http/messages.js';
import type { Credential, Page, PolicyPromise } from '../language/policy.js';
import type { Seconds } from '../language/duration.js';
import { matches, segmentsOf } from '../paths/pattern.js';
import type { Stage } from '../walks/stage.js';

/** What several laws ask about a policy, worked out once. */
export class LawBook {
  /** The pages that load an address, by method and normalised path. */
  private readonly loaders = new Map<string, Page[]>();
  private readonly loadersByRoute = new WeakMap<Route, readonly Page[]>();
  /** Whether a guest can see the login form. */
  readonly guestsCanLogIn: boolean;
  /** Whether any menu link is shown by an audience of its own. */
  readonly menuHasOwnAudiences: boolean;
  /** What the policy says of the first way to log out; null for none. */
  readonly wayOut: Route | null;
  /** The pages of which showing or sending is for guests. */
  readonly guestPages: ReadonlySet<Page>;
  private readonly promised = new Map<string, readonly PolicyPromise[]>();

  constructor(readonly stage: Stage) {
    const { policy, router } = stage.app;
    for (const page of policy.pages) {
      for (const { method, path } of page.loads) {
        const key = `${method} ${pathOf(path)}`;
        this.loaders.set(key, [...(this.loaders.get(key) ?? []), page]);
      }
    }
    const page = policy.login?.page;
    const route = page === undefined ? null : router.find('GET', pathOf(page));
    this.guestsCanLogIn =
      route?.page !== null &&
      route !== null &&
      admit(route.grounds.audience, GUEST, route.parameters, new FixedClock(0)) === 'served';
    this.guestPages = new Set(
      policy.pages.filter(({ audiences: { read, write } }) =>
        [read, write].some((stated) => stated?.audience.who === 'guests'),
      ),
    );
    const [submit] = policy.logout?.submits ?? [];
    this.wayOut = submit === undefined ? null : router.find(submit.method, pathOf(submit.path));
    this.menuHasOwnAudiences = policy.menu.some((link) => link.audience !== null);
  }

  /** The pages that show what a request to an address brings. */
  loadersOf(method: Method, route: Route): readonly Page[] {
    if (this.loaders.size === 0) return NO_PAGES;
    // Routes are remembered by method, so each is looked up once.
    let known = this.loadersByRoute.get(route);
    if (known === undefined) {
      known = this.loaders.get(`${method} ${route.path}`) ?? NO_PAGES;
      this.loadersByRoute.set(route, known);
    }
    return known;
  }

  /** The promises that only some roles reach an address. */
  promisesFor(path: string): readonly PolicyPromise[] {
    let known = this.promised.get(path);
    if (known === undefined) {
      const segments = segmentsOf(path);
      known = this.stage.app.policy.promises.filter(({ reach }) =>
        reach.some((pattern) => matches(pattern, segments)),
      );
      if (this.promised.size >= MOST_REMEMBERED) this.promised.clear();
      this.promised.set(path, known);
    }
    return known;
  }

  /** How long a copy of a credential may still work after something; null where nothing is promised. */
  copyWorksAtMost(after: PolicyPromise['after'], copied: Credential): Seconds | null {
    const found = this.stage.app.policy.promises.find(
      (promise) => promise.after === after && promise.copied === copied,
    );
    return found?.atMost ?? null;
  }

  /** How long somebody may still see what is not for them any more; null where nothing is promised. */
  accessLastsAtMost(after: PolicyPromise['after']): Seconds | null {
    const found = this.stage.app.policy.promises.find(
      (promise) => promise.after === after && promise.copied === null && promise.only === null,
    );
    return found?.atMost ?? null;
  }
}

const MOST_REMEMBERED = 10_000;
const NO_PAGES: readonly Page[] = [];

const books = new WeakMap<Stage, LawBook>();

/** The law book of a policy at work. */
export function lawBookOf(stage: Stage): LawBook {
  let book = books.get(stage);
  if (book === undefined) books.set(stage, (book = new LawBook(stage)));
  return book;
}
