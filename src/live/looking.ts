import {
  CREDENTIALS,
  targetIn,
  type Aspect,
  type Credential,
  type Message,
  type Observed,
  type Policy,
  type StepResult,
  hasTrait,
  requestOf,
} from '../core/internal.js';
import * as inPage from './in-page.js';
import { parsed, valueAt } from './json-answers.js';
import { NAMING } from './html-page.js';
import { hasParts, partsToFind } from './parts-to-find.js';
import type { Asked, BrowserSite, Person } from './person.js';
import { fromHeader, onPage, type SeenIn } from './who.js';

/** Looks over the shoulder of a person at a real browser. */
export class Looking {
  constructor(private readonly site: BrowserSite) {}

  /** What is seen after a step. */
  async observe(person: Person, result: StepResult, hindrance: string | null): Promise<Observed> {
    const { played, outcome } = result;
    const unjudged = new Map<Aspect, string>();
    const messages = this.told(person.messages, result);
    const isScripted = this.isScripted(result);
    const isCall =
      requestOf(result.step.action)?.isOpened === false && played.exchanges.at(-1)?.purpose === 'call';
    if (isScripted || played.exchanges.some(({ purpose }) => purpose !== 'navigate')) {
      unjudged.set('via', 'script shows pages without asking for them');
      if (!isCall) unjudged.set('status', 'script shows pages without asking for them');
    }
    if (hasTrait(result.step.action, 'shows-kept') && played.exchanges.length === 0) {
      const reason = 'whether a page is asked for again is up to the browser';
      for (const aspect of ['via', 'status', 'seen-as', 'menu'] as const) unjudged.set(aspect, reason);
    }
    const isOpen = person.hasPage;
    if (!isOpen) {
      for (const aspect of ['lands', 'menu', 'seen-as'] as const) unjudged.set(aspect, 'no page is open');
    }
    const isHere = person.lands()?.startsWith('/') === true;
    const who = isOpen && isHere ? await this.whoIn(person, messages) : UNSEEN;
    if (who.reason !== null) unjudged.set('seen-as', who.reason);
    // Of a page that is not asked for anew the policy tells nobody who it is shown to.
    const hasPage = isScripted || played.exchanges.some(({ purpose }) => purpose === 'navigate');
    if (!hasPage) unjudged.set('seen-as', 'no page was asked for');
    if (!person.isOpen) unjudged.set('holds', 'the browser is closed');
    const { access, refresh } = this.site.config.credentials;
    const isStored = access.storage !== null || refresh.storage !== null;
    if (isOpen && !isHere && isStored) unjudged.set('holds', 'another site is in front');
    const menu = isOpen && isHere ? await this.menuIn(person, result) : null;
    if (menu === null && this.policy.menu.length > 0) unjudged.set('menu', 'no page with a menu came');
    const isSilent = messages.at(-1)?.status === undefined && played.exchanges.length > 0;
    if (isSilent && hindrance === null) {
      unjudged.set('status', 'the page came without being asked for');
    }
    const parts = isOpen && isHere ? await this.partsIn(person, result) : null;
    if (parts === null && hasParts(this.policy)) unjudged.set('parts', 'no page that may have them came');
    const { path } = this.site.stage.client.tokens?.submit ?? { path: null };
    return {
      lands: person.lands(),
      status: messages.at(-1)?.status ?? null,
      seenAs: who.seenAs,
      toldBy: this.toldBy(played),
      via: messages.filter(({ location }) => location !== null).map(({ target }) => target),
      refreshes: person.messages.filter(({ target, method }) => method === 'POST' && target === path).length,
      menu: menu ?? [],
      parts: parts ?? [],
      holds:
        isOpen || !hasTrait(result.step.action, 'closes-browser')
          ? await this.held(person)
          : [...outcome.holds],
      messages,
      isThere: isOpen ? await this.isThere(person) : null,
      hindrance,
      unjudged,
    };
  }

  /** What tells who one is: script that guards a page goes by its tokens; without any it asks the app. */
  private toldBy({ browser }: StepResult['played']): Observed['toldBy'] {
    const isScripted = browser.tab.page !== null && browser.tab.page.script !== null;
    if (isScripted) return this.site.stage.client.tokens === null ? 'answer' : 'script';
    return this.site.config.who?.by === 'header' ? 'answer' : 'page';
  }

