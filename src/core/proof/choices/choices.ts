// Step 3 of docs/proof-method.md: what is tried.

import { longestAsked } from '../time/limits.js';
import { accountClasses } from '../../app/classes.js';
import { admit } from '../../app/admit.js';
import { GUEST } from '../../app/identify.js';
import { acceptedReturn, FOREIGN } from '../../app/return-address.js';
import { isStorageShared } from '../../browser/tabs.js';
import { withParameter } from '../../http/address.js';
import { ANOTHER_SITE } from '../../http/site.js';
import type { Method } from '../../http/messages.js';
import type { Account, Policy } from '../../language/policy.js';
import { CREDENTIALS } from '../../vocabulary/credentials.js';
import type { Stage } from '../../play/stage.js';
import { administrationOf, NEW_PASSWORD } from './account-changes.js';
import { refreshesOf } from './refresh-moves.js';
import { changesFacts } from './fact-changes.js';
import { actedForBy, startFor } from './acting-moves.js';
import { ofMachine } from './machine-moves.js';
import { requestsOf, type RequestClass, type Requests } from './requests.js';
import { JUST_NOW } from './effects.js';
import { viewersOf } from './viewers.js';
import { browsersOf, followsForms, NEWCOMER, PERSON, THIEF, type Cast } from './cast.js';
import type { Move } from '../situations/moves.js';
import { type Login } from '../../steps/login.js';
import { ANY_STEPS } from '../../steps/all-steps.js';
import { hasTrait } from '../../steps/asking.js';

/** Every move that can be tried in any situation, one for each class of requests and of accounts. */
export interface Choices {
  readonly moves: readonly Move[];
  readonly requests: Requests;
}

/** Every move that can be tried in any situation of a policy. */
export function choicesOf(stage: Stage, cast: Cast): Choices {
  const { policy } = stage.app;
  const own = accountsOf(policy, cast).filter(({ state }) => state === 'active' || cast.administrator);
  const targets = actedForBy(stage, own, cast.administrator);
  const owners = [...own, ...targets.filter(({ name }) => own.every((each) => each.name !== name))];
  const requests = requestsOf(
    stage,
    [...owners, ...(signsUp(policy, cast) ? [{ name: NEWCOMER, facts: GUEST.facts }] : [])],
    cast.account === null ? null : viewersOf(stage, own, cast.administrator, targets),
  );
  const { classes } = requests;
  const { impersonation } = policy;
  const starts = impersonation === null ? [] : targets.map((each) => startFor(impersonation.start, each));
  const canChange = cast.administrator || changesFacts(policy);
  const opensApi = cast.account === null || canChange;
  const returns = followsForms(cast) ? foreignReturns(stage).map((address) => visit(address)) : [];
  const moves = [
    ...(cast.machine ? [] : browsersOf(cast)).flatMap((browser) => [
      ...asked(classes, browser, opensApi),
      ...[...returns, ...fromElsewhere(stage, classes, starts), ...foreignLogin(policy, cast)].map(
        (action): Move => ({ browser, action }),
      ),
      ...ofPerson(stage, cast, browser),
      ...starts.map((action): Move => ({ browser, action })),
      ...together(stage, cast, classes, browser),
    ]),
    ...accountsOf(policy, cast).flatMap((account) => ofMachine(policy, account, classes)),
    ...(cast.thief
      ? [...ofThief(cast), ...asked(forThief(opensApi, classes), THIEF, opensApi), ...refreshesOf(stage)]
      : []),
    ...(cast.administrator
      ? administrationOf(stage, accountsOf(policy, cast)).map((action): Move => ({ browser: PERSON, action }))
      : []),
  ];
  return { moves, requests };
}

/**
 * What a thief asks for. Where nothing that accounts hold can change, a page comes to no more for them than that the app knows
 * them: one stands for all, beside calls and what the app does of its own.
 */
function forThief(canChange: boolean, classes: readonly RequestClass[]): readonly RequestClass[] {
  if (canChange) return classes;
  const page = classes.find(({ method, isApi, isTask }) => method === 'GET' && !isApi && !isTask);
  return classes.filter((each) => each === page || each.isTask || (each.isApi && each.method === 'GET'));
}

/**
 * What somebody asks for with a credential of an account, whatever that may lose: all with which the app does something of its
 * own, and of the rest one of those that open the same, since nothing more comes of it.
 */
export function movesOfHolder(stage: Stage, account: Account): Move[] {
  const { classes } = requestsOf(stage, [account], viewersOf(stage, [account], true));
  const met = new Set<string>();
  const tried = classes.filter(({ isApi, isTask, opensTo, address }) => {
    // Each host has cookies of its own.
    const origin = address.startsWith('/') ? '' : address.split('/', 3).join('/');
    const key = `${Number(isApi)} ${origin} ${opensTo}`;
    return isTask || (!met.has(key) && met.add(key));
  });
  return [...asked(tried, THIEF, true), ...refreshesOf(stage)];
}

