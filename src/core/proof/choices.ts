import { accountClasses, pageClasses } from '../app/classes.js';
import { acceptedReturn, FOREIGN } from '../app/return-address.js';
import { withParameter } from '../http/address.js';
import { CREDENTIALS } from '../language/policy.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Stage } from '../walks/stage.js';
import type { Move } from './moves.js';

/** Who takes part, besides one person at one browser. */
export interface Cast {
  /** Somebody who gets a copy of whatever the person's browser holds, at any time. */
  readonly thief: boolean;
  /** Somebody who suspends, deletes and changes accounts and restarts the app, at any time. */
  readonly administrator: boolean;
}

export const PERSON = 'browser';
export const THIEF = 'thief';
const NEW_PASSWORD = 'another';

/** Every move that can be tried in any situation of a policy, one for each class of pages and of accounts. */
export function choicesOf(stage: Stage, cast: Cast): Move[] {
  const { policy, router } = stage.app;
  const pages = pageClasses(policy, router).map(({ page }) => sampleAddress(page.pattern, () => 'x'));
  const at = (browser: string): Move[] => [
    ...[...pages, ...foreignReturns(stage)].map((address): Move => ({
      browser,
      action: { verb: 'visit', address, from: null },
    })),
    ...pages.map((address): Move => ({
      browser,
      action: { verb: 'send', method: 'POST', address, from: null },
    })),
    ...pages
      .filter((address) => router.find('GET', address)?.kind === 'api')
      .map((address): Move => ({ browser, action: { verb: 'send', method: 'GET', address, from: null } })),
  ];
  return [
    ...at(PERSON),
    ...ofPerson(stage),
    ...(cast.thief ? [...ofThief(), ...at(THIEF)] : []),
    ...(cast.administrator ? ofAdministrator(stage) : []),
  ];
}

/** The login page with a return address that leads off the site, one that the app takes and one that it does not. */
function foreignReturns({ app: { policy } }: Stage): string[] {
  const { login, origin } = policy;
  const rules = login?.return ?? null;
  if (login === null || rules === null) return [];
  const takes = (address: string) => acceptedReturn(rules, address, origin) !== null;
  const taken = FOREIGN.find(takes);
  const refused = FOREIGN.find((address) => !takes(address));
  return [taken, refused].flatMap((address) =>
    address === undefined ? [] : [withParameter(login.page, rules.param, address)],
  );
}

function ofPerson({ app: { policy } }: Stage): Move[] {
  const { login, signUp, confirm, secondFactor, logout, remember } = policy;
  const move = (action: Move['action']): Move => ({ browser: PERSON, action });
  const accounts = accountClasses(policy.accounts.values()).map(({ account }) => account);
  const logins = accounts.flatMap(({ name, password }) =>
    [false, ...(remember === null ? [] : [true])].map((known) =>
      move({ verb: 'login', account: name, password, passwordGiven: false, role: null, remember: known }),
    ),
  );
  const [first] = accounts;
  const wrong =
    first === undefined
      ? []
      : [
          move({
            verb: 'login',
            account: first.name,
            password: `${first.password}?`,
            passwordGiven: true,
            role: null,
            remember: false,
          }),
        ];
  return [
    ...(login === null ? [] : [...logins, ...wrong]),
    ...(logout === null ? [] : [move({ verb: 'logout' })]),
    ...(secondFactor === null
      ? []
      : [move({ verb: 'code', given: 'right' }), move({ verb: 'code', given: 'wrong' })]),
    ...(signUp === null ? [] : [move({ verb: 'sign-up', account: 'new', password: 'new' })]),
    ...(confirm === null ? [] : [move({ verb: 'confirm', account: 'new' })]),
    move({ verb: 'back' }),
    move({ verb: 'close-browser' }),
    move({ verb: 'clear-cookies', name: null }),
    move({ verb: 'clear-cookies', name: policy.session.cookie.name }),
  ];
}

function ofThief(): Move[] {
  return CREDENTIALS.map((what) => ({ browser: PERSON, action: { verb: 'copy', what, to: THIEF } }));
}

function ofAdministrator({ app: { policy } }: Stage): Move[] {
  const accounts = accountClasses(policy.accounts.values()).map(({ account }) => account.name);
  const move = (action: Move['action']): Move => ({ browser: PERSON, action });
  return [
    ...accounts.flatMap((account) => [
      move({ verb: 'suspend', account }),
      move({ verb: 'delete-account', account }),
      move({ verb: 'set-roles', account, roles: [] }),
      move({ verb: 'set-password', account, password: NEW_PASSWORD }),
    ]),
    move({ verb: 'restart-app' }),
  ];
}
