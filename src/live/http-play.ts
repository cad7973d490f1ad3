import {
  type Aspect,
  type BrowserState,
  type Clock,
  copyOf,
  type Credential,
  CREDENTIALS,
  deedOf,
  FixedClock,
  given,
  initialState,
  isAdministration,
  type LiveStep,
  type Observed,
  outcomeOf,
  ownOf,
  type Policy,
  type StepResult,
  thawed,
  givenBy,
  hasTrait,
  isDeed,
  isPause,
  plantedBy,
  requestOf,
  type Given,
} from '../core/internal.js';
import { hasParts, partsToFind } from './parts-to-find.js';
import { answersFor } from './answers.js';
import type { Deeds } from './deeds.js';
import type { Answers } from './form-filling.js';
import { Hindered } from './hindered.js';
import { HttpBrowser, type Simulated } from './http-browser.js';
import { asExchange, messageOf, type HttpExchange } from './http-exchange.js';
import type { Site } from './site.js';
import { Links } from './links.js';
import { NoAnswer } from './transport.js';
import { AT_ONCE, AT_PROVIDER, isAtProvider, NotPlayable, type WalkPlay } from './walk-play.js';
import { fromJson, onlyWho, seenIn } from './who.js';

/** Plays walks over plain HTTP. */
export class HttpPlay implements WalkPlay {
  readonly driver = 'http';
  private readonly browsers = new Map<string, HttpBrowser>();
  private readonly links: Links;

  constructor(
    private readonly site: Site,
    private readonly deeds: Deeds,
  ) {
    this.links = new Links(deeds);
  }

  async step(result: StepResult): Promise<LiveStep> {
    const { step, time } = result;
    const browser = this.browser(step.browser);
    const clock = new FixedClock(time);
    browser.exchanges.length = 0;
    browser.cutShort = null;
    if (step.connectsFrom !== null) {
      if (!this.site.config.isForwarding) {
        throw new NotPlayable(
          'the app does not take from the run from where a request comes (proxy: trusted in live.yaml)',
        );
      }
      browser.state = { ...browser.state, client: step.connectsFrom };
    }
    try {
      await this.act(browser, result, clock);
    } catch (error) {
      if (!(error instanceof Hindered)) throw error;
      return { result, seen: this.links.named(this.observe(browser, result, clock, error.message)) };
    }
    return { result, seen: this.links.named(this.observe(browser, result, clock, null)) };
  }

  async ask(result: StepResult): Promise<LiveStep> {
    const browser = this.browser(result.step.browser);
    const clock = new FixedClock(result.time);
    browser.exchanges.length = 0;
    const { action } = result.step;
    const deed = isDeed(action) ? deedOf(this.site.stage, result.played.state, browser.state, action) : null;
    if (deed !== null && typeof deed !== 'string') {
      await this.played(browser, deed, clock, null, simulatedIn(result));
    }
    const seen = this.observe(browser, result, clock, null);
    const { who } = this.site.config;
    const last = browser.exchanges.at(-1);
    return {
      result,
      seen:
        who === null || last === undefined
          ? seen
          : onlyWho(seen, fromJson(who, last.response.status, last.text)),
    };
  }

  end(): Promise<void> {
    return Promise.resolve();
  }

  private get policy(): Policy {
    return this.site.stage.app.policy;
  }

  private browser(name: string): HttpBrowser {
    const known = this.browsers.get(name);
    if (known !== undefined) return known;
    const fresh = new HttpBrowser(this.site);
    this.browsers.set(name, fresh);
    return fresh;
  }

  private async act(browser: HttpBrowser, result: StepResult, clock: Clock): Promise<void> {
    const { action } = result.step;
    if (isPause(action)) return;
    if (isAdministration(action)) return this.deeds.administer(action);
    if (isAtProvider(this.site.stage, result) || plantedBy(action) !== null) {
      throw new NotPlayable(AT_PROVIDER);
    }
    const shown = requestOf(action)?.key ?? null;
    if (shown !== null) {
      const [made] = result.played.exchanges;
      const key = this.deeds.keyOf(shown.account, shown.isOld);
      if (made !== undefined) await browser.asMachine(made.request, key);
      return;
    }
    const giving = givenBy(action);
    if (giving !== null) {
      this.give(browser, this.browser(giving.to), giving, clock);
      return;
    }
    if (!isDeed(action)) throw new NotPlayable(AT_ONCE);
    if (!this.site.config.isForwarding && asksOtherScheme(result, this.policy)) {
      throw new NotPlayable(
        'plain http cannot be told from https at this address (proxy: trusted in live.yaml)',
      );
    }
    const deed = deedOf(this.site.stage, result.played.state, browser.state, action);
    if (typeof deed === 'string') throw new Hindered(deed);
    const answers = await answersFor(this.site, this.deeds, result);
    await this.played(browser, await this.links.atLink(deed, result), clock, answers, simulatedIn(result));
  }

  private async played(
    browser: HttpBrowser,
    deed: Parameters<HttpBrowser['play']>[0],
    clock: Clock,
    answers: Answers | null,
    simulated: Simulated,
  ): Promise<void> {
    try {
      await browser.play(deed, clock, answers, simulated);
    } catch (error) {
      if (!(error instanceof NoAnswer)) throw error;
      if (!error.isGone || (await this.site.transport.isThere())) throw new Hindered(error.reason);
      throw error;
    }
  }