/** @param opensApi whether addresses of the api are opened like pages too, which comes to no more where nothing can change */
function asked(classes: readonly RequestClass[], browser: string, opensApi: boolean): Move[] {
  // Pages first: of walks that are as short as each other the one that opens a page is told.
  const inOrder = [...classes].sort((one, other) => Number(one.isTask) - Number(other.isTask));
  return inOrder.flatMap(({ method, address, connectsFrom, isApi, plain }) => {
    const opens = !isApi || opensApi ? [visit(address)] : [];
    const reads = [
      ...opens,
      ...(plain === null ? [] : [visit(plain)]),
      ...(isApi ? [send('GET', address)] : []),
    ];
    const actions = method === 'GET' ? reads : [send(method, address)];
    return actions.map((action): Move => ({ browser, action, ...(connectsFrom && { connectsFrom }) }));
  });
}

function visit(address: string, from: string | null = null): Move['action'] {
  return { verb: 'visit', address, from };
}

function send(method: Method, address: string, from: string | null = null): Move['action'] {
  return { verb: 'send', method, address, from };
}

/**
 * Links and forms of another site, as far as they come to something else than the same without it (RFC 6265bis §5.2): a link
 * leaves strict cookies behind, a form all but those without any limit, and what it brings back may clear them all the same.
 */
function fromElsewhere(
  { app: { policy } }: Stage,
  classes: readonly RequestClass[],
  starts: readonly Move['action'][],
): Move['action'][] {
  const { session, remember, tokens, logout } = policy;
  const cookies = [session.cookie, ...(remember === null ? [] : [remember.cookie])];
  const strict = cookies.some(({ sameSite }) => sameSite === 'strict') || tokens?.kept === 'cookie';
  const open = cookies.some(({ sameSite }) => sameSite === 'none' || sameSite === 'unset');
  // Forms are sent by POST; one that comes without the session may start another in its place.
  const forms =
    open || session.starts !== 'at-login'
      ? classes.flatMap(({ method, address }) =>
          method === 'POST' ? [send(method, address, ANOTHER_SITE)] : [],
        )
      : (logout?.submits ?? []).flatMap(({ method, path }) =>
          method === 'POST' ? [send(method, path, ANOTHER_SITE)] : [],
        );
  return [
    ...(open ? starts.map((start) => ({ ...start, from: ANOTHER_SITE })) : []),
    ...(logout?.submits ?? []).flatMap(({ method, path }) =>
      method === 'GET' ? [visit(path, ANOTHER_SITE)] : [],
    ),
    ...(strict
      ? classes.flatMap(({ method, address }) => (method === 'GET' ? [visit(address, ANOTHER_SITE)] : []))
      : []),
    ...forms,
  ];
}

/** A login form of another site, filled in by somebody else, where the policy says what it does about those. */
function foreignLogin(policy: Policy, cast: Cast): Move['action'][] {
  if (policy.csrf === null || policy.login === null) return [];
  const own = loginsOf(policy, cast).find(({ isWrong }) => !isWrong);
  return own === undefined ? [] : [{ ...own, from: ANOTHER_SITE }];
}

/** The login page, and the ways to providers, with a return address that leads off the site: one that the app takes and one that it does not. */
function foreignReturns({ app: { policy } }: Stage): string[] {
  return policy.logins.flatMap((login) => {
    const rules = login.return;
    if (rules === null) return [];
    const takes = (address: string) => acceptedReturn(rules, address, policy) !== null;
    const taken = FOREIGN.find(takes);
    const refused = FOREIGN.find((address) => !takes(address));
    const starts = login === policy.login ? policy.providers.map(({ start }) => start.path) : [];
    return [taken, refused].flatMap((address) =>
      address === undefined
        ? []
        : [login.page, ...starts].map((page) => withParameter(page, rules.param, address)),
    );
  });
}

function ofPerson({ app: { policy } }: Stage, cast: Cast, browser: string): Move[] {
  const { login, signUp, linkLogin } = policy;
  const accounts = accountsOf(policy, cast).filter(({ state, key }) => state === 'active' && !key);
  // Somebody new who is not signed in at once does nothing to what one account holds.
  const joins = cast.account === null || signUp?.then === 'login';
  const parties = {
    accounts: accounts.map(({ name }) => name),
    newcomer: joins ? NEWCOMER : null,
    password: NEW_PASSWORD,
    tabs: cast.tabs,
  };
  const actions = ANY_STEPS.flatMap((kind) => (kind.tried?.(policy, parties) ?? []) as Move['action'][]);
  return [...(login === null ? [] : loginsOf(policy, cast)), ...actions].flatMap((action): Move[] => {
    const move = { browser, action };
    // Whoever sends others a link asks for it elsewhere.
    const isAskedElsewhere = linkLogin?.sameBrowser === false && hasTrait(action, 'asks-sign-in-link');
    return isAskedElsewhere ? [move, { browser: THIEF, action }] : [move];
  });
}

