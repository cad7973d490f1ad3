import type { Act } from './acts.js';
import type { Exchange } from './evidence.js';
import { loginOutcome, type FoundLogin } from './login-found.js';

/** Sessions do not run out while somebody goes from page to page. */
const SHORTEST_LIFE = 60;

/** Tells a session that is over from a page that refuses its visitor: both may lead to the login. */
export class SessionEnds {
  /** Addresses that sent guests to the login. */
  private readonly guarded = new Set<string>();

  /**
   * @param recorded what was done in each recording
   * @param cookies the names of the cookies that logins set
   */
  constructor(
    recorded: readonly (readonly Act[])[],
    private readonly login: FoundLogin,
    private readonly cookies: ReadonlySet<string>,
  ) {
    for (const acts of recorded) {
      const first = acts.findIndex((act) => this.isIn(act));
      for (const act of acts.slice(0, first === -1 ? acts.length : first)) {
        if (this.isSentAway(act) || act.first.status === 401) this.guarded.add(act.first.path);
      }
    }
  }

  /** Whether a page sent its visitor to the login. */
  private isSentAway({ kind, hops, last }: Act): boolean {
    return kind === 'page' && hops.length > 1 && last.path === this.login.page && last.status < 300;
  }

  /** Whether somebody who was signed in, and whom a page sent to the login, is so no more. */
  isOver(acts: readonly Act[], at: number): boolean {
    const act = acts[at];
    if (act === undefined || !this.isSentAway(act)) return false;
    if (this.isInAfter(acts, at)) return false;
    const set = act.hops.flatMap(({ setCookies }) => setCookies).filter(({ name }) => this.cookies.has(name));
    if (set.some(({ value, maxAge }) => value === '' || (maxAge ?? 1) <= 0)) return true;
    const before = acts[at - 1];
    const isSent = ({ cookies }: Exchange) => [...this.cookies].some((name) => cookies.has(name));
    if (before?.hops.some(isSent) === true && !isSent(act.first)) return true;
    return before === undefined || act.first.at - before.last.at >= SHORTEST_LIFE;
  }

  /** Whether what came after an act, and before the next login, shows that somebody was signed in. */
  isInAfter(acts: readonly Act[], at: number): boolean {
    const after = acts.slice(at + 1);
    const next = after.findIndex((later) => this.isOfLogin(later));
    return after.slice(0, next === -1 ? after.length : next).some((later) => this.isForSignedIn(later));
  }

  /** Whether something came out as it does for nobody but those who are signed in. */
  private isForSignedIn(act: Act): boolean {
    const { first, last } = act;
    const isOfLoginPage = first.path === this.login.page;
    if (isOfLoginPage) return act.kind === 'page' && last.path !== this.login.page;
    return this.guarded.has(first.path) && first.status < 300;
  }

  private isOfLogin({ first }: Act): boolean {
    return first.method === this.login.method && first.path === this.login.path;
  }

  private isIn(act: Act): boolean {
    return this.isOfLogin(act) && loginOutcome(act, this.login) === 'in';
  }
}
