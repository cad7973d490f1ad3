import { hinderedBy } from '../driver-errors.js';
import type { Looker } from '../learn/learnt.js';

/** What somebody was shown at an address. */
export interface Shown {
  /** Where they came out: path and query. */
  readonly target: string;
  readonly html: string;
  /** Addresses of the app that its links lead to. */
  readonly links: readonly string[];
}

/** That a page could not be looked at; the message tells why, without a full stop. */
export class NotShown extends Error {}

/** A page that is longer is not looked at: nobody reads it, and it takes as long as a hundred others. */
export const LONGEST_HTML = 2_000_000;
export function tooLong(length: number): string {
  return `its ${(length / 1_000_000).toFixed(1)} million characters are more than is looked at`;
}

/** Links of one page that are followed. */
const MOST_LINKS = 500;

/** Somebody's browser that looks round and is recorded. It asks for pages, and sends no form but those of login and logout. */
export interface Rounder {
  /** @throws NotShown where it cannot be looked at */
  open(target: string): Promise<Shown>;
  /** Opens an address, and fills in the login form that is shown there; null where none is. */
  signIn(target: string, looker: Looker): Promise<Shown | null>;
  /** Presses what logs out on the last page that has it; false where nothing was found. */
  signOut(): Promise<boolean>;
  /** The recording, in the HAR format. */
  end(): Promise<string>;
}

/** A recording of somebody who looked round; null: a guest. */
export interface RoundRecording {
  readonly person: string | null;
  readonly har: string;
}

/** A password that nobody has; nothing of a right one is in it. */
const WRONG = 'no-password-of-anybody';

/** Pages that one person opens at most: an app with more of them has patterns, of which a few are enough. */
const MOST_PAGES = 150;
/** Pages that are alike but for a number or a key. */
const MOST_ALIKE = 2;

const OUT = /(?:log|sign)[-_]?(?:out|off)/i;
/** What links lead to that no person looks at, or that would change something. */
const NOT_OPENED =
  /\.(?:pdf|zip|csv|png|jpe?g|gif|svg|css|js|ico|xml|txt|docx?|xlsx?)$|(?:^|\/)(?:delete|remove|destroy)(?:\/|$)/i;

/**
 * Looks round in an app as a guest and as each of some people: follows links, comes back to the login, logs out; and opens, as everybody,
 * what anybody found. First a wrong password is given, once.
 *
 * @param start a new browser for somebody
 */
export async function goRound(
  start: () => Promise<Rounder>,
  login: string,
  lookers: readonly Looker[],
): Promise<{ readonly recordings: readonly RoundRecording[]; readonly notes: readonly string[] }> {
  const found = new Set<string>(['/', login]);
  const notes: string[] = [];
  const guest = new Round(await start(), found, notes);
  await guest.openAll();
  const people: { readonly looker: Looker; readonly round: Round }[] = [];
  for (const [index, looker] of lookers.entries()) {
    const browser = await start();
    const round = new Round(browser, found, notes);
    const came = await attempted(async () => {
      if (index === 0) await browser.signIn(login, { ...looker, password: WRONG });
      return browser.signIn(login, looker);
    });
    const shown = typeof came === 'string' ? null : came;
    const isIn = shown !== null && pathOf(shown.target) !== pathOf(login);
    if (!isIn) {
      const none = typeof came === 'string' ? `${looker.account}: ${came}` : `${login} has no login form`;
      notes.push(shown === null ? none : `the login of ${looker.account} did not get in`);
      await browser.end();
      continue;
    }
    round.take(shown);
    await round.openAll();
    people.push({ looker, round });
  }
  // What somebody found later the others open too: to be refused is to be seen as well.
  await guest.openAll();
  const recordings: RoundRecording[] = [{ person: null, har: await guest.browser.end() }];
  for (const { looker, round } of people) {
    await round.openAll();
    await attempted(() => round.browser.open(login));
    const isOut = await attempted(() => round.browser.signOut());
    if (isOut !== true) notes.push(`nothing was found by which ${looker.account} logs out`);
    await attempted(() => round.comeBack(looker, guest.elsewhere));
    recordings.push({ person: looker.account, har: await round.browser.end() });
  }
  return { recordings, notes };
}

/** What somebody is shown, or in words what hindered them. */
async function attempted<Came>(deed: () => Promise<Came>): Promise<Came | string> {
  try {
    return await deed();
  } catch (error) {
    return error instanceof NotShown ? error.message : hinderedBy(error, 'the login').message;
  }
}

/** One browser on its way through what is known of an app. */
class Round {
  private readonly opened = new Set<string>();
  private readonly alike = new Map<string, number>();
  /** The pages that were shown where they were asked for, in order. */
  private readonly shown: string[] = [];
  /** The pages that led elsewhere. */
  readonly elsewhere = new Set<string>();

  constructor(
    readonly browser: Rounder,
    private readonly found: Set<string>,
    private readonly notes: string[],
  ) {}

  /** Opens everything that is known and was not opened yet, and what is found on the way. */
  async openAll(): Promise<void> {
    for (const target of this.found) {
      if (this.opened.size >= MOST_PAGES) return;
      if (this.opened.has(target)) continue;
      this.opened.add(target);
      const shape = target.replace(/\/(?:\d+|[0-9a-f-]{16,})(?=\/|$)/gi, '/:');
      const count = (this.alike.get(shape) ?? 0) + 1;
      this.alike.set(shape, count);
      if (shape !== target && count > MOST_ALIKE) continue;
      const shown = await this.looked(target);
      if (shown === null) continue;
      this.take(shown);
      if (pathOf(shown.target) === target) this.shown.push(target);
      else this.elsewhere.add(target);
    }
  }

  /**
   * Asks again for what was shown last and is not for guests, and logs in on the way: whether that leads back is to be seen.
   *
   * @param closed pages that lead guests elsewhere
   */
  async comeBack(looker: Looker, closed: ReadonlySet<string>): Promise<void> {
    const last = this.shown.findLast((target) => closed.has(target));
    if (last !== undefined) await this.browser.signIn(last, looker);
  }

  /** What a page shows; null for one that cannot be looked at, which everybody is told once. */
  private async looked(target: string): Promise<Shown | null> {
    try {
      return await this.browser.open(target);
    } catch (error) {
      if (!(error instanceof NotShown)) throw error;
      const note = `not looked at: ${target}: ${error.message}`;
      if (!this.notes.includes(note)) this.notes.push(note);
      return null;
    }
  }

  take({ links, target }: Shown): void {
    if (links.length > MOST_LINKS) {
      const note = `${pathOf(target)} has ${links.length} links: the first ${MOST_LINKS} were followed`;
      if (!this.notes.includes(note)) this.notes.push(note);
    }
    for (const link of [...links.slice(0, MOST_LINKS), target]) {
      const path = pathOf(link);
      if (!OUT.test(path) && !NOT_OPENED.test(path)) this.found.add(path);
    }
  }
}

function pathOf(target: string): string {
  return target.split(/[?#]/, 1)[0] ?? target;
}
