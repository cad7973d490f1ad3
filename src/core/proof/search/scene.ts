// Step 5 of docs/proof-method.md: cover and search.

import type { Stage } from '../../play/stage.js';
import type { Requests } from '../choices/requests.js';
import type { Cast } from '../choices/cast.js';
import { choicesOf } from '../choices/choices.js';
import { goalsOf, idOf, missOf, type Goal } from './goals.js';
import { limitsOf, type Limits } from '../time/limits.js';
import type { Move, Taken } from '../situations/moves.js';
import { Reach } from './reach.js';
import type { Situation } from '../situations/situation.js';

/** A policy with those who take part and all that they can do: what is looked at to settle its goals. */
export class Scene {
  readonly limits: Limits;
  readonly goals: readonly Goal[];
  readonly moves: readonly Move[];
  readonly requests: Requests;
  private readonly reaches: readonly { readonly id: string; readonly reach: Reach }[];

  constructor(
    readonly stage: Stage,
    readonly cast: Cast,
  ) {
    const { policy } = stage.app;
    this.limits = limitsOf(stage);
    this.goals = goalsOf(policy);
    const { moves, requests } = choicesOf(stage, cast);
    this.moves = moves;
    this.requests = requests;
    this.reaches = policy.promises.flatMap((promise) => {
      const { withinSteps } = promise;
      if (withinSteps === null) return [];
      return { id: idOf(promise), reach: new Reach(stage, { ...promise, withinSteps }, moves) };
    });
  }

  /** What a move misses: a law with the weakness that breaks it, or the id of a promise. */
  missedBy(before: Situation, move: Move, taken: Taken): readonly string[] {
    const { broken, unkept } = taken;
    if (broken.length === 0 && unkept.length === 0 && this.reaches.length === 0) return NONE;
    return [
      ...broken.map(({ law, weakness }) => missOf(law, weakness)),
      ...unkept.map(({ promise }) => idOf(promise)),
      ...this.reaches.flatMap(({ id, reach }) => (reach.isMissed(before, move, taken) ? [id] : [])),
    ];
  }
}

const NONE: readonly string[] = [];
