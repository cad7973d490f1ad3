import { counterexample, type Counterexample } from './counterexample.js';
import { Cover } from './cover.js';
import { lawOf, leastSecondsTo, type Goal } from './goals.js';
import { Search, type Guide } from './search.js';
import type { Scene } from './scene.js';
import type { Way } from './trail.js';

/** What is known of a goal in a scene. */
export type Finding =
  | { readonly verdict: 'holds' }
  | { readonly verdict: 'broken'; readonly by: Counterexample }
  | { readonly verdict: 'open'; readonly because: string };

/** How far the proof of a scene is. */
export interface Progress {
  readonly states: number;
  readonly transitions: number;
  /** The goals that were found to be missed. */
  readonly broken: readonly string[];
  /** The goal for which the shortest walk that misses it is looked for; null while everything is covered. */
  readonly looksFor: string | null;
}

/** After so many states a goal is taken to be many moves away. */
const FAR = 500;
const SPANS = 64;

/**
 * Settles the goals of one scene. All that can come about is covered first, which shows most goals to hold; for each of the
 * others the shortest walk that misses it is looked for, or shown not to exist.
 */
export class SceneProof {
  readonly cover: Cover;
  private readonly findings = new Map<string, Finding>();
  private search: { readonly goal: Goal; readonly search: Search; readonly isTimed: boolean } | null = null;
  /** By the id of the goal that each misses. */
  private readonly ends = new Map<string, { readonly way: Way; readonly missed: readonly string[] }>();
  private waiting: Goal[] | null = null;
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
      looksFor: this.search?.goal.id ?? null,
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
      const goal = this.waiting.shift();
      if (goal === undefined) return true;
      if (!this.isFoundWith(goal)) this.start(goal, null);
    }
    this.goOn(most);
    return this.waiting.length === 0 && this.search === null;
  }

  /** What nothing in the cover misses holds; gives the other goals. */
  private sort(isSettled: boolean): Goal[] {
    const missed = new Set<string>();
    for (const { misses } of this.cover.all()) for (const goal of misses) missed.add(goal);
    const isWhole = this.scene.requests.isComplete;
    for (const { id } of this.scene.goals) {
      if (missed.has(id)) continue;
      const because = isSettled ? 'there are too many kinds of addresses' : this.limit();
      this.findings.set(id, isSettled && isWhole ? { verdict: 'holds' } : { verdict: 'open', because });
    }
    return this.scene.goals.filter(({ id }) => missed.has(id));
  }

  private limit(): string {
    return `the limit of ${this.most} states was hit`;
  }

  /** Whether the shortest walk that breaks the law of a promise shows that it is not kept too: no shorter one does. */
  private isFoundWith(goal: Goal): boolean {
    const known = goal.promise === null ? undefined : this.ends.get(lawOf(goal) ?? '');
    if (known?.missed.includes(goal.id) !== true) return false;
    const by = counterexample(this.scene.stage, known.way, goal);
    if (by !== null) this.findings.set(goal.id, { verdict: 'broken', by });
    return by !== null;
  }

  private start(goal: Goal, moves: number | null): void {
    const cover = this.fine?.left === 0 ? this.fine : this.cover;
    // A cover that was left unfinished may not know of the way that is shorter.
    const guide: Guide = cover.left === 0 ? cover.guideTo(goal.id) : () => 1;
    const search =
      moves === null
        ? new Search(this.scene, goal.id, guide)
        : new Search(this.scene, goal.id, guide, true, moves);
    this.search = { goal, search, isTimed: moves !== null };
  }

  private isRefining(): boolean {
    return this.fine !== null && this.fine.left > 0 && this.fine.size <= this.most;
  }

  /** Looks for the same again, now that more is known of the way. */
  private restart(goal: Goal): void {
    if (this.search === null) return;
    const { search, isTimed } = this.search;
    this.states += search.looked;
    this.transitions += search.transitions;
    this.start(goal, isTimed ? search.longest : null);
  }

  private goOn(most: number): void {
    if (this.search === null) return;
    const { goal, search, isTimed } = this.search;
    if (this.isRefining()) {
      if (this.fine?.go(most) === true) this.restart(goal);
      return;
    }
    const isDone = search.go(most);
    if (!isDone && search.looked > FAR && this.fine === null && this.cover.left === 0) {
      this.fine = new Cover(this.scene, SPANS);
      return;
    }
    if (!isDone && search.looked <= this.most) return;
    this.states += search.looked;
    this.transitions += search.transitions;
    this.search = null;
    const { way } = search;
    const by = way === null ? null : counterexample(this.scene.stage, way, goal);
    if (way !== null && by !== null) {
      this.findings.set(goal.id, { verdict: 'broken', by });
      this.ends.set(goal.id, { way, missed: search.missed });
      // The shortest in moves is known: of those, the one that waits least.
      const least = leastSecondsTo(goal, this.scene.stage.app.policy);
      if (by.seconds > least && !isTimed) this.start(goal, way.moves.length);
    }
    if (by !== null || isTimed) return;
    const isNone = isDone && way === null && this.scene.requests.isComplete;
    const because = way === null ? this.limit() : 'the walk that was found does not come out as it should';
    this.findings.set(goal.id, isNone ? { verdict: 'holds' } : { verdict: 'open', because });
  }
}
