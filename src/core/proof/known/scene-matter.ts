// Step 7 of docs/proof-method.md: what is known already.

import { accountClasses, factsKey } from '../../app/classes.js';
import { valueUnder } from '../../language/text/plain.js';
import type { Policy } from '../../language/policy.js';
import type { Job } from './scene-outcome.js';

/** What is told of findings, of walks and to people bears on no scene. */
const TOLD: ReadonlySet<string> = new Set(['app', 'accepted', 'walks', 'accounts']);

/**
 * All that what comes of a scene can hang on, as text: the job, and the policy as it is written but for comments, what is only told,
 * and in scenes of one account what the others are given. Those tell by their names, since pages may be named after them, and by
 * which of them are alike.
 *
 * @param written the policy as it was read, before anything was made of it
 */
export function sceneMatter(job: Job, policy: Policy, written: unknown): string {
  const { account } = job.cast;
  const all = valueUnder(written, 'accounts');
  const accounts =
    // Whoever acts for others is what these are.
    account === null || policy.impersonation !== null
      ? all
      : {
          own: valueUnder(all, account),
          names: [...policy.accounts.keys()],
          kinds: accountClasses(policy).map(({ account: { name, facts } }) => [name, factsKey(facts)]),
        };
  const rest = Object.entries(written ?? {}).filter(([key]) => !TOLD.has(key));
  return JSON.stringify([job, accounts, rest]);
}
