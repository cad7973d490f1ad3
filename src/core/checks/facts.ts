import { sentPath } from '../app/endpoints.js';
import { readingBudget } from '../paths/remainder.js';
import { admit } from '../app/admit.js';
import { flagsAtFirst, initialState, type AppState } from '../app/app.js';
import { accountClasses, audienceKey, ownAddress, pageClasses, type PageClass } from '../app/classes.js';
import { takes } from '../app/logins.js';
import { GUEST, type Identity } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import type { Grounds, Route } from '../app/router.js';
import { RIGHT_CODE } from '../app/second-factor.js';
import { NEW_BROWSER, type BrowserState, type Deed } from '../browser/state.js';
import { FixedClock, instantOf } from '../time/clock.js';
import { isSafe, METHODS, type Method } from '../http/messages.js';
import { handedOut } from '../vocabulary/credentials.js';
import type { Account, Page, Placed, Policy, Rule, StatedAudience } from '../language/policy.js';
import type { Guess } from '../language/text/guesses.js';
import { factsAsked, statedAudiences } from '../language/stated.js';
import type { CookieRules } from '../http/cookies.js';
import type { Audience } from '../vocabulary/audience.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Pattern } from '../paths/pattern.js';
import { sampleAddress } from '../paths/coverage.js';
import { play, stageOf, type Played, type Stage } from '../play/stage.js';
import type { Walk } from '../steps/walk.js';
import { encounters, type Person } from './encounters.js';
import { partsOf, type RulePart } from './rule-coverage.js';
import { targetsOf, type Target } from './targets.js';

/** Somebody with a browser, signed in or not. */
export interface LoginState {
  /** The account's name; null for a guest. */
  readonly account: string | null;
  readonly state: AppState;
  readonly browser: BrowserState;
}

/** The methods that change something. */
export const WRITES: readonly Method[] = METHODS.filter((method) => !isSafe(method));

/** Whether two audiences stand side by side in one page or rule, so that whoever wrote the one saw the other. */
export function isOfOnePlace(one: StatedAudience, other: StatedAudience): boolean {
  const [kind, name] = one.at;
  return one.at.length > 1 && kind === other.at[0] && name === other.at[1];
}

/** The place that decides, as one to point at beside a finding; `otherwise` is named in words, since it need not be written. */
export function decidedBy({ by, at }: Grounds, message: string): Related {
  return by === 'otherwise' ? [] : [{ at, message }];
}

type Related = readonly { readonly at: Path; readonly message: string }[];

/** Somebody in one of the ways in which they can stand at a door: with and without a code, right after the login and long after. */
export interface Standing extends Person {
  readonly isWithoutCode: boolean;
}

/** A cookie that a login hands out. */
export interface HandedCookie {
  readonly what: 'session' | 'remember';
  readonly at: Path;
  readonly rules: Omit<CookieRules, 'life'>;
}

const START = new FixedClock(0);
const SOME_TENANT = ['some'];
const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();

/** What several checks ask about a policy, worked out once. */
export class Facts {
  readonly stage: Stage;
  /** What the checks may read of expressions, all together. */
  readonly reading = readingBudget();
  private readonly worked = new Map<string, unknown>();
  private readonly pageRoutes = new Map<Page, Route | null>();
  private readonly comparisons = new Map<string, Person | undefined>();

  constructor(
    readonly policy: Policy,
    readonly walks: readonly Walk[] = [],
    readonly guesses: readonly Guess[] = [],
  ) {
    this.stage = stageOf(policy);
  }

  private once<T>(name: string, work: () => T): T {
    if (!this.worked.has(name)) this.worked.set(name, work());
    // Each name is given one kind of work, so that what is known under it is what that gives.
    return this.worked.get(name) as T;
  }

  /** A guest, and one account of each kind that the login lets in, played through the login itself. */
  get loginStates(): readonly LoginState[] {
    return this.once('loginStates', () => {
      const state = initialState(this.policy);
      const guest: LoginState = { account: null, state, browser: NEW_BROWSER };
      const kinds = accountClasses(this.policy);
      return [guest, ...kinds.flatMap(({ account }) => this.logIn(account, guest) ?? [])];
    });
  }

  private logIn(account: Account, guest: LoginState): LoginState | null {
    const { name, password } = account;
    const fields = mapOf({ account: name, password });
    const form = this.policy.logins.find((each) => takes(each, account))?.form ?? 'login';
    let played = this.fillIn(guest, { deed: 'fill-in', fill: { form, fields } });
    if (played.exchanges.some((exchange) => exchange.explanation.reason === 'code-needed')) {
      const half = { account: null, state: played.state, browser: played.browser };
      const code = mapOf({ code: RIGHT_CODE });
      played = this.fillIn(half, { deed: 'fill-in', fill: { form: 'code', fields: code } });
    }
    const known = played.exchanges.some((exchange) => exchange.explanation.seenAs === name);
    return known ? { account: name, state: played.state, browser: played.browser } : null;
  }

  private fillIn(who: LoginState, deed: Deed): Played {
    return play(this.stage, who.state, who.browser, deed, START);
  }

