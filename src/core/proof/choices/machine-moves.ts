// Step 3 of docs/proof-method.md: what is tried.

import type { Account, Policy } from '../../language/policy.js';
import type { Move } from '../situations/moves.js';
import { PERSON } from './cast.js';
import type { RequestClass } from './requests.js';

/** What a machine asks for with its key, and with the one before where that is still taken. */
export function ofMachine(
  { apiKeys }: Policy,
  { name, key }: Account,
  classes: readonly RequestClass[],
): Move[] {
  if (apiKeys === null || !key) return [];
  const ages = apiKeys.overlap > 0 ? [false, true] : [false];
  return classes.flatMap(({ method, address, connectsFrom }) =>
    ages.map((isOld): Move => ({
      browser: PERSON,
      action: { verb: 'send', method, address, from: null, key: { account: name, isOld } },
      ...(connectsFrom && { connectsFrom }),
    })),
  );
}