/**
 * Two calls at the same time, of one tab and, where tabs have their tokens in common, of two: they matter where both may come to
 * fetch new tokens for the same ones.
 */
function together(
  { app: { policy, router }, client }: Stage,
  cast: Cast,
  classes: readonly RequestClass[],
  browser: string,
): Move[] {
  if ((policy.tokens?.refresh ?? null) === null) return [];
  const mayShare = isStorageShared(client) || client.tokens?.kept === 'tab';
  const tabs = cast.tabs > 1 && mayShare ? (['front', 'behind'] as const) : (['front'] as const);
  const calls = classes.filter(
    ({ method, isApi, connectsFrom }) => method === 'GET' && isApi && connectsFrom === undefined,
  );
  const isGuarded = ({ address }: RequestClass) => {
    const route = router.find('GET', address);
    return route !== null && admit(route.grounds.audience, GUEST, route.parameters, JUST_NOW) !== 'served';
  };
  // What comes of the calls themselves is seen one by one: of one account any that may need a token shows how it is fetched.
  const tried = cast.account === null ? calls : [calls.find(isGuarded) ?? calls[0]];
  return tried.flatMap((each) =>
    each === undefined
      ? []
      : tabs.map((tab): Move => {
          const call = { method: 'GET', address: each.address } as const;
          return {
            browser,
            action: {
              verb: 'together',
              calls: [
                { ...call, tab: 'front' },
                { ...call, tab },
              ],
            },
          };
        }),
  );
}

/** Logins of one account of each class at each login, in each of its roles where one is picked, and with a wrong password. */
function loginsOf(policy: Policy, cast: Cast): Login[] {
  const { login, logins, remember, signUp } = policy;
  // One that may not sign in is answered as a wrong password is.
  const accounts = accountsOf(policy, cast).filter(({ state, key }) => state === 'active' && !key);
  const newcomer =
    signUp !== null && signsUp(policy, cast)
      ? [{ name: NEWCOMER, password: NEWCOMER, given: signUp.given }]
      : [];
  const known = remember === null ? [false] : [false, true];
  const [first] = accounts;
  const attempt = (account: Pick<Account, 'name' | 'password'>, role: string | null, isKnown: boolean) =>
    ({
      verb: 'login',
      account: account.name,
      password: account.password,
      passwordGiven: account.name === NEWCOMER,
      isWrong: false,
      role,
      remember: isKnown,
      with: null,
      from: null,
    }) as const;
  const attempts = [
    ...[...accounts, ...newcomer].flatMap((account) => {
      const roles = login?.asRole === true ? picksOf(account, policy, cast) : [null];
      return roles.flatMap((role) => known.map((isKnown) => attempt(account, role, isKnown)));
    }),
    ...(first === undefined
      ? []
      : [
          {
            ...attempt({ name: first.name, password: `${first.password}?` }, null, false),
            passwordGiven: true,
            isWrong: true,
          },
        ]),
  ];
  const atProviders = policy.providers.flatMap((provider) =>
    [...accounts.filter(({ name }) => provider.knows.has(name))].map((account) => ({
      ...attempt(account, null, false),
      at: null,
      with: provider.name,
    })),
  );
  return [...logins.flatMap(({ name: at }) => attempts.map((each) => ({ ...each, at }))), ...atProviders];
}

/** The roles that somebody may pick at the login; null: the form's own choice. */
function picksOf({ given }: Pick<Account, 'given'>, policy: Policy, cast: Cast): readonly (string | null)[] {
  if (cast.administrator) return [null, ...policy.roles.keys()];
  return given.length > 1 ? given : [null];
}

/** Whether somebody new logs in: where there is an account like theirs, they do nothing that the other does not. */
function signsUp(policy: Policy, cast: Cast): boolean {
  const { signUp } = policy;
  const isLike = ({ given, facts, secondFactor, state }: Account) =>
    given.join() === signUp?.given.join() && facts.size === 0 && !secondFactor && state === 'active';
  // Whoever is new is so for a while, which no account of the policy may be.
  const isYoung = longestAsked(policy, ({ joinedWithin }) => joinedWithin) > 0;
  return signUp !== null && cast.account === null && (isYoung || !accountsOf(policy, cast).some(isLike));
}

/** One account of each class that takes part. */
function accountsOf(policy: Policy, { account }: Cast): readonly Account[] {
  return accountClasses(policy)
    .map((each) => each.account)
    .filter(({ name }) => account === null || account === name);
}

function ofThief(cast: Cast): Move[] {
  return browsersOf(cast).flatMap((browser) =>
    CREDENTIALS.map((what): Move => ({ browser, action: { verb: 'copy', what, to: THIEF } })),
  );
}