  /** Lets somebody type an address. */
  visit(who: LoginState, address: string): Played {
    return play(this.stage, who.state, who.browser, { deed: 'open', address }, START);
  }

  /** What the policy says of an address that it names itself. */
  route(address: string, method: Method = 'GET'): Route | null {
    const route = this.stage.app.router.find(method, sentPath(address));
    // What a page does not answer is open to nobody.
    return route === null || route.page === null || route.isAnswered ? route : null;
  }

  /** The route of reading a page, at an address that stands for all of its addresses. */
  pageRoute(page: Page): Route | null {
    let route = this.pageRoutes.get(page);
    if (route === undefined) {
      const found = this.route(sampleAddress(page.pattern, () => 'x'));
      this.pageRoutes.set(page, (route = found?.page === page ? found : null));
    }
    return route;
  }

  /** Whether there is a page at an address. */
  hasPage(address: string): boolean {
    const route = this.route(address);
    return route !== null && route.page !== null;
  }

  /** Whether a visitor is in an audience: `served`, or why not. */
  admission(audience: Audience, visitor: Identity, parameters = NO_PARAMETERS): Reason {
    return admit(audience, visitor, parameters, START);
  }

  /** Whether a visitor is in an audience. */
  admits(audience: Audience, visitor: Identity, parameters = NO_PARAMETERS): boolean {
    return this.admission(audience, visitor, parameters) === 'served';
  }

  /** Whether a visitor would be shown an address: `served`, or why not. */
  mayRead(address: string, visitor: Identity): Reason {
    const route = this.route(address);
    return route === null ? 'unsafe-path' : this.admission(route.grounds.audience, visitor, route.parameters);
  }

  /** An account that has just signed in, with its code where it has one. */
  signedIn({ name, roles, facts, secondFactor, joined }: Account): Identity {
    const joinedAt = joined === null ? null : instantOf(-joined);
    return { ...this.holderOf(roles), account: name, facts, secondFactor, joinedAt };
  }

  /** Somebody who has just signed up and was given some roles, and nothing else. */
  newcomer(roles: ReadonlySet<string>): Identity {
    return { ...this.holderOf(roles), facts: GUEST.facts, joinedAt: START.now };
  }

  /** Somebody without a name who has just signed in with some roles and a code. They belong to some tenant. */
  holderOf(roles: ReadonlySet<string>): Identity {
    const flags = flagsAtFirst(this.policy);
    const facts = this.once('tenants', () => {
      const asked = [...factsAsked(this.policy)];
      return new Map(
        asked.flatMap(([fact, { isTenant }]) => (isTenant ? [[fact, SOME_TENANT] as const] : [])),
      );
    });
    const known = { account: '', roles, facts, flags, by: 'session', since: START.now } as const;
    return { ...GUEST, ...known, secondFactor: true, reason: 'served' };
  }

  /** A visitor who is not signed in. */
  get guest(): Identity {
    return GUEST;
  }

  /** One account of each kind. */
  get accounts(): readonly Person[] {
    return this.once('accounts', () =>
      accountClasses(this.policy).map(({ account }) => ({
        who: `the account ${account.name}`,
        visitor: this.signedIn(account),
      })),
    );
  }

  /** A guest, one account of each kind, and for every role somebody who was given just that one. */
  get people(): readonly Person[] {
    return this.once('people', () => {
      const { roles } = this.policy;
      return [
        { who: 'a guest', visitor: GUEST },
        ...this.accounts,
        ...[...roles.values()].map(({ name, holds }) => ({
          who: `the role ${name}`,
          visitor: this.holderOf(holds),
        })),
      ];
    });
  }

  /** Everybody in every way in which they can stand at a door. */
  get standings(): readonly Standing[] {
    return this.once('standings', () => {
      const plain = this.people.map((each): Standing => ({ ...each, isWithoutCode: false }));
      const signedIn = plain.filter(({ visitor }) => visitor.account !== null);
      const uncoded = signedIn
        .filter(({ visitor }) => visitor.secondFactor && this.policy.secondFactor !== null)
        .map(({ who, visitor }): Standing => ({
          who: `${who} without a one-time code`,
          visitor: { ...visitor, secondFactor: false },
          isWithoutCode: true,
        }));
      const late = signedIn.map(({ who, visitor }): Standing => ({
        who: `${who} long after the login`,
        visitor: { ...visitor, since: null },
        isWithoutCode: false,
      }));
      return [...plain, ...uncoded, ...late];
    });
  }

  /** Somebody who, standing in some way, is in one audience and not in another. */
  standingOnlyIn(wide: Audience, narrow: Audience, parameters = NO_PARAMETERS): Standing | undefined {
    return this.firstOnlyIn(this.standings, wide, [narrow], parameters);
  }

