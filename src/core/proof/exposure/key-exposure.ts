// Step 6 of docs/proof-method.md: exposure.

import { accountClasses } from '../../app/classes.js';
import type { Stage } from '../../play/stage.js';
import { PERSON, type Cast } from '../choices/cast.js';
import { choicesOf } from '../choices/choices.js';
import { clocksOf, followed, trailFrom, type Trail } from '../search/trail.js';
import { takeMove, type Move } from '../situations/moves.js';
import { firstAges, firstSituation } from '../situations/situation.js';
import { START } from '../time/waits.js';
import { opens, type Latest } from './holder.js';
import { requestOf } from '../../steps/asking.js';

/** What comes to the key of a machine. */
export const KEY_EVENTS = ['made', 'rotated', 'revoked', 'suspended'] as const;
export type KeyEvent = (typeof KEY_EVENTS)[number];

const VERBS = { rotated: 'rotate-key', revoked: 'revoke-key', suspended: 'suspend' } as const;

/** The latest at which the key of any machine still opens something after an event; undefined where it never does. */
export function latestByKey(stage: Stage, event: KeyEvent, alone: Cast): Latest | undefined {
  let latest: Latest | undefined;
  for (const { account } of accountClasses(stage.app.policy)) {
    if (!account.key || account.state !== 'active') continue;
    const cast = { ...alone, account: account.name, machine: true };
    const shown = choicesOf(stage, cast).moves.filter(({ action }) => isShown(action, event === 'rotated'));
    for (const left of eventsOf(stage, event, account.name)) {
      const since = left.situation.zone.size - 1;
      for (const move of shown) {
        for (const taken of takeMove(stage, left.situation, move, true, opens(false))) {
          const age = taken.after.zone.ages(since).greatest;
          if (!taken.isSeen || (latest !== undefined && latest.age >= age)) continue;
          latest = { age, trail: left, move, taken, event: left.depth === 0 ? START : left.depth - 1 };
        }
      }
    }
  }
  return latest;
}

/** Whether a move shows the key that a copy was made of: after a rotation the one before. */
function isShown(action: Move['action'], isOld: boolean): boolean {
  return requestOf(action)?.key?.isOld === isOld;
}

/** What comes of an event, with a clock since it. */
function eventsOf(stage: Stage, event: KeyEvent, account: string): Trail[] {
  const { policy } = stage.app;
  const start = trailFrom(firstSituation(policy, account), firstAges(policy, account));
  if (event === 'made') return [withClock(start)];
  const move: Move = { browser: PERSON, action: { verb: VERBS[event], account } };
  return takeMove(stage, start.situation, move).map((taken) =>
    withClock(followed(start, move, taken, { situation: taken.after, clocks: clocksOf(taken.after) })),
  );
}

function withClock(trail: Trail): Trail {
  const zone = trail.situation.zone.started();
  return {
    ...trail,
    situation: { ...trail.situation, zone },
    startedAt: [...trail.startedAt, trail.depth === 0 ? START : trail.depth - 1],
    aged: [...trail.aged, 0],
  };
}
