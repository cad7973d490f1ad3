import type { Path } from '../language/text/yaml-text.js';
import type { Played } from '../play/stage.js';
import { check } from './check.js';
import type { Facts } from './facts.js';

/** The addresses that people are sent to; of those that nothing in the policy is about, the first stands for all. */
function toldApart(facts: Facts): string[] {
  const isAboutNothing = (address: string) => {
    const route = facts.route(address);
    if (route === null || facts.policy.barriers.length > 0) return false;
    return route.page === null && route.rule === null && !route.hasSlash && route.taskMethods.length === 0;
  };
  const addresses = facts.targets.map((target) => target.address);
  const first = addresses.find(isAboutNothing);
  return addresses.filter((address) => address === first || !isAboutNothing(address));
}

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
    const targets = toldApart(facts);
    for (const who of facts.loginStates) {
      for (const address of new Set([...facts.sampleAddresses(who.account), ...targets])) {
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