  /**
   * The first of all people, in whatever way some audiences tell them apart, of whom something is so.
   *
   * @param isIt is told whether the person is in an audience
   * @param people left out: everybody
   */
  firstOf(
    audiences: readonly Audience[],
    parameters: ReadonlyMap<string, string>,
    isIt: (isIn: (audience: Audience) => boolean) => boolean,
    people: readonly Person[] = this.people,
  ): Person | undefined {
    for (const { person, parameters: at } of encounters(people, audiences, parameters, START.now)) {
      if (isIt((audience) => this.admits(audience, person.visitor, at))) return person;
    }
    return undefined;
  }

  private firstOnlyIn<Of extends Person>(
    people: readonly Of[],
    wide: Audience,
    narrow: readonly Audience[],
    parameters: ReadonlyMap<string, string>,
  ): Of | undefined {
    for (const { person, parameters: at } of encounters(people, [wide, ...narrow], parameters, START.now)) {
      const isIn = (audience: Audience) => this.admits(audience, person.visitor, at);
      if (isIn(wide) && !narrow.some(isIn)) return person;
    }
    return undefined;
  }

  /** An address that stands for all of a page's, or of a link's. */
  sampleOf({ pattern }: { readonly pattern: Pattern }): string {
    return sampleAddress(pattern, () => 'x');
  }

  /** What would show a finding: who makes which request, and that it is answered. */
  shownBy(method: Method, address: string, who: string): string {
    const route = this.route(address, method);
    const isGuest = who.startsWith('a guest');
    const refused =
      isGuest && route !== null && !this.admits(route.grounds.audience, GUEST, route.parameters);
    return `${method} ${address} by ${who} is ${refused ? 'refused' : 'answered 200'}`;
  }

  /** The cookies that a login hands out. */
  get cookies(): readonly HandedCookie[] {
    const { login, session, remember } = this.policy;
    if (login === null) return [];
    return [
      ...(handedOut(this.policy).includes('session')
        ? [{ what: 'session' as const, at: ['session', 'cookie'], rules: session.cookie }]
        : []),
      ...(remember === null
        ? []
        : [{ what: 'remember' as const, at: ['remember', 'cookie'], rules: remember.cookie }]),
    ];
  }

  /** Somebody who is in one audience and in none of others. */
  admittedOnlyBy(
    wide: Audience,
    narrow: Audience | readonly Audience[],
    parameters: ReadonlyMap<string, string> = NO_PARAMETERS,
  ): Person | undefined {
    // Thousands of pages have a handful of audiences between them.
    const others = 'who' in narrow ? [narrow] : narrow;
    const key = [audienceKey(wide), ...new Set(others.map(audienceKey)), ...parameters.values()].join('|');
    if (!this.comparisons.has(key)) {
      this.comparisons.set(key, this.firstOnlyIn(this.people, wide, others, parameters));
    }
    return this.comparisons.get(key);
  }

  /** Every audience that the policy states, with its place. */
  get audiences(): readonly StatedAudience[] {
    return this.once('audiences', () => statedAudiences(this.policy));
  }

  /** What earlier rules leave of every rule. */
  get ruleParts(): readonly { readonly rule: Rule; readonly parts: readonly RulePart[] }[] {
    return this.once('ruleParts', () => {
      const { rules } = this.policy;
      const { router } = this.stage.app;
      // As they are compared: with letters in either case, where that is how the app reads them.
      const compared = rules.map((rule) => ({
        ...rule,
        patterns: rule.patterns.map((pattern) => router.folded(pattern)),
      }));
      return compared.map((rule, index) => ({
        rule: rules[index] ?? rule,
        parts: partsOf(rule, compared.slice(0, index), this.reading),
      }));
    });
  }

  /** The pages in groups that treat everybody alike. */
  get pageClasses(): readonly PageClass[] {
    return this.once('pageClasses', () => pageClasses(this.policy, this.stage.app.router));
  }

  /** An address of a page of every class, of the visitor's own where the path names somebody or their tenant. */
  sampleAddresses(name: string | null): string[] {
    const account = this.policy.accounts.get(name ?? '');
    const who = { account: name, facts: account?.facts ?? GUEST.facts };
    return this.pageClasses.map(({ page }) => ownAddress(this.stage.app.router, page.pattern, who));
  }

  /** Every address that the policy sends people to. */
  get targets(): readonly Target[] {
    return this.once('targets', () => targetsOf(this.policy));
  }

  /** The pages with a form, each with the request that sends it. */
  get forms(): readonly (Placed & {
    readonly name: string;
    readonly page: string;
    readonly method: Method;
  })[] {
    const { logins, signUp, secondFactor, password, linkLogin } = this.policy;
    const forms = [
      ...logins.map((section) => ({ name: section.form, section })),
      { name: 'sign-up', section: signUp },
      { name: 'code', section: secondFactor },
      { name: 'change-password', section: password?.change ?? null },
      { name: 'ask-reset', section: password?.reset ?? null },
      { name: 'ask-link', section: linkLogin },
    ];
    return forms.flatMap(({ name, section }) =>
      section === null ? [] : [{ name, at: section.at, page: section.page, method: section.submit.method }],
    );
  }
}

function mapOf(fields: Readonly<Record<string, string>>): ReadonlyMap<string, string> {
  return new Map(Object.entries(fields));
}
