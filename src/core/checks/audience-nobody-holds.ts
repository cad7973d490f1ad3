import { isContradiction } from './audience-unsatisfiable.js';
import { check } from './check.js';

/** Some account is in every audience. */
export const audienceNobodyHolds = check<{ account: string | null }>({
  meta: {
    code: 'audience-nobody-holds',
    severity: 'warning',
    title: 'Some account is in every audience.',
    why: 'What no account of the policy can see is never shown in a walk, so nobody knows whether it is right.',
    cwe: null,
    mend: 'Give an account the role, or take the audience out.',
  },
  *find(facts) {
    const { accounts, pages, rules } = facts.policy;
    if (accounts.size === 0) return;
    const given = new Set(pages.flatMap(({ sets }) => [...(sets?.keys() ?? [])]));
    for (const { audiences } of [...pages, ...rules]) {
      for (const stated of new Set([audiences.read, audiences.write, ...audiences.methods.values()])) {
        if (
          stated === null ||
          stated.audience.who !== 'some' ||
          isContradiction(stated.audience, facts.policy)
        ) {
          continue;
        }
        const { audience } = stated;
        // What a page gives its visitors somebody can come to have.
        const wanted = new Map([...audience.facts].filter(([name]) => !given.has(name)));
        const asked = { ...audience, facts: wanted, account: null };
        const held = facts.firstOf([asked], NO_PARAMETERS, (isIn) => isIn(asked), facts.accounts);
        if (held === undefined) yield { at: stated.at, params: { account: null } };
      }
    }
  },
  message: () => 'no account of the policy is in this audience',
});

const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();
