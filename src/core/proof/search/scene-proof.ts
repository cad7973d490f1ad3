// Step 5 of docs/proof-method.md: cover and search.

import { counterexample, type Counterexample } from './counterexample.js';
import { Cover } from './cover.js';
import { goalMissed, lawOf, leastSecondsTo, type Goal } from './goals.js';
import { Search, type Guide } from './search.js';
import type { Scene } from './scene.js';
import { firstSituation } from '../situations/situation.js';
import type { Way } from './trail.js';

/** What is known of a goal in a scene. */
export type Finding =
  { readonly verdict: 'holds' } | Broken | { readonly verdict: 'open'; readonly because: string };

export interface Broken {
  readonly verdict: 'broken';
  /** The shortest walk of all. */
  readonly by: Counterexample;
  /** The shortest of each other way in which it is broken: by what is weak, where and for whom. */
  readonly also: readonly Counterexample[];
  /** Further ways that may be there, for which no walk was looked for. */
  readonly others: readonly string[];
}

/** So many ways in which a law is broken are shown. */
export const MOST_WAYS = 5;

/** The shortest walk of each way in which a goal is missed, nearest first, of all that is known of it. */
export function brokenBy(walks: readonly Counterexample[], unsought: readonly string[]): Broken | null {
  const shortest = new Map<string, Counterexample>();
  const sorted = [...walks].sort((a, b) => a.moves - b.moves || a.seconds - b.seconds);
  for (const walk of sorted) if (!shortest.has(walk.miss)) shortest.set(walk.miss, walk);
  const [by, ...also] = shortest.values();
  if (by === undefined) return null;
  const beyond = also.slice(MOST_WAYS - 1).map(({ miss }) => miss);
  const others = new Set([...beyond, ...unsought.filter((miss) => !shortest.has(miss))]);
  return { verdict: 'broken', by, also: also.slice(0, MOST_WAYS - 1), others: [...others] };
}

/** How far the proof of a scene is. */
export interface Progress {
  readonly states: number;
  readonly transitions: number;
  /** The goals that were found to be missed. */
  readonly broken: readonly string[];
  /** The goal for which a shortest walk that misses it is looked for; null while everything is covered. */
  readonly looksFor: string | null;
}

/** A way in which a goal may be missed, for which the shortest walk is looked for. */
interface Target {
  readonly goal: Goal;
  readonly miss: string;
  /** Whether it was put off for the other ways of the goal, since it took long. */
  readonly isPutOff?: boolean;
}

/** After so many states a goal is taken to be many moves away. */
const FAR = 500;
/** So many states are looked at for a further way in which a goal is missed that is known to be missed already. */
const MOST_FURTHER = 500;
const SPANS = 64;

/**
 * Settles the goals of one scene. All that can come about is covered first, which shows most goals to hold; for each of the
 * others the shortest walk that misses it is looked for, or shown not to exist.
 */
export class SceneProof {
  readonly cover: Cover;
  private readonly findings = new Map<string, Finding>();
  private search: {
    readonly target: Target;
    readonly search: Search;
    /** The walk that is as short but may wait longer; null while the shortest is looked for. */
    readonly known: Counterexample | null;
  } | null = null;
  /** The walks that were found to break each law, by its name. */
  private readonly ends = new Map<string, { readonly way: Way; readonly missed: readonly string[] }>();
  private waiting: Target[] | null = null;
  /** By the id of the goal. */
  private readonly walks = new Map<string, Counterexample[]>();
  private readonly unsettled = new Map<string, string>();
  /** Further ways for which no walk was found soon enough. */
  private readonly unsought = new Set<string>();
  /** A cover that tells ages apart, for goals that are many moves away. */
  private fine: Cover | null = null;
  private states = 0;
  private transitions = 0;

  /** @param most the states after which a goal is left open */
  constructor(
    private readonly scene: Scene,
    private readonly most: number,
  ) {
    this.cover = new Cover(scene);
  }

