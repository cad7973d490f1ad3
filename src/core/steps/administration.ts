import * as z from 'zod';
import { restarted, withAccount, withRoles } from '../app/administration.js';
import { section, text } from '../language/schema-parts.js';
import { administratorStep } from './step-kind.js';
import { account, nothing } from './step-schemas.js';
import { checkAccount, checkRole } from './walk-scope.js';

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
    row: ['`set-password: { as: ines, password: new }`', 'gives an account another password'],
    schema: () => section('a set-password step', { as: account, password: text('a password') }),
    read({ as: name, password }, at, scope) {
      checkAccount(name, [...at, 'as'], scope);
      scope.changed.set(name, password);
      return { verb: 'set-password', account: name, password };
    },
    words: (action) => `set-password ${action.account}`,
    written: (action) => ({ as: action.account, password: action.password }),
  },
  (_policy, state, { account: name, password }) =>
    withAccount(state, name, (known) => ({ ...known, password })),
);

/** Starts the app again. */
export interface RestartApp {
  readonly verb: 'restart-app';
}

export const restartApp = administratorStep<RestartApp, null>(
  {
    verb: 'restart-app',
    row: ['`restart-app:`', 'starts the app again; sessions kept in `memory` are lost'],
    schema: () => nothing,
    read: () => ({ verb: 'restart-app' }),
    words: () => 'restart-app',
    written: () => null,
  },
  restarted,
);
