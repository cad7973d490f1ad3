import fc from 'fast-check';
import type { Instant } from '../../../src/core/time/clock';
import { FixedClock, type Clock } from '../../../src/core/time/clock';
import { everyWay } from '../../../src/core/proof/time/symbolic-clock';
import { Zone } from '../../../src/core/proof/time/zone';

const MOST = 8;

/** Questions about the ages of two clocks, the next depending on the answer before: a small tree. */
interface Question {
  readonly clock: 0 | 1;
  readonly limit: number;
  readonly yes: Question | null;
  readonly no: Question | null;
}

const { question } = fc.letrec<{ question: Question | null }>((tie) => ({
  question: fc.option(
    fc.record({
      clock: fc.constantFrom(0 as const, 1 as const),
      limit: fc.integer({ min: 0, max: MOST }),
      yes: tie('question'),
      no: tie('question'),
    }),
    { depthSize: 'small' },
  ),
}));

/** The answers to a tree of questions, as one word. */
function told(asked: Question | null, clock: Clock, since: readonly Instant[]): string {
  if (asked === null) return '';
  const answer = clock.elapsed(since[asked.clock] ?? (0 as Instant), asked.limit);
  return (answer ? 'y' : 'n') + told(answer ? asked.yes : asked.no, clock, since);
}

test('every way is one that some waits lead to, and all waits are among them', () => {
  fc.assert(
    fc.property(question, (asked) => {
      // Two clocks start, any time apart, and any time later they are asked about.
      const zone = Zone.empty().started().later().started();
      const ways = everyWay((clock) => told(asked, clock, [1 as Instant, 2 as Instant]), zone);
      const found = new Map(ways.map(({ result, zone: ages }) => [result, ages]));
      expect(found.size).toBe(ways.length);
      const seen = new Set<string>();
      for (let apart = 0; apart <= MOST; apart++) {
        for (let wait = 0; wait <= MOST; wait++) {
          const now = new FixedClock(apart + wait);
          const word = told(asked, now, [0 as Instant, apart as Instant]);
          const ages = found.get(word);
          seen.add(word);
          const fits = [1, 2].every((of) => {
            const { least = 1, greatest = 0 } = ages?.ages(of) ?? {};
            const age = of === 1 ? apart + wait : wait;
            return least <= age && age <= greatest;
          });
          if (!fits) throw new Error(`${word} does not stand for ages ${apart + wait} and ${wait}`);
        }
      }
      expect([...found.keys()].sort()).toEqual([...seen].sort());
    }),
    { numRuns: 500 },
  );
});

test('where no time passes, no question about the last step is open', () => {
  const ways = everyWay((clock) => clock.elapsed(1 as Instant, 1), Zone.empty().started(), false);
  expect(ways.map(({ result }) => result)).toEqual([false]);
});
