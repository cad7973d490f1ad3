import type { Walk } from '../steps/walk.js';
import { check } from './check.js';

/** Every walk has a name of its own. */
export const walkNameRepeated = check<{ name: string }>({
  meta: {
    code: 'walk-name-repeated',
    severity: 'warning',
    title: 'Every walk has a name of its own.',
    why: 'A report names the walk that failed; with two of a name nobody knows which.',
    cwe: null,
    mend: 'Give each walk a name of its own.',
  },
  *find(facts) {
    const first = new Map<string, Walk>();
    for (const walk of facts.walks) {
      if (first.has(walk.name)) {
        yield { at: [...walk.at, 'name'], input: walk.input, params: { name: walk.name } };
      } else first.set(walk.name, walk);
    }
  },
  message: ({ name }) => `another walk is called ${name} too`,
});
