// Step 6 of docs/proof-method.md: exposure.

import { NEW_BROWSER } from '../../browser/state.js';
import { admit } from '../../app/admit.js';
import { GUEST } from '../../app/identify.js';
import { type Instant, instantOf } from '../../time/clock.js';
import type { Seconds } from '../../time/duration.js';
import type { Account } from '../../language/policy.js';
import type { Credential } from '../../vocabulary/credentials.js';
import type { PromiseEvent } from '../../vocabulary/promise-events.js';
import { CREDENTIAL_KINDS } from '../../credentials/all-credentials.js';
import { handedOut, loginOf } from '../../credentials/handed-out.js';
import { handleOf } from '../../credentials/holdings.js';
import type { View } from '../../laws/law.js';
import { NOTHING_YET } from '../../laws/memory.js';
import { loggedOutIn } from '../../laws/remembering.js';
import { isChange } from '../../laws/password-changes.js';
import { isOutsideNow, isShown } from '../../laws/shown.js';
import type { Stage } from '../../play/stage.js';
import { canonicalWithClocks } from '../situations/canonical.js';
import { PERSON, THIEF } from '../choices/cast.js';
import { NEW_PASSWORD } from '../choices/account-changes.js';
import { movesOfHolder } from '../choices/choices.js';
import { KeyWriter } from '../situations/key.js';
import { Met } from '../search/met.js';
import type { Limits } from '../time/limits.js';
import { takeMove, type Move, type Taken } from '../situations/moves.js';
import { accountOf, asAsked, asKnown, handlesHeld } from '../situations/records.js';
import { Reduction } from '../abstraction/reduction.js';
import type { Scene } from '../search/scene.js';
import type { Situation } from '../situations/situation.js';
import { clocksOf, followed, type Trail } from '../search/trail.js';
import type { Between } from '../time/waits.js';
import type { Zone } from '../time/zone.js';
import { everyWay } from '../time/symbolic-clock.js';
import { eventOf } from '../../steps/asking.js';
import { isAdministration } from '../../steps/all-steps.js';

/** What happens before somebody acts on a copy: only that it is made, or one of the events that promises count from. */
export type ExposureEvent = 'copied' | PromiseEvent;

/** The latest at which something was seen to be opened, since the event. */
export interface Latest {
  /** Infinite where there is no end. */
  readonly age: Seconds;
  /** The move that opens it, and where. */
  readonly trail: Trail;
  readonly move: Move;
  readonly taken: Taken;
  readonly event: number;
}

/** By `credential event`. */
export type Found = Map<string, Latest>;

interface Held extends Trail {
  readonly event: number;
  readonly held: Held | null;
  /** The key of its situation. */
  readonly key: string;
}

const FREE = Number.POSITIVE_INFINITY;
const AGES_APART = 24;
const MOST_FOLLOWED = 1_000;
/** The memory of laws has a place for what happened to an account, which here counts the time since the event. */
const UNTIL_EVER = { logout: FREE, 'role-removed': FREE, suspended: FREE, 'password-changed': FREE };

/** Somebody who got a copy of one thing and acts on it alone: each exploration finds how late that still opens something. */
export class Holder {
  private readonly limits: Limits;
  private readonly reduction: Reduction;
  private readonly keys: KeyWriter;
  private readonly met: Met;
  /** What was made of copies before anything happened. */
  private readonly acted: Met;
  /** After so many situations nothing more is looked for from one start. */
  private readonly most: number;
  /** The ages at which copies are acted on, by the key of the situation. */
  private readonly begun = new Map<string, readonly Zone[]>();
  /** The moves of a holder of something of an account. */
  private readonly moves = new Map<Account, readonly Move[]>();
  transitions = 0;

