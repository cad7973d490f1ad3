import type { Login, Policy } from '../../language/policy.js';
import { accepted, accounts, barriers, menu, pages, promises, roles, rules } from './access-settings.js';
import { audience } from './audiences.js';
import {
  always,
  comparedParts,
  derived,
  lasts,
  named,
  other,
  section,
  several,
  under,
  word,
  type Facet,
  type Facets,
  type SettingChange,
} from './facet.js';
import {
  API_KEYS,
  IMPERSONATION,
  LINK_LOGIN,
  LOGIN,
  LOGOUT,
  PASSWORD,
  PROVIDER,
  SECOND_FACTOR,
  SIGN_UP,
} from './login-settings.js';
import { landings, pattern, REFUSALS } from './parts.js';
import { backButton, CSRF, PROXY, REMEMBER, ROUTING, SESSION, TOKENS } from './session-settings.js';

/** The things of a map, without their names. */
function valuesOf<Item>(facet: Facet<Iterable<Item>>): Facet<ReadonlyMap<string, Item>> {
  return {
    compare: ({ before, after }, spot, around) =>
      facet.compare({ before: before.values(), after: after.values() }, spot, around),
  };
}

const loginName = ({ name }: Login) => name ?? '';

/** A single login has no name; several have. */
const logins: Facet<readonly Login[]> = {
  compare({ before, after }, spot, around) {
    const isSingle = [...before, ...after].every(({ name }) => name === null);
    return isSingle
      ? section(LOGIN, 'loosens').compare(
          { before: before[0] ?? null, after: after[0] ?? null },
          { ...spot, name: 'login' },
          around,
        )
      : named('login', loginName, LOGIN, 'loosens').compare({ before, after }, spot, around);
  },
};

const flags: Facet<Policy['flags']> = {
  compare: (values, spot, around) =>
    [...new Set([...values.before.keys(), ...values.after.keys()])].flatMap((flag) => {
      const stands = (isOn: boolean | undefined) => (isOn === undefined ? null : isOn ? 'on' : 'off');
      return other((value: boolean | undefined) => stands(value)).compare(
        { before: values.before.get(flag), after: values.after.get(flag) },
        { ...spot, name: `flag ${flag}` },
        around,
      );
    }),
};

/** Every part of a policy, in the order in which changes are told. */
const POLICY: Facets<Policy> = {
  app: word,
  origin: word,
  hosts: several('changes'),
  roles: valuesOf(roles),
  accounts: valuesOf(accounts),
  flags,
  pages,
  rules,
  otherwise: {
    compare: ({ before, after }, spot, around) => {
      const at = ['otherwise'];
      return audience.compare(
        { before: { audience: before, at }, after: { audience: after, at } },
        spot,
        around,
      );
    },
  },
  barriers,
  refusals: always({ page: under('', always(REFUSALS)), api: always(REFUSALS) }),
  login: derived,
  logins,
  landing: landings('landing'),
  signUp: section(SIGN_UP, 'loosens'),
  confirm: section({ pattern: under('path', pattern), life: lasts('loosens') }, 'changes'),
  secondFactor: section(SECOND_FACTOR, 'tightens'),
  password: section(PASSWORD, 'changes'),
  linkLogin: section(LINK_LOGIN, 'loosens'),
  providers: named('identity provider', ({ name }) => name, PROVIDER, 'loosens'),
  apiKeys: section(API_KEYS, 'loosens'),
  impersonation: section(IMPERSONATION, 'loosens'),
  logout: section(LOGOUT, 'tightens'),
  session: always(SESSION),
  remember: section(REMEMBER, 'loosens'),
  tokens: section(TOKENS, 'changes'),
  csrf: section(CSRF, 'tightens'),
  routing: always(ROUTING),
  proxy: section(PROXY, 'changes'),
  backButton,
  menu,
  promises,
  accepted,
};

/** Every setting that two policies have otherwise, in the order of the language. */
export function settingChanges(before: Policy, after: Policy): SettingChange[] {
  const holds = (policy: Policy) => new Map([...policy.roles].map(([name, role]) => [name, role.holds]));
  return comparedParts(
    POLICY,
    { before, after },
    { name: '', at: { before: [], after: [] } },
    { holds: { before: holds(before), after: holds(after) } },
  );
}
