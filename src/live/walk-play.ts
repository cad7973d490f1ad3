import type { Driver, LiveStep, LiveWalk, Stage, StepResult, WalkResult } from '../core/internal.js';

/** Plays the steps of one walk against an app, one after the other, in whatever it has for browsers. */
export interface WalkPlay {
  readonly driver: LiveWalk['driver'];
  /** Plays a step; the app's clock stands where it is to. */
  step(result: StepResult): Promise<LiveStep>;
  /** Asks who one is, once all else is done. */
  ask(result: StepResult): Promise<LiveStep>;
  /** Lets go of what it holds. */
  end(): Promise<void>;
}

/** That a step, and so the rest of its walk, cannot be played here; the message tells why. */
export class NotPlayable extends Error {}

/** A walk and by what it is played. */
export interface Planned {
  readonly result: WalkResult;
  readonly driver: Driver;
}

/** A walk on its way. */
export interface Underway extends Planned {
  readonly play: WalkPlay;
  readonly steps: LiveStep[];
  cut: string | null;
}

/** A walk of which no step is played. */
export function notPlayed({ walk }: WalkResult, reason: string): LiveWalk {
  return { walk, driver: 'http', steps: [], cut: reason };
}

/** Why what is done at an identity provider is not played: it is another site, with people of its own. */
export const AT_PROVIDER = 'what is done at an identity provider is not played against a real one';

/** Why calls at the same time are not played. */
export const AT_ONCE = 'calls at the same time cannot be made to arrive in one order';

/** Whether a step leads to an identity provider, as a logout may. */
export function isAtProvider({ client }: Stage, { played }: StepResult): boolean {
  return played.exchanges.some(({ request }) => client.issuers.has(request.origin));
}
