import { handle, indexOf, type AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import type { Stage } from '../play/stage.js';
import { FixedClock } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import { CREDENTIALS, type Credential } from '../vocabulary/credentials.js';
import type { Reason } from '../app/reasons.js';
import { CREDENTIAL_KINDS } from './all-credentials.js';
import { endOf } from './credential-kind.js';
import { handleOf } from './holdings.js';

/** A credential that a browser has, as the app sees it. */
export interface Holding {
  readonly what: Credential;
  readonly handle: string;
  readonly counts: boolean;
  /** Why it does not count; null where it does, or where it is simply over. */
  readonly because: Reason | null;
  /** Each of its limits with the seconds left, 0 once it is over. */
  readonly left: readonly { readonly limit: string; readonly seconds: Seconds }[];
}

/** What a browser holds at an instant, with the time that is left of each. */
export function holdingsOf(stage: Stage, state: AppState, browser: BrowserState, time: Seconds): Holding[] {
  return CREDENTIALS.flatMap((what): Holding[] => {
    const held = handleOf(stage, browser, what, new FixedClock(time));
    return held === null ? [] : [holdingOf(stage, state, what, held, time)];
  });
}

/** A credential by its handle, as the app sees it at an instant. */
export function holdingOf(
  { app }: Stage,
  state: AppState,
  what: Credential,
  handed: string,
  time: Seconds,
): Holding {
  const kind = CREDENTIAL_KINDS[what];
  const clock = new FixedClock(time);
  const index = indexOf(what, handed);
  const isGood = kind.counts(app, state, index, clock);
  const left = kind.limits.flatMap((limit) => {
    const end = endOf(limit, app, state, index);
    return end === null ? [] : [{ limit: limit.name, seconds: Math.max(0, end - time) }];
  });
  const because = isGood ? null : kind.faultOf(app, state, index, clock);
  return { what, handle: handed, counts: isGood, because, left };
}

/** A credential that the app has on record, whoever holds it. */
export interface Recorded extends Holding {
  readonly account: string;
}

/** All that the app has handed out, with the time that is left of each; for sealed sessions that is what it once sealed. */
export function recordsOf(stage: Stage, state: AppState, time: Seconds): Recorded[] {
  return CREDENTIALS.flatMap((what) => {
    const kind = CREDENTIAL_KINDS[what];
    return Array.from({ length: kind.recorded(state) }, (_, index): Recorded => {
      const owner = kind.ownerOf(state, index);
      const holding = holdingOf(stage, state, what, handle(what, index), time);
      return { ...holding, account: owner === null ? 'guest' : (owner ?? '') };
    });
  });
}
