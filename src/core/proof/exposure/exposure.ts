// Step 6 of docs/proof-method.md: exposure.

import type { Seconds } from '../../time/duration.js';
import { CREDENTIALS, type Credential } from '../../vocabulary/credentials.js';
import { PROMISE_EVENTS } from '../../vocabulary/promise-events.js';
import { NOTHING_YET } from '../../laws/memory.js';
import type { Step } from '../../steps/walk.js';
import { canonical, canonicalWithClocks } from '../situations/canonical.js';
import { PERSON } from '../choices/cast.js';
import { stepsOf } from '../search/counterexample.js';
import type { Cover } from '../search/cover.js';
import { asLate, Holder, opens, type ExposureEvent, type Found, type Latest } from './holder.js';
import { KEY_EVENTS, latestByKey, type KeyEvent } from './key-exposure.js';
import { latestBy, linksOf, type Link } from './link-exposure.js';
import { KeyWriter } from '../situations/key.js';
import { Met } from '../search/met.js';
import { takeMove, type Move } from '../situations/moves.js';
import { Reduction } from '../abstraction/reduction.js';
import type { Scene } from '../search/scene.js';
import { firstAges, firstSituation, type Situation } from '../situations/situation.js';
import { clocksOf, followed, trailFrom, wayOf, type Trail } from '../search/trail.js';
import { codeOf, entrantOf, requestOf } from '../../steps/asking.js';

const EXPOSURE_EVENTS: readonly ExposureEvent[] = ['copied', ...PROMISE_EVENTS];

/** For how long after something a credential can still open what is not open to everybody. */
export interface Exposure {
  /** `browser`: one that is left as it is, with all that it holds, since its last step, or since a logout in it. */
  readonly credential: Credential | 'browser' | Link | 'key';
  readonly event: ExposureEvent | 'unattended' | 'logged-out' | 'sent' | KeyEvent;
  /** The seconds after which it opens nothing any more, so that it still does one earlier; null: it has no end. */
  readonly ends: Seconds | null;
  /** A walk at whose last step it opens something, as late as it can; null where it never does, or none was found. */
  readonly walk: readonly Step[] | null;
  /** Whether the walk shows that the bound is no larger than it need be. */
  readonly isAttained: boolean;
}

const FREE = Number.POSITIVE_INFINITY;
/** Situations of a person alone from which walks are looked for that attain the bounds. */
const MOST_TRIED = 200;
const UNATTENDED = 'browser unattended';
const LOGGED_OUT = 'browser logged-out';

/**
 * The bounds of all exposures of one person's credentials. No sequence of steps goes beyond them: they are read off a cover of
 * all that the person can do, after which whoever holds a copy acts alone with it.
 *
 * @param cover of a scene of one person alone, with nothing left to look at
 */
export function* exposuresOf(scene: Scene, cover: Cover): Generator<number, Exposure[]> {
  const bounds: Found = new Map();
  const pairs = pairsOf(scene);
  const holder = new Holder(scene, bounds, null);
  const keys = new KeyWriter(scene.stage.app.policy.accounts);
  const met = new Met();
  for (const { situation, fresh } of cover.all()) {
    if (!situation.browsers.has(PERSON) || situation.browsers.size > 1) continue;
    const left = canonical({ ...withoutPages(situation), zone: fresh }, scene.limits);
    if (!met.isNew(keys.of(left), left.zone)) continue;
    const start = trailFrom({ ...left, zone: left.zone.later() });
    for (const [what, events] of eventsOf(pairs)) holder.copy(start, what, events);
    leave(scene, trailFrom(left), bounds);
    for (const out of loggedOut(scene, trailFrom(left))) leave(scene, out, bounds, LOGGED_OUT);
    yield holder.transitions;
  }
  for (const what of holder.shared) share(bounds, `${what} copied`, `${what} password-changed`);
  const attained: Found = new Map();
  for (const isWayIn of [true, false]) {
    const trails = trailsOf(scene, isWayIn);
    const late = new Holder(scene, attained, bounds);
    for (const trail of trails) {
      const left = pairs.filter(({ name }) => isMissing(bounds, attained, name));
      const isLeft = isMissing(bounds, attained, UNATTENDED);
      const isOut = isMissing(bounds, attained, LOGGED_OUT);
      if (left.length === 0 && !isLeft && !isOut) break;
      for (const [what, events] of eventsOf(left)) late.copy(trail, what, events);
      if (isLeft) leave(scene, trail, attained);
      for (const out of isOut ? loggedOut(scene, trail) : []) leave(scene, out, attained, LOGGED_OUT);
      yield holder.transitions + late.transitions;
    }
  }
  const ofBrowser = [
    { name: UNATTENDED, what: 'browser', event: 'unattended' } as const,
    ...(asksLoggedOut(scene) ? [{ name: LOGGED_OUT, what: 'browser', event: 'logged-out' } as const] : []),
  ];
  const rows = [...pairs, ...ofBrowser].map(({ name, what, event }) =>
    rowOf(what, event, bounds.get(name), attained.get(name)),
  );
  const links = linksOf(scene).map((link) => {
    const latest = latestBy(scene, link);
    return rowOf(link, 'sent', latest, latest);
  });
  const { apiKeys } = scene.stage.app.policy;
  const ofKeys = (apiKeys === null ? [] : KEY_EVENTS).map((event) => {
    const latest = latestByKey(scene.stage, event, scene.cast);
    return rowOf('key', event, latest, latest);
  });
  return [...rows, ...links, ...ofKeys];
}

