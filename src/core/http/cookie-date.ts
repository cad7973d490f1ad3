import type { Seconds } from '../time/duration.js';

/** The day on which the virtual clock stands at zero: 1 January 2026, in days from 1 January 1970. */
const FIRST_DAY = 20_454;
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

interface Found {
  time: readonly [number, number, number] | null;
  day: number | null;
  month: number | null;
  year: number | null;
}

/**
 * Reads a cookie's date by the algorithm of RFC 6265bis §5.1.1, in seconds on the virtual clock, whose zero is the first
 * second of 2026; null for what is none.
 *
 * @example parseCookieDate('Thu, 01 Jan 2026 00:01:00 GMT') // 60
 */
export function parseCookieDate(text: string): Seconds | null {
  const found: Found = { time: null, day: null, month: null, year: null };
  // Steps 1 and 2: tokens between delimiters, each taken for the first thing that is still missing and fits.
  for (const token of text.split(/[\t\u0020-/;-@[-`{-~]+/)) takeToken(token, found);
  const { time, day, month, year } = found;
  // Step 5: everything must be there and within its bounds.
  if (time === null || day === null || month === null || year === null) return null;
  const [hour, minute, second] = time;
  if (day < 1 || year < 1601 || hour > 23 || minute > 59 || second > 59) return null;
  if (day > daysIn(month, year)) return null;
  return (daysBefore(year, month, day) - FIRST_DAY) * 86_400 + hour * 3_600 + minute * 60 + second;
}

function takeToken(token: string, found: Found): void {
  const time = /^(\d{1,2}):(\d{1,2}):(\d{1,2})(?:\D|$)/.exec(token);
  const day = /^(\d{1,2})(?:\D|$)/.exec(token);
  const month = MONTHS.indexOf(token.slice(0, 3).toLowerCase());
  const year = /^(\d{2,4})(?:\D|$)/.exec(token);
  if (found.time === null && time !== null) {
    found.time = [Number(time[1]), Number(time[2]), Number(time[3])];
  } else if (found.day === null && day !== null) found.day = Number(day[1]);
  else if (found.month === null && month >= 0) found.month = month;
  else if (found.year === null && year !== null) found.year = fullYear(Number(year[1]));
}

/** Steps 3 and 4: two digits stand for a year from 1970 to 2069. */
function fullYear(year: number): number {
  if (year >= 70 && year <= 99) return year + 1900;
  return year <= 69 ? year + 2000 : year;
}

function daysIn(month: number, year: number): number {
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  return [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month] ?? 0;
}

/** The days from 1 January 1970 to a date of the Gregorian calendar. */
function daysBefore(year: number, month: number, day: number): number {
  const before = year - 1;
  const years = before * 365 + Math.floor(before / 4) - Math.floor(before / 100) + Math.floor(before / 400);
  let days = years - 719_162 + day - 1;
  for (let each = 0; each < month; each++) days += daysIn(each, year);
  return days;
}