  get progress(): Progress {
    const looked = this.search?.search;
    return {
      states: this.cover.size + (this.fine?.size ?? 0) + this.states + (looked?.looked ?? 0),
      transitions:
        this.cover.transitions +
        (this.fine?.transitions ?? 0) +
        this.transitions +
        (looked?.transitions ?? 0),
      broken: [...this.findings].flatMap(([id, { verdict }]) => (verdict === 'broken' ? [id] : [])),
      looksFor: this.search?.target.goal.id ?? null,
    };
  }

  /** What is known by now; a goal that was not settled yet is left out. */
  get found(): ReadonlyMap<string, Finding> {
    return this.findings;
  }

  /** Goes on for so many states; whether all is settled or left open. */
  go(most: number): boolean {
    if (this.waiting === null) {
      const isDone = this.cover.go(most);
      if (!isDone && this.cover.size <= this.most) return false;
      this.waiting = this.sort(isDone);
      return this.waiting.length === 0;
    }
    if (this.search === null) {
      const target = this.waiting.shift();
      if (target === undefined) return true;
      if (!this.isFoundWith(target)) this.start(target, null);
    }
    this.goOn(most);
    return this.waiting.length === 0 && this.search === null;
  }

  /** What nothing in the cover misses holds; gives every way in which the other goals may be missed, nearest first. */
  private sort(isSettled: boolean): Target[] {
    const missed = new Map<string, Set<string>>();
    for (const { misses } of this.cover.all()) {
      for (const miss of misses) {
        const id = goalMissed(miss);
        const known = missed.get(id);
        if (known === undefined) missed.set(id, new Set([miss]));
        else known.add(miss);
      }
    }
    const isWhole = this.scene.requests.isComplete;
    const { stage, cast } = this.scene;
    const first = firstSituation(stage.app.policy, cast.account);
    return this.scene.goals.flatMap((goal): Target[] => {
      const ways = [...(missed.get(goal.id) ?? [])];
      if (ways.length === 0) {
        const because = isSettled ? 'there are too many kinds of addresses' : this.limit();
        this.findings.set(
          goal.id,
          isSettled && isWhole ? { verdict: 'holds' } : { verdict: 'open', because },
        );
      }
      if (ways.length < 2 || !isSettled) return ways.map((miss) => ({ goal, miss }));
      const left = new Map(ways.map((miss) => [miss, this.cover.guideTo(miss)(first)]));
      return ways
        .sort((one, other) => (left.get(one) ?? 0) - (left.get(other) ?? 0))
        .map((miss) => ({ goal, miss }));
    });
  }

  private limit(): string {
    return `the limit of ${this.most} states was hit`;
  }

  /** Whether the shortest walk that breaks the law of a promise shows that it is not kept too: no shorter one does. */
  private isFoundWith({ goal, miss }: Target): boolean {
    const known = goal.promise === null ? undefined : this.ends.get(lawOf(goal) ?? '');
    if (known?.missed.includes(miss) !== true) return false;
    const by = counterexample(this.scene.stage, known.way, goal, null);
    if (by === null) return false;
    this.settle(goal, by);
    return true;
  }

  private start(target: Target, known: Counterexample | null): void {
    const cover = this.fine?.left === 0 ? this.fine : this.cover;
    // A cover that was left unfinished may not know of the way that is shorter.
    const guide: Guide = cover.left === 0 ? cover.guideTo(target.miss) : () => 1;
    const search =
      known === null
        ? new Search(this.scene, target.miss, guide)
        : new Search(this.scene, target.miss, guide, true, this.search?.search.longest ?? known.moves);
    this.search = { target, search, known };
  }

  private isRefining(): boolean {
    return this.fine !== null && this.fine.left > 0 && this.fine.size <= this.most;
  }

  /** Looks for the same again, now that more is known of the way. */
  private restart(): void {
    if (this.search === null) return;
    const { search, target, known } = this.search;
    this.states += search.looked;
    this.transitions += search.transitions;
    this.start(target, known);
  }