  /** Gives another browser what one has: cookies by the names that the app has for it, tokens as script holds them. */
  private give(from: HttpBrowser, to: HttpBrowser, giving: Given, clock: Clock): void {
    const { cookies: names } = this.site.config.credentials[giving.what];
    if (names.length === 0) {
      to.state = given(this.site.stage, from.state, to.state, giving, clock) ?? to.state;
      return;
    }
    const taken = from.state.cookies.filter(({ name }) => names.includes(name));
    const before = giving.isCopy ? to.state : thawed(to.state, 'all');
    const others = before.cookies.filter(
      (each) =>
        !taken.some(({ name, host, path }) => name === each.name && host === each.host && path === each.path),
    );
    to.state = { ...before, cookies: [...others, ...taken.map(giving.isCopy ? copyOf : ownOf)] };
  }

  private observe(
    browser: HttpBrowser,
    result: StepResult,
    clock: FixedClock,
    hindrance: string | null,
  ): Observed {
    const { exchanges, state } = browser;
    const { lands, status, via, refreshes } = outcomeOf(
      this.site.stage,
      {
        state: initialState(this.policy),
        browser: state,
        exchanges: exchanges.map(asExchange),
        cutShort: browser.cutShort,
        refusedCookies: [],
        refusedByScript: null,
      },
      clock,
    );
    const unjudged = new Map<Aspect, string>();
    const last = exchanges.at(-1) ?? null;
    const isScripted = this.isScripted(result);
    if (isScripted) {
      for (const aspect of ['lands', 'via', 'menu'] as const) {
        unjudged.set(aspect, 'script decides it, which runs in a browser only');
      }
    }
    if (hasTrait(result.step.action, 'shows-kept') && exchanges.length !== result.played.exchanges.length) {
      const reason = 'whether a page is asked for again is up to a browser';
      for (const aspect of ['lands', 'status', 'via', 'menu', 'seen-as'] as const) {
        unjudged.set(aspect, reason);
      }
    }
    const who = seenIn(this.site.config.who, last, isScripted);
    if (who.reason !== null) unjudged.set('seen-as', who.reason);
    const menu = this.menuOf(browser, result, last);
    if (menu === null && this.policy.menu.length > 0 && !unjudged.has('menu')) {
      unjudged.set('menu', 'no page with a menu came');
    }
    const parts = isScripted ? null : this.partsOf(result, last);
    if (parts === null && hasParts(this.policy)) unjudged.set('parts', 'no page that may have them came');
    return {
      lands,
      status,
      seenAs: who.seenAs,
      toldBy: 'answer',
      via,
      refreshes,
      menu: menu ?? [],
      parts: parts ?? [],
      holds: this.held(state, clock),
      messages: exchanges.map(messageOf),
      isThere: this.isThere(last),
      hindrance,
      unjudged,
    };
  }

  /** Whether what is seen in the end is the work of script. */
  private isScripted({ played: { exchanges, browser, refusedByScript } }: StepResult): boolean {
    return (
      refusedByScript !== null ||
      exchanges.some(({ purpose }) => purpose === 'login') ||
      (browser.tab.page?.script !== null && browser.tab.page !== null)
    );
  }

  private menuOf(browser: HttpBrowser, { played }: StepResult, last: HttpExchange | null): string[] | null {
    const isShown =
      last?.purpose === 'navigate' &&
      last.response.status < 400 &&
      (played.browser.tab.page?.status ?? 400) < 400;
    const expected = played.exchanges.at(-1)?.response.body.kind === 'page';
    return isShown && expected && last.page !== null && this.policy.menu.length > 0
      ? browser.menuOn(last.page, last.request)
      : null;
  }

  private partsOf({ played, outcome }: StepResult, last: HttpExchange | null): string[] | null {
    const shown = played.browser.tab.page;
    if (last?.purpose !== 'navigate' || last.page === null || last.response.status >= 400) return null;
    if (shown === null || outcome.refused !== null || shown.address.path !== last.request.path) return null;
    const { page } = last;
    return partsToFind(this.site, last.request.path)
      .filter(({ selector, text }) =>
        selector === null ? page.names(text ?? '') : page.shows(selector, text),
      )
      .map(({ name }) => name);
  }

  private isThere(last: HttpExchange | null): boolean | null {
    if (last === null || last.purpose !== 'navigate') return null;
    const page = this.site.stage.app.router.find(last.request.method, last.request.path)?.page?.pattern.text;
    const sign = this.site.config.shownWhen.get(page ?? '');
    if (sign === undefined) return null;
    return last.response.status < 400 && last.page?.shows(sign.selector, sign.text) === true;
  }

  private held(state: BrowserState, clock: Clock): Credential[] {
    const has = (name: string) =>
      state.cookies.some(
        (cookie) =>
          cookie.name === name && !(cookie.life !== null && clock.elapsed(cookie.storedAt, cookie.life)),
      );
    return CREDENTIALS.filter((what) => {
      const { cookies } = this.site.config.credentials[what];
      if (cookies.length > 0) return cookies.every(has);
      return (what === 'access' || what === 'refresh') && (state.tab.tokens?.[what] ?? '') !== '';
    });
  }
}

/** What script would do in a step, as the policy has it. */
function simulatedIn({ played: { exchanges, browser } }: StepResult): Simulated {
  const bodies = exchanges.filter(({ purpose }) => purpose === 'login').map(({ response }) => response.body);
  const given = bodies.find((body) => body.kind === 'tokens' || body.kind === 'next');
  const refused = bodies.find((body) => body.kind === 'refused-login');
  return {
    claims: browser.tab.tokens?.claims ?? null,
    next: given?.next ?? null,
    refused: refused?.next ?? null,
  };
}

function asksOtherScheme({ played: { exchanges } }: StepResult, { origin }: Policy): boolean {
  const scheme = origin.slice(0, origin.indexOf(':'));
  return exchanges.some(({ request }) => !request.origin.startsWith(`${scheme}:`));
}
