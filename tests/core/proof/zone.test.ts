import fc from 'fast-check';
import { Zone } from '../../../src/core/proof/time/zone';

/** No age and no limit is larger than this, so that every one of them can be tried. */
const MOST = 6;

type Deed =
  | { readonly deed: 'wait' }
  | { readonly deed: 'start' }
  | {
      readonly deed: 'compare';
      readonly clock: number;
      readonly how: 'at-least' | 'at-most';
      readonly age: number;
    }
  | { readonly deed: 'drop'; readonly clock: number };

const deed: fc.Arbitrary<Deed> = fc.oneof(
  fc.constant<Deed>({ deed: 'wait' }),
  fc.constant<Deed>({ deed: 'start' }),
  fc
    .record({
      clock: fc.nat(3),
      how: fc.constantFrom('at-least' as const, 'at-most' as const),
      age: fc.integer({ min: 0, max: MOST }),
    })
    .map((each): Deed => ({ deed: 'compare', ...each })),
  fc.nat(3).map((clock): Deed => ({ deed: 'drop', clock })),
);

/** The ages that clocks can have, one by one; `horizon` is how far time is followed. */
function tried(deeds: readonly Deed[], horizon: number): Set<string> {
  let ages: number[][] = [[]];
  for (const each of deeds) {
    switch (each.deed) {
      case 'wait':
        ages = ages.flatMap((of) =>
          Array.from({ length: horizon + 1 }, (_, by) => of.map((age) => age + by)),
        );
        ages = unique(ages.filter((of) => of.every((age) => age <= horizon)));
        break;
      case 'start':
        ages = ages.map((of) => [...of, 0]);
        break;
      case 'compare':
        ages = ages.filter((of) => {
          const age = of[each.clock];
          return age === undefined || (each.how === 'at-least' ? age >= each.age : age <= each.age);
        });
        break;
      case 'drop':
        ages = unique(ages.map((of) => of.toSpliced(each.clock, 1)));
    }
  }
  return new Set(ages.map(String));
}

const unique = (ages: readonly number[][]): number[][] => [
  ...new Map(ages.map((of) => [String(of), of])).values(),
];

/** The zone that deeds lead to; null for no ages. */
function zoneAfter(deeds: readonly Deed[]): Zone | null {
  let zone: Zone | null = Zone.empty();
  for (const each of deeds) {
    if (zone === null) return null;
    if (each.deed === 'wait') zone = zone.later();
    else if (each.deed === 'start') zone = zone.started();
    else zone = each.clock + 1 < zone.size ? changed(zone, each) : zone;
  }
  return zone;
}

function changed(zone: Zone, each: Extract<Deed, { clock: number }>): Zone | null {
  const clock = each.clock + 1;
  return each.deed === 'compare'
    ? zone.where(clock, each.how, each.age)
    : zone.only(clocksOf(zone).filter((other) => other !== clock));
}

const clocksOf = ({ size }: Zone): number[] => Array.from({ length: size - 1 }, (_, at) => at + 1);

/** Whether ages lie within a zone. */
function has(zone: Zone, ages: readonly number[]): boolean {
  const all = [0, ...ages];
  return all.every((one, i) => all.every((other, j) => one - other <= zone.bound(i, j)));
}

/** Deeds of which no more than three clocks come. */
const deeds = fc.array(deed, { maxLength: 9 }).map((all) => {
  let clocks = 0;
  return all.filter((each) => {
    if (each.deed === 'start') return ++clocks <= 3;
    if (each.deed === 'drop' && each.clock < Math.min(clocks, 3)) clocks = Math.min(clocks, 3) - 1;
    return true;
  });
});

test('a zone has just the ages that trying them one by one finds', () => {
  fc.assert(
    fc.property(deeds, (done) => {
      const zone = zoneAfter(done);
      // Followed far enough for every age up to the most to have been reached.
      const found = tried(done, 3 * MOST);
      if (zone === null) {
        expect([...found]).toEqual([]);
        return;
      }
      const clocks = zone.size - 1;
      for (let at = 0; at < (MOST + 1) ** clocks; at++) {
        const ages = Array.from(
          { length: clocks },
          (_, clock) => Math.floor(at / (MOST + 1) ** clock) % (MOST + 1),
        );
        expect([ages, has(zone, ages)]).toEqual([ages, found.has(String(ages))]);
      }
    }),
    { numRuns: 400 },
  );
});

test('one that is coarsened has more ages, but none that a comparison tells from one it had', () => {
  const after = (zone: Zone | null, compared: readonly Deed[]): boolean => {
    let left = zone;
    for (const each of compared) {
      if (left === null || each.deed !== 'compare' || each.clock + 1 >= left.size) continue;
      left = left.later().where(each.clock + 1, each.how, each.age);
    }
    return left !== null;
  };
  fc.assert(
    fc.property(deeds, fc.array(deed, { maxLength: 5 }), (done, next) => {
      const zone = zoneAfter(done);
      if (zone === null) return;
      const coarse = zone.coarsened(clocksOf(zone).map(() => MOST));
      expect(coarse.includes(zone)).toBe(true);
      // "at most 6" would tell 6 from 7: comparisons are "at least" a limit, or "at most" one second short of it.
      const compared = next.map((each) =>
        each.deed === 'compare' && each.how === 'at-most'
          ? { ...each, age: Math.max(0, each.age - 1) }
          : each,
      );
      expect(after(coarse, compared)).toBe(after(zone, compared));
    }),
    { numRuns: 2000 },
  );
});

test('bounds of ages are told', () => {
  const zone = Zone.empty().started().later().where(1, 'at-least', 3)?.where(1, 'at-most', 5);
  expect(zone?.ages(1)).toEqual({ least: 3, greatest: 5 });
  expect(zone?.later().ages(1)).toEqual({ least: 3, greatest: Infinity });
  expect(zone?.started().ages(2)).toEqual({ least: 0, greatest: 0 });
});