  private goOn(most: number): void {
    if (this.search === null) return;
    const { target, search, known } = this.search;
    if (this.isRefining()) {
      if (this.fine?.go(most) === true) this.restart();
      return;
    }
    const isDone = search.go(most);
    const isFurther = known === null && (this.walks.get(target.goal.id)?.length ?? 0) > 0;
    if (!isDone && isFurther && search.looked > MOST_FURTHER) {
      this.states += search.looked;
      this.transitions += search.transitions;
      this.search = null;
      this.unsought.add(target.miss);
      this.settle(target.goal, null);
      return;
    }
    const mayPutOff = known === null && target.isPutOff !== true && search.looked > MOST_FURTHER;
    const others = this.waiting?.some((each) => each.goal === target.goal && each.isPutOff !== true) === true;
    if (!isDone && mayPutOff && others) {
      this.states += search.looked;
      this.transitions += search.transitions;
      this.search = null;
      const isOwn = (each: Target) => each.goal === target.goal;
      const waiting = this.waiting ?? [];
      // Behind the others of its goal, which may be nearer than they look.
      const at = waiting.findLastIndex(isOwn) + 1;
      this.waiting = waiting.toSpliced(at, 0, { ...target, isPutOff: true });
      return;
    }
    if (!isDone && search.looked > FAR && this.fine === null && this.cover.left === 0) {
      this.fine = new Cover(this.scene, SPANS);
      return;
    }
    if (!isDone && search.looked <= this.most) return;
    this.states += search.looked;
    this.transitions += search.transitions;
    this.end(target, search, isDone, known);
  }

  /** What a search came to that has ended. */
  private end({ goal, miss }: Target, search: Search, isDone: boolean, known: Counterexample | null): void {
    const { way } = search;
    const { stage } = this.scene;
    this.search = null;
    const by = way === null ? null : counterexample(stage, way, goal, goal.promise === null ? miss : null);
    if (way !== null && by !== null) {
      if (known === null && !this.ends.has(goal.id)) this.ends.set(goal.id, { way, missed: search.missed });
      // The shortest in moves is known: of those, the one that waits least.
      if (known === null && by.seconds > leastSecondsTo(goal, stage.app.policy)) {
        this.start({ goal, miss }, { ...by, moves: way.moves.length });
        this.keep(goal, by);
        return;
      }
    }
    if (by !== null || known !== null) {
      this.settle(goal, by);
      return;
    }
    const isNone = isDone && way === null && this.scene.requests.isComplete;
    if (!isNone) {
      const because = way === null ? this.limit() : 'the walk that was found does not come out as it should';
      this.unsettled.set(goal.id, because);
    }
    this.settle(goal, null);
  }

  private keep({ id }: Goal, by: Counterexample): void {
    this.walks.set(id, [...(this.walks.get(id) ?? []), by]);
  }

  /** Writes down what is known of a goal; once enough ways are shown, the rest are only told. */
  private settle(goal: Goal, by: Counterexample | null): void {
    if (by !== null) {
      const others = (this.walks.get(goal.id) ?? []).filter(({ miss }) => miss !== by.miss);
      this.walks.set(goal.id, [...others, by]);
    }
    const walks = this.walks.get(goal.id) ?? [];
    const left = (this.waiting ?? []).filter((each) => each.goal === goal);
    if (walks.length >= MOST_WAYS) this.waiting = (this.waiting ?? []).filter((each) => each.goal !== goal);
    else if (left.length > 0 && walks.length === 0) return;
    const because = this.unsettled.get(goal.id);
    this.findings.set(
      goal.id,
      brokenBy(walks, [
        ...left.map(({ miss }) => miss),
        ...[...this.unsought].filter((miss) => goalMissed(miss) === goal.id),
      ]) ?? (because === undefined ? { verdict: 'holds' } : { verdict: 'open', because }),
    );
  }
}
