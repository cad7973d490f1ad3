import type { Browser, Page, Response } from 'playwright-core';
import { isAdministration } from '../../src/core/steps/all-steps';
import { LONGEST_FROZEN } from '../../src/core/browser/tabs';
import type { Policy } from '../../src/core/language/policy';
import type { StepResult } from '../../src/core/walks/runner';
import { playWalk } from '../../src/core/walks/runner';
import { stageOf } from '../../src/core/play/stage';
import type { Step, Walk } from '../../src/core/steps/walk';
import { isDoable, Person } from './person';
import type { RealApp } from './real-app';

/** Whether a person can do a walk at the pages of a real app: forms are sent by POST, and are the app's own. */
export function isDoableFor(policy: Policy, walk: Walk): boolean {
  const isOwn = ({ action }: Step) => {
    if (action.verb === 'login') return action.from === null;
    if (action.verb === 'visit') return !action.address.startsWith('http:');
    if (action.verb !== 'send' || action.address.startsWith('/api/')) return true;
    // A single page sends no forms but its own.
    return action.method === 'GET' || (action.method === 'POST' && policy.login?.by !== 'tokens');
  };
  return isDoable(walk) && walk.steps.every(isOwn);
}

/** What is seen of a step at a browser; who one is where the page says so, and the pages that were asked for where there are any. */
interface Seen {
  readonly lands: string | null;
  readonly seenAs: string | null;
  readonly asked: readonly string[] | null;
  readonly holds: readonly string[];
}

/** Walks against a real app in Chromium. */
export class RealInChromium {
  private readonly stage;
  private readonly people = new Map<string, Person>();
  /** When each cookie is over, by browser and name, in seconds from the start. */
  private readonly ends = new Map<string, number>();
  private readonly asked: string[] = [];
  private readonly answers: Response[] = [];
  private readonly watched = new WeakSet<Page>();

  constructor(
    private readonly policy: Policy,
    private readonly app: RealApp,
    private readonly browser: Browser,
    private readonly otherSite: string,
    /** Where the app's clock stood at first, in milliseconds. */
    private readonly start: number,
  ) {
    this.stage = stageOf(policy);
  }

  /** What differs from the simulation, step by step. */
  async differences(walk: Walk): Promise<string[]> {
    const found: string[] = [];
    const closes = walk.steps.some(({ action }) => action.verb === 'close-browser');
    let before = 0;
    try {
      for (const [at, result] of playWalk(this.stage, walk).steps.entries()) {
        const { step, time } = result;
        const person = this.personOf(step.browser, closes);
        await this.pass(time, time - before >= LONGEST_FROZEN);
        before = time;
        const seen = await this.act(person, result);
        const expected = this.expected(result, seen);
        if (JSON.stringify(seen) !== JSON.stringify(expected)) {
          found.push(
            `${walk.name}, step ${at}: simulated ${JSON.stringify(expected)}, real ${JSON.stringify(seen)}`,
          );
        }
      }
    } finally {
      for (const person of this.people.values()) await person.end();
    }
    return found;
  }

  private personOf(name: string, closes: boolean): Person {
    const known = this.people.get(name);
    if (known !== undefined) return known;
    const fresh = new Person(this.app.address, this.otherSite, this.policy, this.browser, closes);
    this.people.set(name, fresh);
    return fresh;
  }

  /** Moves the app's clock on, and lets go of what a browser would have dropped had its own been moved too. */
  private async pass(time: number, letsGo: boolean): Promise<void> {
    await this.app.moveTo(time);
    for (const [name, person] of this.people) {
      if (letsGo) await person.letGo();
      const cookies = await person.cookies();
      const over = cookies.filter((cookie) => (this.ends.get(`${name} ${cookie.name}`) ?? Infinity) <= time);
      if (over.length > 0) await person.cookies(over.map((cookie) => cookie.name));
    }
  }

  private async act(person: Person, { step, time }: StepResult): Promise<Seen> {
    const { action, browser } = step;
    this.asked.length = 0;
    if (isAdministration(action)) this.app.tell(action);
    else if (action.verb !== 'wait') {
      if (action.verb !== 'close-browser') this.watch(await person.watched());
      await person.act(step, '');
    }
    const holds = action.verb === 'close-browser' ? [] : await this.held(person, browser, time);
    const page = action.verb === 'close-browser' ? null : await person.watched();
    const seenAs = await page?.evaluate<string | null>(
      "document.querySelector('[data-seen-as]')?.dataset.seenAs ?? null",
    );
    return { lands: person.lands(), seenAs: seenAs ?? null, asked: [...this.asked], holds };
  }

  /** The same of the simulation, as far as the browser shows it. */
  private expected({ step, outcome, played }: StepResult, seen: Seen): Seen {
    const isSinglePage = this.policy.login?.by === 'tokens';
    const asked = played.exchanges
      .filter(({ purpose }) => purpose === 'navigate')
      .map(({ request, response }) => `${request.method} ${request.path}${request.query} ${response.status}`);
    const page = played.browser.tab.page;
    return {
      lands: page === null ? null : outcome.lands,
      // A page that says nothing of its reader, or that script shows, is asked only where the app was.
      seenAs: seen.seenAs === null || outcome.seenAs === null || isSinglePage ? seen.seenAs : outcome.seenAs,
      asked: isSinglePage ? seen.asked : asked,
      holds: step.action.verb === 'close-browser' ? [] : outcome.holds,
    };
  }

  /** What Set-Cookie headers say of lives: a date is one on the app's clock, a life counts from when the cookie came. */
  private async learnEnds(browser: string, time: number): Promise<void> {
    for (const headers of await Promise.all(
      this.answers.splice(0).map((each) => each.headersArray().catch(() => [])),
    )) {
      for (const { name, value } of headers.filter((each) => each.name.toLowerCase() === 'set-cookie')) {
        const [, life] = /; Max-Age=(\d+)/i.exec(value) ?? [];
        const [, date] = /; Expires=([^;]+)/i.exec(value) ?? [];
        const dated = date === undefined ? Infinity : (Date.parse(date) - this.start) / 1000;
        this.ends.set(
          `${browser} ${value.split('=', 1)[0] ?? name}`,
          life === undefined ? dated : time + Number(life),
        );
      }
    }
  }

  private watch(page: Page): void {
    if (this.watched.has(page)) return;
    this.watched.add(page);
    page.on('response', (response: Response) => {
      const request = response.request();
      this.answers.push(response);
      if (!request.isNavigationRequest() || !request.url().startsWith(this.app.address)) return;
      this.asked.push(
        `${request.method()} ${request.url().slice(this.app.address.length)} ${response.status()}`,
      );
    });
  }

  private async held(person: Person, browser: string, time: number): Promise<string[]> {
    const { session, remember, tokens } = this.policy;
    const cookies = await person.cookies();
    await this.learnEnds(browser, time);
    const names = new Set(cookies.map(({ name }) => name));
    const held = tokens === null ? null : await storedIn(await person.watched());
    return [
      ...(names.has(session.cookie.name) && tokens === null ? ['session'] : []),
      ...(held === null ? [] : ['access', 'refresh']),
      ...(remember !== null && names.has(remember.cookie.name) ? ['remember'] : []),
    ];
  }
}

/** The tokens in the storage of a tab; null for none. */
function storedIn(page: Page): Promise<string | null> {
  return page.evaluate<string | null>(
    "location.protocol === 'http:' ? sessionStorage.getItem('tokens') : null",
  );
}