/** What a copy opens it opens after a changed password too. */
function share(bounds: Found, from: string, to: string): void {
  const [latest, own] = [bounds.get(from), bounds.get(to)];
  if (latest !== undefined && (own === undefined || own.age < latest.age)) bounds.set(to, latest);
}

/** With nothing but what is held: the page that is shown, and what laws remember, make no difference to that. */
function withoutPages(situation: Situation): Situation {
  const browsers = new Map(
    [...situation.browsers].map(([name, browser]) => [
      name,
      { ...browser, tab: { ...browser.tab, page: null, history: null } },
    ]),
  );
  return { ...situation, browsers, memory: NOTHING_YET };
}

function isMissing(bounds: Found, attained: Found, name: string): boolean {
  const bound = bounds.get(name);
  return bound !== undefined && attained.get(name)?.age !== bound.age;
}

interface Pair {
  readonly name: string;
  readonly what: Credential;
  readonly event: ExposureEvent;
}

/** Each credential that the policy hands out, with each event that can come to it. */
function pairsOf({ stage }: Scene): Pair[] {
  const { login, logout, tokens, remember } = stage.app.policy;
  const isHandedOut = {
    session: login !== null && login.by !== 'tokens',
    access: tokens !== null && login?.by !== 'session',
    refresh: tokens !== null && tokens.refresh !== null && login?.by !== 'session',
    remember: remember !== null,
  };
  return CREDENTIALS.filter((what) => isHandedOut[what]).flatMap((what) =>
    EXPOSURE_EVENTS.filter((event) => event !== 'logout' || logout !== null).map((event) => ({
      name: `${what} ${event}`,
      what,
      event,
    })),
  );
}

/** The events to look at, by what is copied. */
function eventsOf(pairs: readonly Pair[]): ReadonlyMap<Credential, readonly ExposureEvent[]> {
  const events = new Map<Credential, ExposureEvent[]>();
  for (const { what, event } of pairs) events.set(what, [...(events.get(what) ?? []), event]);
  return events;
}

function rowOf(
  credential: Exposure['credential'],
  event: Exposure['event'],
  bound: Latest | undefined,
  found: Latest | undefined,
): Exposure {
  if (bound === undefined) return { credential, event, ends: 0, walk: null, isAttained: true };
  const ends = bound.age === FREE ? null : bound.age + 1;
  const walk = found === undefined ? null : walkOf(found);
  return { credential, event, ends, walk, isAttained: walk !== null && found?.age === bound.age };
}

/** The walk to what was opened, as late as it can be; where there is no end, the first of the steps that come round again. */
function walkOf(latest: Latest): Step[] | null {
  const { trail, move, taken, age } = latest;
  const end = followed(trail, move, taken, { situation: taken.after, clocks: clocksOf(taken.after) });
  const way = wayOf(end, age === FREE ? [] : [asLate(latest)]);
  return way === null ? null : stepsOf(way.moves, way.times);
}

/** Whether more than the app's own cookies may sign in a browser that was logged out: an identity provider may still know it. */
function asksLoggedOut({ stage }: Scene): boolean {
  const { providers, logout } = stage.app.policy;
  return providers.length > 0 && logout !== null;
}

/** A person's browser once they have logged out in it. */
function loggedOut(scene: Scene, trail: Trail): Trail[] {
  if (!asksLoggedOut(scene)) return [];
  const move: Move = { browser: PERSON, action: { verb: 'logout' } };
  return takeMove(scene.stage, trail.situation, move).map((taken) =>
    followed(trail, move, taken, { situation: taken.after, clocks: clocksOf(taken.after) }),
  );
}

/** Leaves a person's browser as it is, and sees how much later a step in it is still let in. */
function leave(scene: Scene, trail: Trail, found: Found, name = UNATTENDED): void {
  const { situation } = trail;
  const zone = situation.zone.started();
  const since = zone.size - 1;
  const left: Trail = {
    ...trail,
    situation: { ...situation, zone },
    startedAt: [...trail.startedAt, trail.depth - 1],
    aged: [...trail.aged, 0],
  };
  for (const move of scene.moves) {
    if (requestOf(move.action)?.key !== null) continue;
    for (const taken of takeMove(scene.stage, left.situation, move, true, opens(false))) {
      if (!taken.isSeen) continue;
      const age = taken.after.zone.ages(since).greatest;
      const known = found.get(name);
      if (known !== undefined && known.age >= age) continue;
      found.set(name, { age, trail: left, move, taken, event: trail.depth - 1 });
    }
  }
}

/**
 * Situations that a person can come to, nearest first, each at exactly the ages at which it comes about.
 *
 * @param isWayIn whether they only sign in
 */
function* trailsOf({ stage, moves, limits }: Scene, isWayIn: boolean): Generator<Trail> {
  const reduction = new Reduction(stage, limits);
  const keys = new KeyWriter(stage.app.policy.accounts);
  const met = new Met();
  const tried = moves.filter(
    ({ action }) => !isWayIn || entrantOf(action) !== null || codeOf(action) !== null,
  );
  const { policy } = stage.app;
  const queue = [trailFrom(firstSituation(policy), firstAges(policy))];
  for (const trail of queue.values()) {
    if (trail.situation.browsers.has(PERSON)) yield trail;
    for (const move of queue.length < MOST_TRIED ? tried : []) {
      for (const taken of takeMove(stage, trail.situation, move)) {
        const short = canonicalWithClocks(reduction.of(taken.after), limits);
        if (met.isNew(keys.of(short.situation), short.situation.zone)) {
          queue.push(followed(trail, move, taken, short));
        }
      }
    }
  }
}
