import * as z from 'zod';
import { restarted, switched, withAccount, withFacts, withRoles } from '../app/administration.js';
import { factChanges, flags, type FactsText } from '../audience/written.js';
import { readFacts } from '../language/people-reader.js';
import { passwordSet } from '../app/passwords.js';
import { section, text } from '../language/text/schema-parts.js';
import type { Facts } from '../vocabulary/audience.js';
import { administratorStep } from './step-kind.js';
import { account, nothing } from './step-schemas.js';
import { checkAccount, checkFlags, checkPerson, checkRole } from './walk-scope.js';
import { NAME, NONE, PASSWORD, alone, listed, one, present } from './typed-form.js';

/** Keeps an account out. */
export interface Suspend {
  readonly verb: 'suspend';
  readonly account: string;
}

export const suspend = administratorStep<Suspend, string>(
  {
    verb: 'suspend',
    row: [
      '`suspend: ines`',
      "keeps an account out; like all that is done to the app itself, it leaves everybody's browser as it is",
    ],
    typed: one('suspend ines', 'account'),
    traits: [],
    tale: (action) => ({ who: null, deed: `${action.account} is suspended` }),
    event: 'suspended',
    schema: () => account,
    read(name, at, scope) {
      checkAccount(name, at, scope);
      return { verb: 'suspend', account: name };
    },
    words: (action) => `suspend ${action.account}`,
    written: (action) => action.account,
  },
  (_policy, state, { account: name }) =>
    withAccount(state, name, (known) => ({ ...known, state: 'suspended' })),
);

/** Takes an account away. */
export interface DeleteAccount {
  readonly verb: 'delete-account';
  readonly account: string;
}

export const deleteAccount = administratorStep<DeleteAccount, string>(
  {
    verb: 'delete-account',
    row: ['`delete-account: ines`', 'takes an account away'],
    typed: one('delete-account ines', 'account'),
    traits: [],
    tale: (action) => ({ who: null, deed: `the account ${action.account} is deleted` }),
    event: 'suspended',
    schema: () => account,
    read(name, at, scope) {
      checkAccount(name, at, scope);
      scope.deleted.add(name);
      return { verb: 'delete-account', account: name };
    },
    words: (action) => `delete-account ${action.account}`,
    written: (action) => action.account,
  },
  (_policy, state, { account: name }) => withAccount(state, name, () => null),
);

/** Gives an account other roles. */
export interface SetRoles {
  readonly verb: 'set-roles';
  readonly account: string;
  readonly roles: readonly string[];
}

export const setRoles = administratorStep<SetRoles, { as: string; roles: string[] }>(
  {
    verb: 'set-roles',
    row: ['`set-roles: { as: ines, roles: [bursar] }`', 'gives an account other roles'],
    typed: {
      usage: 'set-roles ines: bursar, skipper, or set-roles ines: none',
      form: /^(?<as>[^\s:]+):? (?<roles>\S.*)$/,
      written: ({ as, roles }) => ({ as, roles: roles === NONE ? [] : listed(roles) }),
      places: [['account'], ['role', '=none'], ['role']],
    },
    traits: [],
    tale: ({ account: name, roles }) => ({
      who: null,
      deed:
        roles.length === 0 ? `all roles of ${name} are taken away` : `${name} is given ${roles.join(', ')}`,
    }),
    event: 'role-removed',
    schema: () =>
      section('a set-roles step', {
        as: account,
        roles: z.array(text('a role'), { error: 'a list of roles' }),
      }),
    read({ as: name, roles }, at, scope) {
      checkAccount(name, [...at, 'as'], scope);
      roles.forEach((role, index) => {
        checkRole(role, [...at, 'roles', index], scope);
      });
      return { verb: 'set-roles', account: name, roles };
    },
    words: (action) => `set-roles ${action.account}: ${action.roles.join(', ') || 'none'}`,
    written: (action) => ({ as: action.account, roles: action.roles }),
  },
  (policy, state, { account: name, roles }) =>
    withAccount(state, name, (known) => withRoles(policy, known, roles)),
);

/** Gives an account another password. */
export interface SetPassword {
  readonly verb: 'set-password';
  readonly account: string;
  readonly password: string;
}

export const setPassword = administratorStep<SetPassword, { as: string; password: string }>(
  {
    verb: 'set-password',
    row: [
      '`set-password: { as: ines, password: new }`',
      'gives an account another password, which ends what `password.ends` says',
    ],
    typed: {
      usage: 'set-password ines and the new one',
      form: new RegExp(`^(?<as>${NAME})${PASSWORD}$`),
      written: ({ as, password }) => present({ as, password }),
      places: [['account']],
    },
    traits: [],
    tale: (action) => ({ who: null, deed: `the password of ${action.account} is changed` }),
    event: 'password-changed',
    schema: () => section('a set-password step', { as: account, password: text('a password') }),
    read({ as: name, password }, at, scope) {
      checkPerson(name, [...at, 'as'], scope);
      scope.changed.set(name, password);
      return { verb: 'set-password', account: name, password };
    },
    words: (action) => `set-password ${action.account}`,
    written: (action) => ({ as: action.account, password: action.password }),
  },
  (policy, state, { account: name, password }) => passwordSet({ policy }, state, name, password),
);

