import {
  type FormName,
  hintsFor,
  isAdministration,
  type LiveStep,
  loginOfForm,
  LONGEST_FROZEN,
  type Policy,
  type StepResult,
  stepWords,
  entrantOf,
  givenBy,
  type Send,
} from '../core/internal.js';
import { ASKS_A_TEXT } from './request-bodies.js';
import { answersFor } from './answers.js';
import type { Deeds } from './deeds.js';
import { hinderedBy } from './driver-errors.js';
import { Hindered } from './hindered.js';
import * as inPage from './in-page.js';
import { Looking } from './looking.js';
import { Person, type BrowserSite } from './person.js';
import { fillIn } from './filling-in.js';
import { loginFormIn, type FormAt } from './form-at.js';
import { Links } from './links.js';
import { AT_ONCE, AT_PROVIDER, isAtProvider, NotPlayable, type WalkPlay } from './walk-play.js';
import { fromJson, onlyWho } from './who.js';

const UNASKED = { seenAs: null, reason: 'no page of the app is open to ask from' };

/** Plays walks in a real browser, as a person would. */
export class BrowserPlay implements WalkPlay {
  readonly driver = 'browser';
  private readonly people = new Map<string, Person>();
  private readonly links: Links;
  private readonly looking: Looking;
  /** The tokens of the forms that each tab showed last, which people go back to. */
  private readonly tokens = new Map<Person, string>();

  /** @param closes whether somebody closes their browser in the walk */
  constructor(
    private readonly site: BrowserSite,
    private readonly deeds: Deeds,
    private readonly closes: boolean,
  ) {
    this.looking = new Looking(site);
    this.links = new Links(deeds);
  }

  async step(result: StepResult): Promise<LiveStep> {
    const { step, time } = result;
    const person = this.person(step.browser);
    for (const each of this.people.values()) await each.pass(time, LONGEST_FROZEN);
    person.messages.length = 0;
    if (step.connectsFrom !== null) throw new NotPlayable('a browser asks from where it is');
    let hindrance: string | null = null;
    try {
      await this.act(person, result);
    } catch (error) {
      if (error instanceof NotPlayable) throw error;
      hindrance = hinderedBy(error, stepWords(result.step.action)).message;
    }
    try {
      return { result, seen: this.links.named(await this.looking.observe(person, result, hindrance)) };
    } catch (error) {
      if (!(error instanceof Hindered)) throw error;
      throw new NotPlayable(error.message);
    }
  }

  async ask(result: StepResult): Promise<LiveStep> {
    const person = this.person(result.step.browser);
    person.messages.length = 0;
    const { who } = this.site.config;
    const seen = await this.looking.observe(person, result, null);
    if (who?.by !== 'request' || !person.hasPage || person.lands()?.startsWith('/') !== true) {
      return { result, seen: onlyWho(seen, UNASKED) };
    }
    const bearer = await this.looking.stored(person, 'access');
    const address = this.site.address.origin + this.site.address.pathOf(who.path);
    const { status, text } = await person.look<{ status: number; text: string }>(
      inPage.CALL,
      {
        method: who.method,
        address,
        bearer,
      },
      true,
    );
    return { result, seen: onlyWho(seen, fromJson(who, status, text)) };
  }

  async end(): Promise<void> {
    for (const person of this.people.values()) await person.end();
  }

  private get policy(): Policy {
    return this.site.stage.app.policy;
  }

  private person(name: string): Person {
    const known = this.people.get(name);
    if (known !== undefined) return known;
    const fresh = new Person(this.site, this.closes);
    this.people.set(name, fresh);
    return fresh;
  }

  private async act(person: Person, result: StepResult): Promise<void> {
    const { action } = result.step;
    if (isAdministration(action)) return this.deeds.administer(action);
    if (isAtProvider(this.site.stage, result)) throw new NotPlayable(AT_PROVIDER);
    switch (action.verb) {
      case 'wait':
        return;
      case 'visit':
        return action.from === null
          ? person.goTo(this.typed(action.address))
          : person.fromOtherSite(this.typed(action.address), null);
      case 'confirm':
      case 'open-link': {
        return person.goTo(await this.linkTo(action.account, result));
      }
      case 'follow': {
        const to = this.site.address.origin + this.site.address.pathOf(action.to);
        const link = await person.element(inPage.FIND_LINK, { selector: this.site.config.menu, to });
        if (link === null) throw new Hindered(`the page shows no link to ${action.to}`);
        return person.press(link);
      }
      case 'reload':
        return person.reload();
      case 'back':
        return person.back(action.pages);
      case 'new-tab':
        return person.newTab();
      case 'duplicate-tab':
        return person.duplicateTab();
      case 'close-tab':
        return person.closeTab();
      case 'close-browser':
        return person.closeBrowser();
      case 'open-browser':
        return person.openBrowser();
      case 'restore-browser':
        throw new NotPlayable('a browser of a run has no session of before that it could restore');
      case 'clear-cookies':
        return person.clearCookies(action.name);
      case 'copy':
      case 'plant': {
        const { cookies } = this.site.config.credentials[action.what];
        if (cookies.length === 0) {
          throw new NotPlayable('what script keeps is not copied from one browser to another');
        }
        return person.give(this.person(action.to), cookies, givenBy(action)?.isCopy === true);
      }
      case 'plant-answer':
      case 'logout-provider':
        throw new NotPlayable(AT_PROVIDER);
      case 'login':
        return this.fillIn(person, { form: loginFormIn(result), at: null }, result);
      case 'reset': {
        // A form at a link is sent to the link itself.
        const at = await this.linkTo(action.account, result);
        return this.fillIn(person, { form: action.verb, at }, result);
      }
      case 'sign-up':
      case 'code':
      case 'change-password':
      case 'ask-reset':
      case 'ask-link':
        return this.fillIn(person, { form: action.verb, at: null }, result);
      case 'logout':
        return this.logOut(person);
      case 'send':
        return this.send(person, action, result);
      case 'refresh':
        throw new NotPlayable('script gets new tokens when it wants to, and cannot be made to here');
      case 'together':
        throw new NotPlayable(AT_ONCE);
    }
  }

