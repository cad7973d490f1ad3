import { sameQuery } from '../http/address.js';
import { normalisePath } from '../paths/normalise.js';
import type { Reason } from '../app/reasons.js';
import type { Outcome } from '../steps/outcome.js';
import type { Expectations } from '../steps/walk.js';

/** Something that came out otherwise than the walk says. Values are as the language writes them. */
export interface Difference {
  readonly key:
    | 'lands'
    | 'status'
    | 'seen-as'
    | 'acted-by'
    | 'why'
    | 'via'
    | 'session'
    | 'refreshes'
    | 'shows'
    | 'hides'
    | 'holds'
    | 'lacks'
    | 'reaches'
    | 'expect-broken'
    /** What the step itself says: `login: ines` says that ines is signed in by it. */
    | 'step';
  readonly expected: string;
  readonly actual: string;
}

/** A difference in words. */
export function differenceWords({ key, expected, actual }: Difference): string {
  if (key === 'step') return `says ${expected}, which did not come about: ${actual}`;
  const isSentence = key === 'lands' && actual.includes(WAS_REFUSED);
  return `expects ${key} ${expected}; ${isSentence ? '' : 'it was '}${actual}`;
}

const WAS_REFUSED = ' was asked for and refused: ';

/**
 * Holds a step's outcome against what the walk expects of it; an empty list where all of it is met.
 *
 * @param reached tries every page, which is done only where it is expected
 */
export function compare(
  expects: Expectations,
  outcome: Outcome,
  reached: () => readonly string[],
): readonly Difference[] {
  const differences: Difference[] = [];
  const hold = (key: Difference['key'], expected: string | number | null, actual: string | number | null) => {
    if (expected === null || expected === actual) return;
    differences.push({ key, expected: String(expected), actual: String(actual ?? 'nothing') });
  };
  if (expects.lands !== null) {
    if (!sameAddress(expects.lands, outcome.lands)) hold('lands', expects.lands, outcome.lands);
    else if (!isShown(expects, outcome)) {
      const { refused, why } = outcome;
      const said = [refused?.status === 0 ? '' : String(refused?.status ?? ''), why ?? ''];
      const actual = `${outcome.lands ?? ''}${WAS_REFUSED}${said.filter((each) => each !== '').join(', ')}`;
      differences.push({ key: 'lands', expected: expects.lands, actual });
    }
  }
  hold('status', expects.status, outcome.status);
  if (expects.status === outcome.status && isOfAnother(expects, outcome)) {
    const actual = `that of ${outcome.lands ?? 'another page'}: what was asked for was refused, ${outcome.why ?? ''}`;
    differences.push({ key: 'status', expected: String(expects.status), actual });
  }
  hold('seen-as', expects.seenAs, outcome.seenAs);
  hold('acted-by', expects.actedBy, outcome.seenAs === null ? null : (outcome.actedBy ?? 'nobody'));
  hold('why', expects.why, outcome.why);
  if (expects.via !== null && !sameWay(expects.via, outcome.via)) {
    hold('via', wayText(expects.via), wayText(outcome.via));
  }
  if (expects.session !== null) hold('session', expects.session, outcome.session);
  hold('refreshes', expects.refreshes, outcome.refreshes);
  const { shows, hides, holds, lacks } = expects;
  const wish = (key: Difference['key'], wrong: readonly string[] | undefined, actual: readonly string[]) => {
    if (wrong === undefined || wrong.length === 0) return;
    differences.push({ key, expected: wrong.join(', '), actual: actual.join(', ') || 'nothing' });
  };
  if (shows !== null || hides !== null) {
    const seen = [...outcome.menu, ...outcome.parts];
    wish(
      'shows',
      shows?.filter((each) => !seen.includes(each)),
      seen,
    );
    wish(
      'hides',
      hides?.filter((each) => seen.includes(each)),
      seen,
    );
  }
  if (holds !== null || lacks !== null) {
    const held = outcome.holds;
    wish(
      'holds',
      holds?.filter((each) => !held.includes(each)),
      held,
    );
    wish(
      'lacks',
      lacks?.filter((each) => held.includes(each)),
      held,
    );
  }
  if (expects.reaches !== null) {
    const wanted = [...new Set(expects.reaches)].sort().join(', ');
    hold('reaches', wanted, [...reached()].sort().join(', '));
  }
  return differences;
}

/** Whether the page where it lands is shown, or the expectation says itself that it is not. */
function isShown({ status, why }: Expectations, { refused }: Outcome): boolean {
  return refused === null || status !== null || (refused.by !== 'app' && why !== null);
}

/**
 * Whether a status that says that all went well is that of the page to which a refusal led, as the login's, and nothing else is
 * said of where it leads.
 */
function isOfAnother({ status, lands, seenAs, why }: Expectations, outcome: Outcome): boolean {
  if (status === null || status >= 300 || lands !== null || seenAs !== null || why !== null) return false;
  return outcome.why !== null && !WENT_WELL.has(outcome.why);
}

/** The reasons for which somebody gets what they asked for, if by way of another address. */
const WENT_WELL: ReadonlySet<Reason> = new Set<Reason>([
  'served',
  'forwarded',
  'insecure-scheme',
  'unsafe-return',
]);

/** The query counts only where the expectation writes one. */
export function sameAddress(expected: string, actual: string | null): boolean {
  if (actual === null) return false;
  if (expected === actual) return true;
  const [one, other] = [split(expected), split(actual)];
  return one.path === other.path && (one.query === '' || sameQuery(one.query, other.query));
}

function split(address: string): { readonly path: string; readonly query: string } {
  const at = address.indexOf('?');
  const path = at < 0 ? address : address.slice(0, at);
  // However a path is encoded, it is the same one.
  return { path: normalisePath(path) ?? path, query: at < 0 ? '' : address.slice(at) };
}

function sameWay(expected: readonly string[], actual: readonly string[]): boolean {
  return (
    expected.length === actual.length &&
    expected.every((address, at) => sameAddress(address, actual[at] ?? null))
  );
}

function wayText(addresses: readonly string[]): string {
  return addresses.length === 0 ? 'no redirect' : addresses.join(' → ');
}