  /**
   * @param enough what need not be outdone; null where the latest of all is asked for, and not how it comes about
   */
  constructor(
    private readonly scene: Scene,
    private readonly found: Found,
    private readonly enough: Found | null,
  ) {
    this.limits = { ...scene.limits, sinceEvent: UNTIL_EVER };
    this.reduction = new Reduction(scene.stage, this.limits);
    this.keys = new KeyWriter(scene.stage.app.policy.accounts);
    // How something comes about is told only by ages that are kept apart.
    this.met = new Met(enough === null ? AGES_APART : FREE);
    this.acted = new Met(enough === null ? AGES_APART : FREE);
    this.most = enough === null ? FREE : MOST_FOLLOWED;
  }

  /**
   * Copies a credential of a person where they have one, lets each of some events happen, and looks at all that follows. Whoever has
   * the copy may act on it before, too.
   */
  copy(start: Trail, what: Credential, events: readonly ExposureEvent[]): void {
    const { stage } = this.scene;
    const copy: Move = { browser: PERSON, action: { verb: 'copy', what, to: THIEF } };
    for (const taken of takeMove(stage, start.situation, copy)) {
      const { after } = taken;
      const trail = followed(start, copy, taken, { situation: after, clocks: clocksOf(after) });
      const owner = this.ownerOf(start.situation, what);
      if (owner === null) continue;
      if (events.includes('copied')) this.begin(trail, after, `${what} copied`, owner);
      const happening = events.filter((event) => event !== 'copied');
      if (happening.length === 0) continue;
      for (const event of happening) this.happen(trail, `${what} ${event}`, event, owner, false);
      for (const acted of this.actedOn(trail, what, owner)) {
        for (const event of happening) this.happen(acted, `${what} ${event}`, event, owner, true);
      }
    }
  }

  /** @param passes whether any time may have passed before */
  private happen(trail: Trail, name: string, event: PromiseEvent, owner: Account, passes: boolean): void {
    const { stage } = this.scene;
    for (const move of eventMoves(stage, event, owner.name)) {
      for (const next of takeMove(stage, trail.situation, move, passes, concerns(trail.situation))) {
        if (!next.isSeen || isRefused(next, move, owner)) continue;
        const { after } = next;
        const happened = followed(trail, move, next, { situation: after, clocks: clocksOf(after) });
        this.begin(happened, after, name, owner);
      }
    }
  }

  /**
   * What whoever has a copy makes of it while its owner does nothing: only where other credentials are got for it. What its owner did
   * meanwhile could only end some of that.
   */
  private *actedOn(start: Trail, what: Credential, owner: Account): Generator<Trail> {
    if (!CREDENTIAL_KINDS[what].getsMore) return;
    const open = [start];
    for (const at of open) {
      for (const move of this.movesWith(owner)) {
        for (const taken of takeMove(this.scene.stage, at.situation, move)) {
          const { after } = taken;
          if (handedOut(after.state, at.situation.state).length === 0) continue;
          const short = canonicalWithClocks(this.reduction.of(after), this.scene.limits);
          const zone = this.acted.meet(`${what} ${this.keys.of(short.situation)}`, short.situation.zone);
          if (zone === null || open.length > this.most) continue;
          const next = followed(at, move, taken, { ...short, situation: { ...short.situation, zone } });
          open.push(next);
          yield next;
        }
      }
    }
  }

  /** From the last move on the holder is alone with what they have. */
  private begin(trail: Trail, after: Situation, name: string, owner: Account): void {
    const since = instantOf(after.zone.size - 1);
    const holder = after.browsers.get(THIEF);
    if (holder === undefined) return;
    const situation = { ...after, browsers: new Map([[THIEF, holder]]), memory: watching(name, since) };
    const short = this.short(situation, name);
    if (short === null) return;
    const startedAt = short.clocks.map((clock) => trail.startedAt[clock - 1] ?? 0);
    const aged = short.clocks.map((clock) => trail.aged[clock - 1] ?? 0);
    const start = { ...trail, situation: short.situation, startedAt, aged };
    if (this.enough === null && this.isShared(short.situation, name)) return;
    const key = this.keys.of(short.situation);
    this.explore({ ...start, event: trail.depth - 1, held: null, key }, name, this.movesWith(owner));
  }

