import { duration } from '../language/text/schema-parts.js';
import type { Instant } from '../time/clock.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import { condition, type Changed, type Condition, type Refused, type Visitor } from './condition.js';

/** That something was not too long ago; null where it does not matter. What was never, or long ago, does not do. */
export function within({
  key,
  reason,
  words,
  since,
  now,
}: {
  readonly key: string;
  readonly reason: Refused;
  readonly words: string;
  readonly since: (visitor: Visitor) => Instant | null;
  /** What makes it just now. */
  readonly now: (life: Seconds, at: Instant) => Changed;
}): Condition<Seconds | null, Seconds> {
  return condition<Seconds | null, Seconds>({
    key,
    schema: () => duration(),
    nothing: null,
    isAsked: (life) => life !== null,
    read: (life) => life,
    reason,
    admits(life, visitor, { clock }) {
      if (life === null) return true;
      const instant = since(visitor);
      return instant !== null && !clock.elapsed(instant, life);
    },
    changes: (life, visitor, { clock }) =>
      life === null || since(visitor) === clock.now ? [] : [now(life, clock.now)],
    compare({ before, after }) {
      if (before === after) return [];
      return [(after ?? Infinity) > (before ?? Infinity) ? 'loosens' : 'tightens'];
    },
    words: (life) => (life === null ? [] : [`${words} within ${formatDuration(life)}`]),
    keyed: (life) => life,
    turns: 'with-time',
    limit: (life) => (life === null ? null : { life, since }),
  });
}
