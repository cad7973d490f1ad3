import type { Addresses } from './addresses.js';
import type { Plain, Section } from './drafted.js';
import type { DescribedRequest, Evidence } from './evidence.js';
import { entriesBy, usualOf } from './landing-drafted.js';
import type { FoundRoles } from './people-found.js';
import type { FoundCookies } from './session-found.js';
import type { Understood } from './story.js';
import type { FoundWays } from './ways-found.js';

const IN = /(?:log|sign)-?in$|\/sessions?$|\/auth(?:enticate)?$|\/tokens?$/i;
const OUT = /(?:log|sign)-?(?:out|off)$/i;

/** The sections `login`, `second-factor` and `logout`. */
export function loginSections(
  understood: Understood,
  { session }: FoundCookies,
  ways: FoundWays,
  evidence: Evidence,
  roles: FoundRoles,
): (Section | null)[] {
  const { login, code, logout, addresses } = understood;
  if (login === null) return describedLogin(evidence);
  const value: Record<string, Plain> = {
    page: addresses.safe(login.page),
    submit: `${login.method} ${addresses.safe(login.path)}`,
  };
  const guesses: string[] = [];
  if (understood.tokens !== null) value['by'] = session === null ? 'tokens' : 'both';
  if (session?.renewsId === false) value['renew-session-id'] = false;
  if (ways.wrong !== null) value['wrong'] = ways.wrong;
  else guesses.push('no wrong password was recorded');
  if (ways.returns === null) guesses.push('nobody was seen coming back to what they had asked for');
  else {
    value['return'] = {
      ...(ways.returns.kept === 'session' ? { kept: 'session' } : {}),
      ...(ways.returns.kept === 'session' || ways.returns.param === 'back'
        ? {}
        : { param: ways.returns.param }),
      ...(ways.returnsToRefused ? { 'only-if-allowed': false } : {}),
    };
  }
  if (ways.returns !== null) {
    guesses.push(
      `which return addresses are taken${ways.returnsToRefused ? '' : ', and whether those of pages that refuse their visitor'}`,
    );
  }
  const fields = fieldsOf(login);
  if (fields !== null) value['fields'] = fields;
  return [
    { key: 'login', value, guess: guesses.length === 0 ? null : guesses.join('; ') },
    code === null
      ? null
      : {
          key: 'second-factor',
          value: {
            page: addresses.safe(code.page),
            submit: `${code.method} ${addresses.safe(code.path)}`,
            life: '5m',
            // A policy leads back to the page of the code, unless the answer itself shows it again.
            ...(isShown(ways.wrongCode) ? { wrong: ways.wrongCode } : {}),
          },
          guess: 'how long a code is good, and who owes one',
        },
    signUpSection(understood, ways, roles),
    logout === null
      ? null
      : {
          key: 'logout',
          value: {
            submit: `${logout.method} ${addresses.safe(logout.path)}`,
            ...logoutLands(ways, roles, addresses),
            ...(logout.act.kind === 'call' && logout.act.last.status !== 200 && logout.act.last.status < 300
              ? { status: logout.act.last.status }
              : {}),
          },
          guess:
            ways.logoutLands.size === 0
              ? 'where it leads, and that the app itself ends what was handed out'
              : 'that the app itself ends what was handed out',
        },
  ];
}

/** What a new account holds, whether its owner is signed in at once, and where they come out. */
function signUpSection(
  { signUp, stories, addresses }: Understood,
  { signUpLands, landings }: FoundWays,
  roles: FoundRoles,
): Section | null {
  if (signUp === null) return null;
  const done = stories.flatMap(({ told }) => told.filter(({ part }) => part === 'sign-up'));
  const isIn = done.some(({ after }) => after !== null);
  const held = roles.all.filter(({ holders }) => signUp.people.some((each) => holders.includes(each)));
  const usual = isIn ? usualOf(landings, roles) : signUp.page;
  const [lands] = signUpLands.values();
  return {
    key: 'sign-up',
    value: {
      page: addresses.safe(signUp.page),
      submit: `${signUp.method} ${addresses.safe(signUp.path)}`,
      ...(held.length === 0 ? {} : { roles: held.map(({ name }) => name) }),
      then: isIn ? 'login' : 'nothing',
      ...(lands === undefined || lands === usual ? {} : { lands: addresses.safe(lands) }),
    },
    guess: isIn ? null : 'whether a link has to be opened first',
  };
}

function isShown(wrong: FoundWays['wrong']): wrong is { readonly shown: true; readonly status: number } {
  return typeof wrong === 'object' && wrong !== null && 'shown' in wrong;
}

/** Where a logout leads, by roles where it leads people to several places. */
function logoutLands(
  { logoutLands: found }: FoundWays,
  roles: FoundRoles,
  addresses: Addresses,
): Record<string, Plain> {
  const otherwise = usualOf(found, roles);
  if (otherwise === null) return {};
  const entries = entriesBy(found, otherwise, roles, addresses);
  const last = addresses.safe(otherwise);
  if (entries.length > 0) return { lands: [...entries, { otherwise: last }] };
  return last === '/' ? {} : { lands: last };
}

function fieldsOf({ name, password }: { readonly name: string | null; readonly password: string }): Plain {
  const fields: Record<string, Plain> = {};
  if (name !== null && name !== 'account') fields['account'] = name;
  if (password !== 'password') fields['password'] = password;
  return Object.keys(fields).length === 0 ? null : fields;
}

/** A login that is only described: the request that is called so. */
function describedLogin({ descriptions }: Evidence): (Section | null)[] {
  const requests = descriptions.flatMap((each) => each.requests);
  const schemes = descriptions.flatMap((each) => each.schemes);
  const scheme = schemes.find(({ kind }) => kind === 'tokens');
  const isIn = (each: DescribedRequest) =>
    each.method === 'POST' && (IN.test(each.pattern) || each.takesPassword);
  const found = requests.find((each) => isIn(each) && each.takesPassword) ?? requests.find(isIn);
  const told = scheme?.kind === 'tokens' ? scheme.submit : null;
  const submit = told ?? (found === undefined ? null : `POST ${found.pattern}`);
  if (submit === null || submit.includes(':')) return [null];
  const path = submit.slice('POST '.length);
  const page = requests.find(
    (each) => each.method === 'GET' && each.kind === 'page' && IN.test(each.pattern),
  );
  const isOfTokens = schemes.some(({ kind }) => kind === 'tokens');
  const out = requests.find((each) => OUT.test(each.pattern) && !each.pattern.includes(':'));
  return [
    {
      key: 'login',
      value: {
        page: page?.pattern ?? '/sign-in',
        submit: `POST ${path}`,
        ...(isOfTokens ? { by: 'tokens' } : {}),
      },
      guess: 'what is described looks like a login; where its page is and what it answers is not',
    },
    out === undefined
      ? null
      : {
          key: 'logout',
          value: { submit: `${out.method} ${out.pattern}` },
          guess: 'what is described looks like a logout',
        },
  ];
}
