import { withAnotherKey, withoutKeys } from '../app/keys.js';
import { text } from '../language/text/schema-parts.js';
import { administratorStep } from './step-kind.js';
import { checkKey, type WalkScope } from './walk-scope.js';
import type { Path } from '../language/text/yaml-text.js';
import { one } from './typed-form.js';

/** Gives a machine another key. */
export interface RotateKey {
  readonly verb: 'rotate-key';
  readonly account: string;
}

/** Calls back every key of a machine. */
export interface RevokeKey {
  readonly verb: 'revoke-key';
  readonly account: string;
}

const machine = {
  schema: () => text('the account of a machine'),
  needs: { part: 'apiKeys', section: 'api-keys', because: 'this step is about a key' },
  written: ({ account }: { readonly account: string }) => account,
} as const;

/** The account that a step names, which is a machine's. */
function named(account: string, at: Path, scope: WalkScope): { readonly account: string } {
  checkKey(account, at, scope);
  return { account };
}

export const rotateKey = administratorStep<RotateKey, string>(
  {
    ...machine,
    verb: 'rotate-key',
    row: [
      '`rotate-key: crane`',
      'gives a machine another key, which it uses from then on; the one before is taken for the `overlap`',
    ],
    typed: one('rotate-key crane', 'machine'),
    traits: ['makes-key'],
    tale: ({ account }) => ({ who: null, deed: `${account} is given another key` }),
    read: (account, at, scope) => ({ verb: 'rotate-key', ...named(account, at, scope) }),
    words: ({ account }) => `rotate-key ${account}`,
  },
  (_policy, state, { account }, clock) => withAnotherKey(state, account, clock),
);

export const revokeKey = administratorStep<RevokeKey, string>(
  {
    ...machine,
    verb: 'revoke-key',
    row: ['`revoke-key: crane`', 'calls back every key of a machine, until it is given another'],
    typed: one('revoke-key crane', 'machine'),
    traits: [],
    tale: ({ account }) => ({ who: null, deed: `the key of ${account} is called back` }),
    read: (account, at, scope) => ({ verb: 'revoke-key', ...named(account, at, scope) }),
    words: ({ account }) => `revoke-key ${account}`,
  },
  (_policy, state, { account }) => withoutKeys(state, account),
);
