import fc from 'fast-check';
import { earliest, START, type Between } from '../../../src/core/proof/time/waits';

describe('waits', () => {
  const STEPS = 5;
  const between = fc.record({
    earlier: fc.integer({ min: START, max: STEPS - 2 }),
    by: fc.integer({ min: 1, max: STEPS - 1 }),
    how: fc.constantFrom('at-least' as const, 'at-most' as const),
    seconds: fc.nat(6),
  });
  const all = fc.array(between, { maxLength: 5 }).map((each) =>
    each.map(({ earlier, by, how, seconds }): Between => ({
      earlier,
      later: Math.min(STEPS - 1, earlier + by),
      how,
      seconds,
    })),
  );
  const fits = (times: readonly number[], each: readonly Between[]) =>
    each.every(({ earlier, later, how, seconds }) => {
      const apart = (times[later] ?? 0) - (times[earlier] ?? 0);
      return how === 'at-least' ? apart >= seconds : apart <= seconds;
    });

  test('are the earliest that fit, and there are none only where none fit', () => {
    fc.assert(
      fc.property(all, (asked) => {
        const times = earliest(STEPS, asked);
        let ends: number[][] = [[]];
        // No step need wait longer than the longest that is asked for.
        for (let step = 0; step < STEPS; step++) {
          ends = ends.flatMap((of) =>
            Array.from({ length: 7 }, (_, wait) => [...of, (of.at(-1) ?? 0) + wait]).filter((next) =>
              fits(
                next,
                asked.filter(({ later }) => later <= step),
              ),
            ),
          );
        }
        if (times === null) {
          expect(ends).toEqual([]);
          return;
        }
        expect(fits(times, asked)).toBe(true);
        expect(times.at(-1)).toBe(Math.min(...ends.map((of) => of.at(-1) ?? 0)));
      }),
      { numRuns: 300 },
    );
  });
});