/** Gives an account other facts. */
export interface SetFacts {
  readonly verb: 'set-facts';
  readonly account: string;
  /** What is changed; a fact without any value is taken away. */
  readonly facts: Facts;
}

export const setFacts = administratorStep<SetFacts, { as: string; facts: FactsText }>(
  {
    verb: 'set-facts',
    row: [
      '`set-facts: { as: ines, facts: { terms: accepted } }`',
      'changes some facts of an account; one that is left empty is taken away',
    ],
    typed: {
      usage: 'set-facts ines: terms accepted, boat gull and tern',
      form: /^(?<as>[^\s:]+):? (?<facts>\S.*)$/,
      written({ as, facts }) {
        const changes = listed(facts).map((fact) => {
          const [, name = '', values = ''] = /^(\S+) ?(.*)$/.exec(fact) ?? [];
          const all = values.split(' and ');
          return [name, values === NONE || values === '' ? null : all.length > 1 ? all : values] as const;
        });
        return { as, facts: Object.fromEntries(facts === 'nothing' ? [] : changes) };
      },
      places: [['account'], ['fact']],
    },
    traits: [],
    schema: () => section('a set-facts step', { as: account, facts: factChanges }),
    read({ as: name, facts }, at, scope) {
      checkAccount(name, [...at, 'as'], scope);
      return { verb: 'set-facts', account: name, facts: readFacts(facts, [...at, 'facts'], scope) };
    },
    words: (action) => `set-facts ${action.account}: ${factsWords(action.facts)}`,
    written: (action) => ({ as: action.account, facts: writtenFacts(action.facts) }),
  },
  (_policy, state, { account: name, facts }) => withAccount(state, name, (known) => withFacts(known, facts)),
);

function factsWords(facts: Facts): string {
  const words = [...facts].map(([name, values]) => `${name} ${values.join(' and ') || 'none'}`);
  return words.join(', ') || 'nothing';
}

/** Changes of facts as the language writes them. */
export function writtenFacts(facts: Facts): Record<string, string | readonly string[] | null> {
  const written = [...facts].map(
    ([name, values]) => [name, values.length > 1 ? values : (values[0] ?? null)] as const,
  );
  return Object.fromEntries(written);
}

/** Puts switches of the app otherwise. */
export interface SetFlag {
  readonly verb: 'set-flag';
  readonly flags: ReadonlyMap<string, boolean>;
}

export const setFlag = administratorStep<SetFlag, Readonly<Record<string, boolean>>>(
  {
    verb: 'set-flag',
    row: ['`set-flag: { maintenance: on }`', 'puts a switch of the app on or off'],
    typed: {
      usage: 'set-flag maintenance on',
      form: /^(?<flags>\S.*)$/,
      written: ({ flags: stands }) =>
        Object.fromEntries(listed(stands).map((each) => each.split(/ (?=\S+$)/) as [string, string])),
      places: [['flag'], ['=on', '=off']],
    },
    traits: [],
    schema: () => flags,
    read(stands, at, scope) {
      checkFlags(stands, at, scope);
      return { verb: 'set-flag', flags: new Map(Object.entries(stands)) };
    },
    words: (action) =>
      `set-flag ${[...action.flags].map(([name, isOn]) => `${name} ${onOff(isOn)}`).join(', ')}`,
    written: (action) => writtenFlags(action.flags),
  },
  (_policy, state, { flags: stands }) => switched(state, stands),
);

/** Switches as the language writes them. */
export function writtenFlags(flags: ReadonlyMap<string, boolean>): Record<string, 'on' | 'off'> {
  return Object.fromEntries([...flags].map(([name, isOn]) => [name, onOff(isOn)] as const));
}

function onOff(isOn: boolean): 'on' | 'off' {
  return isOn ? 'on' : 'off';
}

/** Starts the app again. */
export interface RestartApp {
  readonly verb: 'restart-app';
}

export const restartApp = administratorStep<RestartApp, null>(
  {
    verb: 'restart-app',
    row: ['`restart-app:`', 'starts the app again; sessions kept in `memory` are lost'],
    typed: alone('restart-app'),
    traits: ['restarts-app'],
    schema: () => nothing,
    read: () => ({ verb: 'restart-app' }),
    words: () => 'restart-app',
    written: () => null,
  },
  restarted,
);
