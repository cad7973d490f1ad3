import { admit } from '../app/admit.js';
import { initialState, type AppState } from '../app/app.js';
import type { Identity } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import type { Route } from '../app/router.js';
import { NEW_BROWSER, type BrowserState } from '../browser/state.js';
import { FixedClock } from '../clock.js';
import type { Audience, Policy, Refusal } from '../language/policy.js';
import type { Path } from '../language/yaml-text.js';
import { sampleAddress } from '../paths/coverage.js';
import { play, stageOf, type Played, type Stage } from '../walks/stage.js';

/** Somebody with a browser, signed in or not. */
export interface LoginState {
  /** The account's name; null for a guest. */
  readonly account: string | null;
  readonly state: AppState;
  readonly browser: BrowserState;
}

/** Somebody who may stand at a door. */
export interface Person {
  /** In words: `a guest`, `the account ines`, `the role bursar`. */
  readonly who: string;
  readonly visitor: Identity;
}

/** An address that the policy itself sends people to. */
export interface Target {
  readonly at: Path;
  readonly address: string;
}

const NOBODY: Identity = { account: null, roles: new Set(), by: null, session: -1, reason: 'guest' };
const START = new FixedClock(0);

/** What several checks ask about a policy, worked out once. */
export class Facts {
  readonly stage: Stage;
  private states: readonly LoginState[] | null = null;
  private persons: readonly Person[] | null = null;

  constructor(readonly policy: Policy) {
    this.stage = stageOf(policy);
  }

  /** A guest, and each account that the login lets in, played through the login itself. */
  get loginStates(): readonly LoginState[] {
    return (this.states ??= this.logIn());
  }

  private logIn(): LoginState[] {
    const state = initialState(this.policy);
    const states: LoginState[] = [{ account: null, state, browser: NEW_BROWSER }];
    for (const { name, password } of this.policy.accounts.values()) {
      const deed = { deed: 'log-in', account: name, password } as const;
      const played = play(this.stage, state, NEW_BROWSER, deed, START);
      const known = played.exchanges.some((exchange) => exchange.explanation.seenAs === name);
      if (known) states.push({ account: name, state: played.state, browser: played.browser });
    }
    return states;
  }

  /** Lets somebody type an address. */
  visit(who: LoginState, address: string): Played {
    return play(this.stage, who.state, who.browser, { deed: 'open', address }, START);
  }

  /** What the policy says of an address that it names itself. */
  route(address: string): Route | null {
    const [path = '/'] = address.split('?', 1);
    return this.stage.app.router.find(path);
  }

  /** Whether there is a page at an address. */
  hasPage(address: string): boolean {
    const route = this.route(address);
    return route !== null && route.page !== null;
  }

  /** Whether a visitor would be shown an address: `served`, or why not. */
  mayRead(address: string, visitor: Identity): Reason {
    const route = this.route(address);
    return route === null ? 'unsafe-path' : admit(route.read.audience, visitor, route.parameters);
  }

  /** A visitor who is signed in with the given roles, under a name that need not exist. */
  signedIn(account: string, roles: ReadonlySet<string>): Identity {
    return { account, roles, by: 'session', session: -1, reason: 'served' };
  }

  /** A visitor who is not signed in. */
  get guest(): Identity {
    return NOBODY;
  }

  /** A guest, every account, and for every role somebody who was given just that one. */
  get people(): readonly Person[] {
    const { accounts, roles } = this.policy;
    return (this.persons ??= [
      { who: 'a guest', visitor: NOBODY },
      ...[...accounts.values()].map(({ name, roles: held }) => ({
        who: `the account ${name}`,
        visitor: this.signedIn(name, held),
      })),
      ...[...roles.values()].map(({ name, holds }) => ({
        who: `the role ${name}`,
        visitor: this.signedIn('', holds),
      })),
    ]);
  }

  /** Every audience that the policy states, with its place. */
  get audiences(): readonly { readonly audience: Audience; readonly at: Path }[] {
    const { pages, rules, otherwise } = this.policy;
    const stated = [...pages, ...rules].flatMap(({ audiences: { read, write } }) =>
      read === write ? [read] : [read, write],
    );
    return [...stated.filter((each) => each !== null), { audience: otherwise, at: ['otherwise'] }];
  }

  /** An address of every page, with the visitor's own name where the path asks for one. */
  sampleAddresses(account: string | null): string[] {
    return this.policy.pages.map((page) =>
      sampleAddress(page.pattern, () => encodeURIComponent(account ?? 'x')),
    );
  }

  /** Every address that the policy sends people to. */
  get targets(): readonly Target[] {
    const { login, landing, logout, refusals, tokens } = this.policy;
    const targets: Target[] = [];
    if (login !== null) {
      targets.push({ at: ['login', 'page'], address: login.page });
      if (login.wrong !== login.page) targets.push({ at: ['login', 'wrong'], address: login.wrong });
    }
    for (const entry of landing) {
      targets.push({ at: [...entry.at, entry.role === null ? 'otherwise' : 'to'], address: entry.to });
    }
    if (logout !== null) targets.push({ at: ['logout', 'lands'], address: logout.lands });
    for (const [kind, at] of [['page', ['refusals']] as const, ['api', ['refusals', 'api']] as const]) {
      for (const [key, refusal] of Object.entries<Refusal>({ ...refusals[kind] })) {
        const name = key === 'guestsOnly' ? 'guests-only' : key;
        if (refusal.to === 'path') targets.push({ at: [...at, name], address: refusal.path });
      }
    }
    const failed = tokens?.failedRefresh ?? 'login';
    if (failed !== 'login') targets.push({ at: ['tokens', 'failed-refresh'], address: failed });
    return targets;
  }
}