  /** Of what was asked what the policy knows of: pages, and those calls that it says are made. */
  private told(messages: readonly Asked[], { played: { exchanges } }: StepResult): Message[] {
    const { tokens, forms, logout } = this.site.stage.client;
    const calls = new Set([
      ...exchanges.map(({ request }) => `${request.method} ${request.path}`),
      ...[tokens, ...Object.values(forms), logout]
        .map((each) => each?.submit)
        .map((each) => `${each?.method ?? ''} ${each?.path ?? ''}`),
    ]);
    return messages
      .filter(
        ({ isPage, method, target }) => isPage || calls.has(`${method} ${target.split('?', 1)[0] ?? target}`),
      )
      .map(({ method, target, status, location, isAgain }) => ({
        method,
        target,
        status,
        location,
        isAgain,
      }));
  }

  /** Whether pages are shown by script: then what is asked of the app does not tell where somebody is. */
  private isScripted({ played: { exchanges, browser, refusedByScript } }: StepResult): boolean {
    const shown = browser.tab.page;
    return (
      refusedByScript !== null ||
      exchanges.some(({ purpose }) => purpose === 'login') ||
      (shown !== null && shown.script !== null)
    );
  }

  private async whoIn(person: Person, messages: readonly Message[]): Promise<SeenIn> {
    const { who } = this.site.config;
    if (who === null) return { seenAs: null, reason: 'live.yaml does not say where the app tells it (who)' };
    if (who.by === 'request') {
      return { seenAs: null, reason: 'only asking for it would tell, which may change it' };
    }
    if (who.by === 'header') {
      const last = messages.at(-1);
      if (last === undefined || last.location !== null) {
        return { seenAs: null, reason: 'no page was asked for' };
      }
      return fromHeader(who, person.headers[who.header], last.status);
    }
    const page = {
      said: await person.look<string | null>(inPage.READ_TEXT, {
        selector: who.selector,
        attribute: who.attribute,
      }),
      isIn: who.signedInWhere !== null && (await person.look<boolean>(inPage.HAS, who.signedInWhere)),
    };
    return onPage(who, { text: () => page.said, has: () => page.isIn }, messages.at(-1)?.status ?? 200);
  }

  private async menuIn(person: Person, { played, outcome }: StepResult): Promise<string[] | null> {
    const shown = played.browser.tab.page;
    if (this.policy.menu.length === 0 || shown === null || shown.status >= 400 || outcome.refused !== null) {
      return null;
    }
    if (played.exchanges.length === 0) return null;
    const links = await person.look<string[] | null>(inPage.READ_LINKS, this.site.config.menu);
    if (links === null) return null;
    const { origin } = this.policy;
    const targets = new Set(links.map((link) => targetIn(this.site.address.inPolicy(link, '/'), origin)));
    return this.policy.menu.map(({ to }) => to).filter((to) => targets.has(to));
  }

  private async isThere(person: Person): Promise<boolean | null> {
    const path = (person.lands() ?? '').split('?', 1)[0] ?? '';
    const page = this.site.stage.app.router.find('GET', path)?.page?.pattern.text;
    const sign = this.site.config.shownWhen.get(page ?? '');
    return sign === undefined ? null : person.look<boolean>(inPage.SHOWS, sign);
  }

  /** The parts that a page shows; null where none came that was to be shown. */
  private async partsIn(person: Person, { played, outcome }: StepResult): Promise<string[] | null> {
    const shown = played.browser.tab.page;
    const here = (person.lands() ?? '').split('?', 1)[0] ?? '';
    if (shown === null || shown.status >= 400 || outcome.refused !== null || shown.address.path !== here) {
      return null;
    }
    const parts = partsToFind(this.site, here);
    return parts.length === 0 ? [] : person.look<string[]>(inPage.READ_PARTS, { naming: NAMING, parts });
  }

  private async held(person: Person): Promise<Credential[]> {
    const cookies = await person.cookies();
    const held: Credential[] = [];
    for (const what of CREDENTIALS) {
      const kept = this.site.config.credentials[what];
      const has =
        kept.cookies.length > 0
          ? kept.cookies.every((name) => cookies.has(name))
          : (await this.stored(person, what)) !== null;
      if (has) held.push(what);
    }
    return held;
  }

  /** What script keeps of a token in the tab in front; null for nothing. */
  async stored(person: Person, what: Credential): Promise<string | null> {
    const { storage, key, pointer } = this.site.config.credentials[what];
    if (storage === null || key === null || !person.hasPage) return null;
    const text = await person.look<string | null>(inPage.READ_STORAGE, { storage, key });
    if (text === null) return null;
    const value = pointer === '' ? text : valueAt(parsed(text), pointer);
    return typeof value === 'string' && value !== '' ? value : null;
  }

  private get policy(): Policy {
    return this.site.stage.app.policy;
  }
}

const UNSEEN: SeenIn = { seenAs: null, reason: 'no page of the app is open' };
