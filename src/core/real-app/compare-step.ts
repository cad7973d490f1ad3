import { sameAddress } from '../walks/expectations.js';
import type { Policy } from '../language/policy.js';
import { keysOf } from '../vocabulary/tables.js';
import { addressReader } from '../http/address.js';
import { divergenceOf, type Divergence } from './divergence.js';
import type { StepResult } from '../walks/runner.js';
import { ASPECTS, SOMEBODY, type Aspect, type Observed } from './observation.js';
import { hasTrait } from '../steps/asking.js';

/** What differences come to, the worst first. */
export const DIFFERENCE_CLASSES = {
  opens: 'opens more than it should',
  refuses: 'refuses more',
  lands: 'lands elsewhere',
  holds: 'holds or ends otherwise',
  way: 'another way or status only',
} as const;
export type DifferenceClass = keyof typeof DIFFERENCE_CLASSES;
export const CLASS_ORDER = keysOf(DIFFERENCE_CLASSES);

/** Something of a step that the app does otherwise. */
export interface AspectDifference {
  readonly aspect: Aspect;
  readonly policy: string;
  readonly app: string;
}

/** How a step came out otherwise at the app than by the policy. */
export interface StepDifference {
  readonly class: DifferenceClass;
  readonly aspects: readonly AspectDifference[];
  /** The first request that was answered otherwise; null where all were answered alike. */
  readonly divergence: Divergence | null;
  /** Whether the app has other records from here on, or the browser other credentials: what comes later may follow from it. */
  readonly changesState: boolean;
  /** Whether another page is in front. */
  readonly changesPage: boolean;
}

/** Holds what an app did in a step against what the policy says of it; null where they agree. */
export function compareStep(policy: Policy, result: StepResult, seen: Observed): StepDifference | null {
  const read = addressReader(policy.routing);
  const sameAs: SameAddress = (one, other) =>
    one === other || (one !== null && other !== null && isSameAddress(read(one), read(other)));
  // Of somebody who was hindered it is told by what, and not that nothing came of it.
  const isLeft = (aspect: Aspect) =>
    seen.unjudged.has(aspect) || (seen.hindrance !== null && OF_AN_ANSWER.has(aspect));
  const aspects = ASPECTS.flatMap((aspect) =>
    isLeft(aspect) ? [] : (differenceIn(aspect, result, seen, sameAs) ?? []),
  );
  if (seen.hindrance !== null) {
    const app = `nowhere (${seen.hindrance})`;
    aspects.unshift({ aspect: 'lands', policy: wordsOf(result.outcome.lands), app });
  }
  if (aspects.length === 0) return null;
  const divergence = divergenceOf(policy, result, seen);
  const sides: Sides = {
    result,
    seen,
    divergence,
    has: (aspect) => aspects.some((each) => each.aspect === aspect),
  };
  const name = classOf(sides);
  return {
    class: name,
    aspects,
    divergence,
    changesState:
      sides.has('holds') || sides.has('seen-as') || sides.has('refreshes') || isOfState(divergence),
    changesPage:
      sides.has('lands') ||
      seen.hindrance !== null ||
      (divergence !== null && divergence.policy !== divergence.app),
  };
}

const OF_AN_ANSWER: ReadonlySet<Aspect> = new Set<Aspect>(['lands', 'status', 'via', 'menu', 'parts']);

/** Whether a request was answered otherwise that hands something out, ends something or shows what somebody holds. */
function isOfState(divergence: Divergence | null): boolean {
  if (divergence === null) return false;
  const { exchange, policy, app } = divergence;
  return (
    (exchange.route?.task ?? null) !== null ||
    (policy === 'given' && app === 'unknown') ||
    (policy === 'unknown' && app === 'given')
  );
}

const wordsOf = (value: string | number | null) => String(value ?? 'nothing');
const listOf = (values: readonly string[]) => (values.length === 0 ? 'nothing' : values.join(', '));

type SameAddress = (one: string | null, other: string | null) => boolean;

