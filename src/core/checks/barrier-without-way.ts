import { isPassedByFacts } from '../app/barriers.js';
import { check } from './check.js';

/** Whoever a barrier sends on to pass it can pass it. */
export const barrierWithoutWay = check<{ name: string; to: string; facts: string }>({
  meta: {
    code: 'barrier-without-way',
    severity: 'error',
    title: 'Whoever a barrier sends on to pass it can pass it.',
    why: 'The barrier goes by something that nobody can change about themselves: whoever it stops is stopped for good.',
    cwe: null,
    mend: 'Write at the page where people pass what it gives them, such as sets: { terms: accepted }.',
  },
  *find({ policy }) {
    for (const barrier of policy.barriers) {
      const { at, name, sends, stops } = barrier;
      if (sends === null || stops.audience.who !== 'some' || !isPassedByFacts(barrier)) continue;
      const asked = [...stops.audience.facts];
      const isPassed = policy.pages.some(({ sets }) =>
        asked.some(([fact, values]) => {
          const given = sets?.get(fact);
          return given !== undefined && !given.some((value) => values.values.includes(value));
        }),
      );
      if (isPassed) continue;
      yield {
        at: [...at, 'stops'],
        params: { name, to: sends, facts: asked.map(([fact]) => fact).join(', ') },
      };
    }
  },
  message: ({ name, to, facts }) =>
    `the barrier ${name} sends people to ${to}, and no page gives them other ${facts}: nobody can pass`,
});