  /**
   * Whether a changed password made no difference, so that all is looked at for the copy already: whoever changed it has the same as
   * before, of which the copy may as well have been made afterwards.
   */
  private isShared(situation: Situation, name: string): boolean {
    const [what = ''] = name.split(' ');
    const same = { ...situation, memory: watching(what, instantOf(watchOf(situation, name))) };
    const key = `${what} ${this.keys.of(same)}`;
    const begun = this.begun.get(key) ?? [];
    if (name === `${what} copied`) this.begun.set(key, [...begun, same.zone]);
    if (name !== `${what} password-changed` || !begun.some((zone) => zone.includes(same.zone))) return false;
    this.shared.add(what);
    return true;
  }

  /** The credentials of which a changed password is no more than a copy. */
  readonly shared = new Set<string>();

  private explore(start: Held, name: string, moves: readonly Move[]): void {
    const isSeen = opens(name.endsWith('role-removed'));
    const open: Held[] = [];
    const meet = (each: Held) => {
      const zone = this.met.meet(each.key, each.situation.zone);
      if (zone !== null) open.push({ ...each, situation: { ...each.situation, zone } });
    };
    meet(start);
    let looked = 0;
    // Nearest first, so that what is found is soon over; with ages taken together the order is of no matter.
    for (let at = open[looked]; at !== undefined && looked < this.most; at = open[++looked]) {
      const latest = this.found.get(name)?.age;
      if (latest === FREE || (latest !== undefined && latest === this.enough?.get(name)?.age)) return;
      const watch = watchOf(at.situation, name);
      for (const move of moves) {
        for (const taken of takeMove(this.scene.stage, at.situation, move, true, isSeen)) {
          this.transitions += 1;
          if (taken.isSeen) {
            const age = taken.after.zone.ages(watch).greatest;
            this.note(name, { age, trail: at, move, taken, event: at.event });
          }
          const next = this.next(at, move, taken, name);
          if (next !== null) meet(next);
        }
      }
    }
  }

  /** The account whose credential a person has. */
  private ownerOf({ browsers, state, zone }: Situation, what: Credential): Account | null {
    const { stage } = this.scene;
    const browser = browsers.get(PERSON);
    if (browser === undefined) return null;
    const ways = everyWay((clock) => handleOf(stage, browser, what, clock), zone);
    const handle = ways.find(({ result }) => result !== null)?.result ?? '';
    return state.accounts.get(accountOf(state, handle) ?? '') ?? null;
  }

  private movesWith(account: Account): readonly Move[] {
    let moves = this.moves.get(account);
    if (moves === undefined) this.moves.set(account, (moves = movesOfHolder(this.scene.stage, account)));
    return moves;
  }

  private note(name: string, latest: Latest): void {
    const known = this.found.get(name);
    if (known === undefined || known.age < latest.age) this.found.set(name, latest);
  }

  private next(at: Held, move: Move, taken: Taken, name: string): Held | null {
    const short = this.short({ ...taken.after, memory: at.situation.memory }, name);
    if (short === null) return null;
    const trail = followed(at, move, taken, short);
    const { situation } = short;
    const key = this.keys.of(situation);
    if (!this.isRound(at, situation, key, name)) return { ...trail, event: at.event, held: at, key };
    // Round and round again, the time since the event has no end.
    const zone = situation.zone.boundless(watchOf(situation, name));
    return { ...trail, situation: { ...situation, zone }, event: at.event, held: at, key };
  }

  /**
   * Whether a situation is one before it again, at all the ages that it had then, only later since the event. As nothing asks
   * for the time since the event, the way from the one to the other can then be gone again from there, each time later.
   */
  private isRound(before: Held, situation: Situation, key: string, name: string): boolean {
    const { zone } = situation;
    const watch = watchOf(situation, name);
    const latest = zone.ages(watch).greatest;
    for (let at: Held | null = before; at !== null; at = at.held) {
      if (at.key !== key) continue;
      const known = at.situation.zone;
      const later = latest - known.ages(watch).greatest;
      if (later > 0 && later < FREE && zone.includes(known.shifted(watch, later))) return true;
    }
    return false;
  }