function differenceIn(
  aspect: Aspect,
  result: StepResult,
  seen: Observed,
  sameAs: SameAddress,
): AspectDifference | null {
  const { outcome } = result;
  const differs = (policy: string, app: string) => ({ aspect, policy, app });
  switch (aspect) {
    case 'lands':
      if (!isMoving(result, seen)) return null;
      return sameAs(outcome.lands, seen.lands) ? null : differs(wordsOf(outcome.lands), wordsOf(seen.lands));
    case 'status': {
      if (seen.isThere !== null) {
        const isShown = outcome.refused === null;
        const words = (is: boolean) => (is ? 'the page is shown' : 'the page is not shown');
        return isShown === seen.isThere ? null : differs(words(isShown), words(seen.isThere));
      }
      return outcome.status === seen.status ? null : differs(wordsOf(outcome.status), wordsOf(seen.status));
    }
    case 'seen-as': {
      const expected = expectedSeenAs(result, seen);
      const isSame =
        seen.seenAs === null ||
        expected === null ||
        seen.seenAs === expected ||
        (seen.seenAs === SOMEBODY && expected !== 'guest');
      return isSame ? null : differs(wordsOf(expected), wordsOf(seen.seenAs));
    }
    case 'via': {
      const isSame =
        outcome.via.length === seen.via.length &&
        outcome.via.every((address, at) => sameAs(address, seen.via[at] ?? null));
      return isSame ? null : differs(listOf(outcome.via), listOf(seen.via));
    }
    case 'refreshes':
      return outcome.refreshes === seen.refreshes
        ? null
        : differs(wordsOf(outcome.refreshes), wordsOf(seen.refreshes));
    case 'menu': {
      const more = seen.menu.filter((link) => !outcome.menu.includes(link));
      const less = outcome.menu.filter((link) => !seen.menu.includes(link));
      return more.length + less.length === 0 ? null : differs(listOf(less), listOf(more));
    }
    case 'parts': {
      const more = seen.parts.filter((part) => !outcome.parts.includes(part));
      const less = outcome.parts.filter((part) => !seen.parts.includes(part));
      return more.length + less.length === 0 ? null : differs(listOf(less), listOf(more));
    }
    case 'holds':
      return outcome.holds.join() === seen.holds.join()
        ? null
        : differs(listOf(outcome.holds), listOf(seen.holds));
  }
}

/** Whether anything was asked in a step, or another page came to the front: what is not asked for is as it was. */
function isMoving({ played: { exchanges }, step: { action } }: StepResult, { messages }: Observed): boolean {
  return exchanges.length + messages.length > 0 || MOVES.some((trait) => hasTrait(action, trait));
}

const MOVES = ['shows-kept', 'changes-tab'] as const;

/** Whether two addresses are the same, their queries included. */
function isSameAddress(one: string, other: string): boolean {
  return sameAddress(one, other) && sameAddress(other, one);
}

interface Sides {
  readonly result: StepResult;
  readonly seen: Observed;
  readonly divergence: Divergence | null;
  readonly has: (aspect: Aspect) => boolean;
}

function classOf({ result, seen, divergence, has }: Sides): DifferenceClass {
  const expected = expectedSeenAs(result, seen);
  if (divergence !== null) {
    const { policy, app } = divergence;
    if (policy !== 'given' && app === 'given') return 'opens';
    if (policy === 'given' && app === 'unknown' && expected !== 'guest') return 'holds';
    if (policy === 'given' && app !== 'given') return 'refuses';
  }
  if (seen.hindrance !== null) return 'refuses';
  if (has('seen-as') && seen.seenAs !== 'guest') return 'opens';
  if (has('lands')) return has('seen-as') && expected !== 'guest' ? 'holds' : 'lands';
  if (seen.isThere !== null && has('status')) return seen.isThere ? 'opens' : 'refuses';
  return has('holds') || has('seen-as') ? 'holds' : 'way';
}

/** Whom the policy has signed in, as it is told: by the last answer, by the page in front, or by script, which goes by its tokens. */
export function expectedSeenAs({ outcome, played }: StepResult, { toldBy }: Observed): string | null {
  switch (toldBy) {
    case 'answer':
      return outcome.seenAs;
    case 'page': {
      const page = played.exchanges.findLast(({ purpose }) => purpose === 'navigate');
      return page === undefined ? null : (page.explanation.seenAs ?? 'guest');
    }
    case 'script':
      return played.browser.tab.tokens?.claims.account ?? 'guest';
  }
}
