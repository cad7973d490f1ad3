import type { AcceptedDifference, LiveConfig } from './live-config.js';
import type { Description } from './described-by.js';
import type { LiveFinding, LiveWalk } from './findings.js';
import { ASPECTS, type Aspect } from './observation.js';

/** A finding with the line of the policy that would describe the app; null where no small change does. */
export type DescribedFinding = LiveFinding & { readonly describedBy: Description | null };

/** What came of a run. */
export interface LiveResult {
  readonly walks: readonly LiveWalk[];
  readonly findings: readonly DescribedFinding[];
  readonly requests: number;
  /** How many walks were played on one app and one clock. */
  readonly together: number;
  /** Why nothing was played in a browser that would have been; null where it was, or nothing asked for it. */
  readonly withoutBrowser: string | null;
  /** Cuts out of a text what must not be seen. */
  readonly cut: (text: string) => string;
}

/** Findings parted by whether their owner knows of them, with the entries that silence nothing. */
export interface SettledFindings {
  readonly open: readonly DescribedFinding[];
  readonly accepted: readonly { readonly finding: DescribedFinding; readonly because: string }[];
  readonly idle: readonly AcceptedDifference[];
}

/**
 * Holds findings against what live.yaml accepts.
 *
 * @param isAll whether all walks were played: of those that were not nobody knows what they would show
 */
export function settled(
  findings: readonly DescribedFinding[],
  { accepted }: Pick<LiveConfig, 'accepted'>,
  isAll: boolean,
): SettledFindings {
  const entryFor = ({ title }: DescribedFinding) => accepted.find(({ difference }) => difference === title);
  return {
    open: findings.filter((finding) => entryFor(finding) === undefined),
    accepted: findings.flatMap((finding) => {
      const entry = entryFor(finding);
      return entry === undefined ? [] : [{ finding, because: entry.because }];
    }),
    idle: !isAll
      ? []
      : accepted.filter(({ difference }) => findings.every(({ title }) => title !== difference)),
  };
}

/** How much of some walks was judged, and why the rest was not. */
export interface Judged {
  readonly steps: number;
  /** Of what can be seen of a step how much was held against the policy, and how much there was. */
  readonly seen: number;
  readonly all: number;
  /** The steps that were not played, by the reason; and the walks that they are in. */
  readonly notPlayed: readonly {
    readonly reason: string;
    readonly steps: number;
    readonly walks: readonly string[];
  }[];
  /** The aspects of played steps that were not judged, by aspect and reason. */
  readonly unjudged: readonly { readonly aspect: Aspect; readonly reason: string; readonly steps: number }[];
}

/** Counts what was judged. Of a walk that was played by requests and in a browser that counts which either told. */
export function judgedIn(walks: readonly LiveWalk[]): Judged {
  const notPlayed = new Map<string, { reason: string; steps: number; walks: string[] }>();
  const unjudged = new Map<string, { aspect: Aspect; reason: string; steps: number }>();
  let [steps, seen, all] = [0, 0, 0];
  for (const walk of new Set(walks.map((each) => each.walk))) {
    const plays = walks.filter((each) => each.walk === walk);
    // What is asked once a walk is over is no step of it.
    const longest = Math.min(walk.steps.length, Math.max(...plays.map((play) => play.steps.length)));
    steps += longest;
    const cut = plays.find((play) => play.steps.length >= longest)?.cut ?? null;
    if (cut !== null) {
      const entry = notPlayed.get(cut) ?? { reason: cut, steps: 0, walks: [] };
      entry.steps += walk.steps.length - longest;
      entry.walks.push(walk.name);
      notPlayed.set(cut, entry);
    }
    for (let step = 0; step < longest; step++) {
      const told = plays.flatMap((play) => play.steps[step] ?? []);
      // A step that asks the app nothing has nothing to be told of it.
      if (told.every(({ result }) => result.played.exchanges.length === 0)) continue;
      all += ASPECTS.length;
      for (const aspect of ASPECTS) {
        const reasons = told.map((each) => each.seen.unjudged.get(aspect));
        const [reason] = reasons;
        if (reason === undefined || reasons.includes(undefined)) {
          seen += 1;
          continue;
        }
        const key = `${aspect} ${reason}`;
        const entry = unjudged.get(key) ?? { aspect, reason, steps: 0 };
        entry.steps += 1;
        unjudged.set(key, entry);
      }
    }
  }
  return { steps, seen, all, notPlayed: [...notPlayed.values()], unjudged: [...unjudged.values()] };
}
