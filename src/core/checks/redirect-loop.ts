import type { Path } from '../language/yaml-text.js';
import type { Played } from '../play/stage.js';
import { check } from './check.js';

/** Redirects must come to an end, for every page and everybody. */
export const redirectLoop = check<{ who: string; cycle: readonly string[] }>({
  meta: {
    code: 'redirect-loop',
    severity: 'error',
    title: 'Redirects come to an end.',
    why: 'The browser gives up after twenty redirects with an error page, and the visitor is locked out.',
    cwe: 'CWE-835',
    mend: 'Let one of the pages on the way admit those who are sent to it, or send them elsewhere.',
  },
  *find(facts) {
    const reported = new Set<string>();
    for (const who of facts.loginStates) {
      const addresses = [
        ...facts.sampleAddresses(who.account),
        ...facts.targets.map((target) => target.address),
      ];
      for (const address of addresses) {
        const played = facts.visit(who, address);
        if (played.cutShort !== 'redirect-loop') continue;
        const { cycle, at } = cycleOf(played);
        const key = [...cycle].sort().join(' ');
        if (reported.has(key)) continue;
        reported.add(key);
        yield { at, params: { who: who.account ?? 'a guest', cycle } };
      }
    }
  },
  message: ({ who, cycle }) => `${who} is sent round in a circle: ${[...cycle, cycle[0] ?? ''].join(' → ')}`,
});

/** The paths that repeat at the end of a way, and the place of the policy that sent the visitor into them. */
function cycleOf(played: Played): { readonly cycle: readonly string[]; readonly at: Path } {
  const paths = played.exchanges.map((exchange) => exchange.request.path);
  const last = paths.length - 1;
  const before = paths.lastIndexOf(paths[last] ?? '', last - 1);
  return { cycle: paths.slice(before, last), at: played.exchanges[before]?.explanation.decidedBy ?? [] };
}