  /** An address as it is typed here: without the origin that the policy gives the app. */
  private typed(address: string): string {
    const { origin } = this.policy;
    if (address.startsWith('/') && !/^\/[/\\]/.test(address)) return address;
    if (address.startsWith(`${origin}/`)) return address.slice(origin.length);
    throw new NotPlayable('an address of another scheme or host cannot be told apart here');
  }

  private linkTo(account: string, result: StepResult): Promise<string> {
    return this.links.sentTo(result, account, (link) => this.typed(link));
  }

  private async fillIn(person: Person, { form, at }: FormAt, result: StepResult): Promise<void> {
    const { client } = this.site.stage;
    const known = client.forms[form];
    const { action } = result.step;
    const rules = known && at !== null ? { page: at, submit: { ...known.submit, path: at } } : known;
    const answers = await answersFor(this.site, this.deeds, result);
    if (!rules || answers === null) return;
    if ((entrantOf(action)?.from ?? null) !== null) {
      const login = loginOfForm(this.policy, form);
      const hints = this.site.config.forms.login;
      const fields = new Map([
        [hints.name ?? login?.fields.account ?? 'account', answers.name ?? ''],
        [hints.password ?? login?.fields.password ?? 'password', answers.password ?? ''],
      ]);
      return person.fromOtherSite(rules.submit.path, fields);
    }
    const find = () =>
      person.element(inPage.FIND_FORM, {
        selector: hintsFor(this.site.config, form).form,
        action: this.site.address.pathOf(rules.submit.path),
        wants: ASKS_A_TEXT.has(form) ? 'code' : 'password',
      });
    const isHere = (address: string | null) => (address ?? '').split('?', 1)[0] === rules.page;
    let found = isHere(person.lands()) || this.isAgain(person, form) ? await find() : null;
    if (found === null) {
      await person.goTo(rules.page);
      // Whoever is sent on from there does not come to fill it in.
      if (!isHere(person.lands())) return;
      found = await find();
    }
    if (found === null) throw new Hindered(`the page ${rules.page} has no form for a ${form}`);
    await fillIn(person, found, hintsFor(this.site.config, form), form, answers);
    await this.remember(person);
    await person.press(await person.inside(found, inPage.findButton, null));
  }

  /** Whether the page in front is the answer to a form, and shows it again. */
  private isAgain(person: Person, form: FormName): boolean {
    const path = this.site.stage.client.forms[form]?.submit.path;
    return (person.lands() ?? '').split('?', 1)[0] === path && person.hasPage;
  }

  private async logOut(person: Person): Promise<void> {
    const { logout } = this.site.config;
    const submit = this.site.stage.client.logout;
    if (submit === null) return;
    const button = await person.element(inPage.FIND_LOGOUT, {
      selector: logout === null || logout.by === 'request' ? null : logout.selector,
      action: this.site.address.pathOf(submit.submit.path),
    });
    await this.remember(person);
    if (button !== null) return person.press(button);
    if (submit.byScript) throw new NotPlayable('the page shows nothing that logs out');
    // Somebody who is signed out already has no button, but may have had one on a page that stood open.
    return this.post(person, submit.submit.path);
  }

  private async send(person: Person, action: Send, result: StepResult): Promise<void> {
    const { method } = action;
    if (action.key !== undefined) throw new NotPlayable('a machine has no browser');
    const address = this.typed(action.address);
    if (action.from !== null) {
      if (method !== 'GET' && method !== 'POST') {
        throw new NotPlayable('another site can have only GET and POST sent');
      }
      return person.fromOtherSite(address, method === 'POST' ? new Map() : null);
    }
    const isCall = result.played.exchanges[0]?.purpose === 'call' || (method !== 'GET' && method !== 'POST');
    if (isCall) return this.call(person, method, address, result);
    if (method === 'GET') return person.goTo(address);
    await this.post(person, address);
  }

  private async call(person: Person, method: string, address: string, result: StepResult): Promise<void> {
    if (result.played.exchanges.some(({ purpose }) => purpose === 'refresh')) {
      throw new NotPlayable('a call that renews tokens is made by script of the app');
    }
    const bearer = await this.looking.stored(person, 'access');
    const at = this.site.address.origin + this.site.address.pathOf(address);
    await person.look<{ status: number }>(inPage.CALL, { method, address: at, bearer }, true);
    await person.settled();
  }

  /** Sends a form that the page in front has, or had, on it. */
  private async post(person: Person, address: string): Promise<void> {
    const [path = address] = this.site.address.pathOf(address).split('?', 1);
    const own = await person.element(inPage.FIND_SENDER, path);
    await this.remember(person);
    const form =
      own ??
      (await person.element(inPage.MAKE_FORM, {
        action: this.site.address.origin + this.site.address.pathOf(address),
        field: this.site.stage.client.csrfField,
        token: this.tokens.get(person) ?? null,
      }));
    if (form === null) return;
    await person.submit(form);
  }

  /** Remembers the token of the forms in front, which a page after it may not have. */
  private async remember(person: Person): Promise<void> {
    const { csrfField } = this.site.stage.client;
    if (csrfField === null) return;
    const token = await person.look<string | null>(inPage.READ_TOKEN, csrfField).catch(() => null);
    if (token !== null) this.tokens.set(person, token);
  }
}