  /** In canonical form, with nothing but an upper bound on the time since the event; null where nothing is held any more. */
  private short(
    situation: Situation,
    name: string,
  ): { readonly situation: Situation; readonly clocks: readonly number[] } | null {
    const reduced = this.reduction.of(withOldPasswords(this.scene, situation));
    if (!reduced.browsers.has(THIEF)) return null;
    const { situation: found, clocks } = canonicalWithClocks(reduced, this.limits);
    return { situation: { ...found, zone: found.zone.baseless(watchOf(found, name)) }, clocks };
  }
}

/** A holder logs in nowhere, and is asked for no password. */
function withOldPasswords({ stage }: Scene, situation: Situation): Situation {
  const { accounts: known } = stage.app.policy;
  const { accounts } = situation.state;
  if (accounts === known) return situation;
  const old = new Map<string, Account>();
  for (const [name, account] of accounts) {
    const was = known.get(name);
    old.set(name, was === undefined ? account : asAsked(account, was));
  }
  return { ...situation, state: { ...situation.state, accounts: asKnown(old, known) } };
}

function watching(name: string, since: Instant): Situation['memory'] {
  return { ...NOTHING_YET, changed: new Map([[name, { event: 'logout', at: since }]]) };
}

/** The clock that counts from the event. */
function watchOf({ memory }: Situation, name: string): number {
  return memory.changed.get(name)?.at ?? 0;
}

/** Whether something is shown that is not for everybody, or that the account has lost. */
export function opens(isLost: boolean): (view: View) => boolean {
  return (view) =>
    view.played.exchanges.some((exchange) => {
      const { route, visitor } = exchange;
      if (route === null || visitor.account === null || !isShown(exchange)) return false;
      if (isLost) return isOutsideNow(view, exchange);
      return admit(route.grounds.audience, GUEST, route.parameters, view.clock) !== 'served';
    });
}

/** Whether a logout is of what goes on in other hands, or of its login; anything else happens to an account. */
function concerns({ browsers, state }: Situation): (view: View) => boolean {
  const theirs = handlesHeld(browsers.get(THIEF) ?? NEW_BROWSER);
  return (view) => {
    if (eventOf(view.action) !== 'logout') return true;
    const { logins, handles } = loggedOutIn(view);
    return theirs.some((each) => handles.has(each) || logins.has(loginOf(state, each)));
  };
}

/** Whether a form was not taken for its sender's own, or its sender may not send it or is somebody else than the owner. */
function isRefused({ played }: Taken, { action }: Move, owner: Account): boolean {
  if (played.exchanges.some(({ explanation }) => explanation.reason === 'csrf-refused')) return true;
  if (isAdministration(action) || eventOf(action) !== 'password-changed') return false;
  return !played.exchanges.some((each) => isChange(each) && each.visitor.account === owner.name);
}

/** What makes something happen to an account. A password is changed by its owner too, where they can do that. */
function eventMoves({ app: { policy } }: Stage, event: PromiseEvent, account: string): Move[] {
  const move = (action: Move['action']): Move => ({ browser: PERSON, action });
  switch (event) {
    case 'logout':
      return [move({ verb: 'logout' })];
    case 'role-removed':
      return [move({ verb: 'set-roles', account, roles: [] })];
    case 'suspended':
      return [move({ verb: 'suspend', account })];
    case 'password-changed':
      return [
        move({ verb: 'set-password', account, password: NEW_PASSWORD }),
        ...(policy.password?.change
          ? [move({ verb: 'change-password', old: null, password: NEW_PASSWORD })]
          : []),
      ];
  }
}

/** The time between the event and what was opened last, as something that has to be so. */
export function asLate({ age, event, trail }: Latest): Between {
  return { earlier: event, later: trail.depth, how: 'at-least', seconds: age };
}
