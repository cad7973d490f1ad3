/** A length of time in whole seconds, the tick of the virtual clock. */
export type Seconds = number;

const UNITS = [
  ['d', 86_400],
  ['h', 3_600],
  ['m', 60],
  ['s', 1],
] as const;

/** The longest duration the language takes, in days: ten years, beyond any login. */
export const LONGEST_DAYS = 3_650;

/**
 * Reads a duration such as `45s`, `30m` or `1h30m` (units from large to small, each at most once).
 * Gives the number of seconds, or a sentence on what is wrong with it.
 *
 * @example parseDuration('1h30m') // 5400
 * @example parseDuration('-5m')   // 'a duration cannot be negative'
 */
export function parseDuration(text: string): Seconds | string {
  if (text.trim().startsWith('-')) return 'a duration cannot be negative';
  const parts = /^(?:(\d{1,12})d)?(?:(\d{1,12})h)?(?:(\d{1,12})m)?(?:(\d{1,12})s)?$/.exec(text);
  if (parts === null || text === '') {
    return 'a duration is written like 45s, 30m, 8h, 14d or 1h30m (whole numbers, larger units first)';
  }
  const total = UNITS.reduce((sum, [, size], index) => sum + size * Number(parts[index + 1] ?? 0), 0);
  if (total > LONGEST_DAYS * 86_400) return `a duration is at most ${LONGEST_DAYS}d (ten years)`;
  return total;
}

/**
 * Writes seconds the way the language reads them.
 *
 * @example formatDuration(5405) // '1h30m5s'
 */
export function formatDuration(seconds: Seconds): string {
  let rest = seconds;
  let text = '';
  for (const [unit, size] of UNITS) {
    const count = Math.floor(rest / size);
    if (count > 0) text += `${count}${unit}`;
    rest -= count * size;
  }
  return text === '' ? '0s' : text;
}
