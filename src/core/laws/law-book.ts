import { admit } from '../app/admit.js';
import { GUEST } from '../app/identify.js';
import { pathOf } from '../app/endpoints.js';
import type { Route } from '../app/router.js';
import { FixedClock } from '../time/clock.js';
import type { Method } from '../http/messages.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Audience } from '../vocabulary/audience.js';
import type { Login, Page, PolicyPromise } from '../language/policy.js';
import { CREDENTIALS, type Credential } from '../vocabulary/credentials.js';
import { PROMISE_EVENTS, type PromiseEvent } from '../vocabulary/promise-events.js';
import type { Seconds } from '../time/duration.js';
import type { Stage } from '../play/stage.js';

/** A page whose script loads something, and whom the page is for. */
export interface Loader {
  readonly page: Page;
  readonly audience: Audience;
}

/** What several laws ask about a policy, worked out once. */
export class LawBook {
  /** The pages that load an address, by method and normalised path. */
  private readonly loaders = new Map<string, Loader[]>();
  private readonly loadersByRoute = new WeakMap<Route, readonly Loader[]>();
  /** The logins whose form a guest cannot see. */
  readonly closedLogins: readonly Login[];
  /** Whether any menu link is shown by an audience of its own. */
  readonly menuHasOwnAudiences: boolean;
  /** What the policy says of the first way to log out; null for none. */
  readonly wayOut: Route | null;
  /** The pages of which showing or sending is for guests. */
  readonly guestPages: ReadonlySet<Page>;
  private readonly promised = new Map<string, readonly PolicyPromise[]>();
  private readonly bounds = new Map<PromiseEvent, Map<Credential, Seconds | null>>();
  private readonly promisesOf: ReadonlyMap<PromiseEvent, readonly PolicyPromise[]>;

  constructor(readonly stage: Stage) {
    const { policy, router } = stage.app;
    for (const page of policy.pages) {
      const route =
        page.loads.length > 0
          ? router.find(
              'GET',
              sampleAddress(page.pattern, () => 'x'),
            )
          : null;
      if (route?.page !== page) continue;
      for (const { method, path } of page.loads) {
        const key = `${method} ${pathOf(path)}`;
        const loader = { page, audience: page.audiences.read?.audience ?? route.grounds.audience };
        this.loaders.set(key, [...(this.loaders.get(key) ?? []), loader]);
      }
    }
    this.closedLogins = policy.logins.filter((login) => {
      const route = router.find('GET', pathOf(login.page));
      if (route === null || route.page === null) return true;
      return admit(route.grounds.audience, GUEST, route.parameters, new FixedClock(0)) !== 'served';
    });
    this.guestPages = new Set(
      policy.pages.filter(({ audiences: { read, write } }) =>
        [read, write].some((stated) => stated?.audience.who === 'guests'),
      ),
    );
    const [submit] = policy.logout?.submits ?? [];
    this.wayOut = submit === undefined ? null : router.find(submit.method, pathOf(submit.path));
    this.promisesOf = new Map(
      PROMISE_EVENTS.map((event) => [event, policy.promises.filter(({ after }) => after === event)]),
    );
    this.menuHasOwnAudiences = policy.menu.some((link) => link.audience !== null);
  }

  /** The pages that show what a request to an address brings. It is for everybody whom one of them is for. */
  loadersOf(method: Method, route: Route): readonly Loader[] {
    if (this.loaders.size === 0) return NO_LOADERS;
    // Routes are remembered by method, so each is looked up once.
    let known = this.loadersByRoute.get(route);
    if (known === undefined) {
      known = this.loaders.get(`${method} ${route.spelled}`) ?? NO_LOADERS;
      this.loadersByRoute.set(route, known);
    }
    return known;
  }

  /** The promises that only some roles reach an address. */
  promisesFor(path: string): readonly PolicyPromise[] {
    let known = this.promised.get(path);
    if (known === undefined) {
      const { policy, router } = this.stage.app;
      known = policy.promises.filter(({ reach }) => reach.some((pattern) => router.covers(pattern, path)));
      if (this.promised.size >= MOST_REMEMBERED) this.promised.clear();
      this.promised.set(path, known);
    }
    return known;
  }

  /**
   * How long a credential may still count after something: the strictest of what is promised of copies of it and of all access;
   * null where nothing is promised.
   */
  worksAtMost(after: PromiseEvent, what: Credential): Seconds | null {
    let ofEvent = this.bounds.get(after);
    if (ofEvent === undefined) {
      ofEvent = new Map(
        CREDENTIALS.map((each) => [
          each,
          strictest(this.promisesAfter(after).filter(({ copied }) => (copied ?? each) === each)),
        ]),
      );
      this.bounds.set(after, ofEvent);
    }
    return ofEvent.get(what) ?? null;
  }

  /** The promises that count from something. */
  promisesAfter(after: PromiseEvent): readonly PolicyPromise[] {
    return this.promisesOf.get(after) ?? NO_PROMISES;
  }

  /** Whether copies of a credential are promised something of after something. */
  isPromisedOf(after: PromiseEvent, what: Credential): boolean {
    return this.promisesAfter(after).some(({ copied }) => copied === what);
  }

  /** The credentials that are watched after something, since a promise tells them apart or is about whether they count. */
  watchedAfter(after: PromiseEvent): readonly Credential[] {
    const ofEvent = this.promisesAfter(after);
    // What a changed password leaves is watched wherever the policy says what that ends.
    if (after === 'logout') return CREDENTIALS;
    if (after === 'password-changed' && this.stage.app.policy.password !== null) return CREDENTIALS;
    return CREDENTIALS.filter((what) =>
      ofEvent.some(
        ({ copied }) => copied === what || (copied === null && isAboutCredentials({ after, copied })),
      ),
    );
  }
}

/** The strictest bound of some promises; null for none. */
export function strictest(promises: readonly PolicyPromise[]): Seconds | null {
  return promises.length === 0 ? null : Math.min(...promises.map(({ atMost }) => atMost ?? 0));
}

/**
 * Whether a promise about time is about whether credentials count. Others are about what is shown to an account that lost
 * something: roles, since the credential still opens the rest, and everything, where the account itself is gone.
 */
export function isAboutCredentials({ after, copied }: Pick<PolicyPromise, 'after' | 'copied'>): boolean {
  return after === 'logout' || after === 'password-changed' || (after === 'suspended' && copied !== null);
}

const MOST_REMEMBERED = 10_000;
const NO_LOADERS: readonly Loader[] = [];
const NO_PROMISES: readonly PolicyPromise[] = [];

const books = new WeakMap<Stage, LawBook>();

/** The law book of a policy at work. */
export function lawBookOf(stage: Stage): LawBook {
  let book = books.get(stage);
  if (book === undefined) books.set(stage, (book = new LawBook(stage)));
  return book;
}
