import { canonicalWithClocks } from '../../src/core/proof/situations/canonical';
import { PERSON, THIEF } from '../../src/core/proof/choices/cast';
import { choicesOf } from '../../src/core/proof/choices/choices';
import { isOpen } from '../../src/core/proof/choices/open-moves';
import { opens } from '../../src/core/proof/exposure/holder';
import { goalMissed } from '../../src/core/proof/search/goals';
import { comesIn, linksOf, movesFor, type Link } from '../../src/core/proof/exposure/link-exposure';
import { KeyWriter } from '../../src/core/proof/situations/key';
import { takeMove, type Move } from '../../src/core/proof/situations/moves';
import { loginOf } from '../../src/core/credentials/handed-out';
import type { View } from '../../src/core/laws/law';
import { loggedOutIn } from '../../src/core/laws/remembering';
import type { BrowserState, ShownPage, Tab } from '../../src/core/browser/state';
import { isChange } from '../../src/core/laws/password-changes';
import type { Scene } from '../../src/core/proof/search/scene';
import { firstSituation, type Situation } from '../../src/core/proof/situations/situation';
import { Zone } from '../../src/core/proof/time/zone';

/** What is found by trying everything tick by tick: the fewest moves and, with those, the fewest ticks to miss a goal. */
export interface Enumerated {
  readonly missed: ReadonlyMap<string, { readonly moves: number; readonly ticks: number }>;
  /** The last tick since each event at which each credential opens something, by `credential event`. */
  readonly opened: ReadonlyMap<string, number>;
  readonly states: number;
}

/** A situation at one instant: every clock has one age, capped where nothing tells larger ones apart. */
interface Moment {
  readonly situation: Situation;
  readonly key: string;
  readonly most: readonly number[];
}

/** The ages of clocks as a zone of that one point. */
function pointOf(ages: readonly number[]): Zone {
  let zone = Zone.empty();
  ages.forEach((age, at) => {
    const wider = zone
      .undated()
      .where(at + 1, 'at-least', age)
      ?.where(at + 1, 'at-most', age);
    if (!wider) throw new Error('an age that cannot be');
    zone = wider;
  });
  return zone;
}

export class BruteForce {
  private readonly keys: KeyWriter;

  /** @param forgetsPages whether nothing depends on the page that is shown */
  constructor(
    private readonly scene: Scene,
    private readonly forgetsPages: boolean,
  ) {
    this.keys = new KeyWriter(scene.stage.app.policy.accounts);
  }

  /** Tries every move at every tick until nothing new comes; null where that is too much. */
  run(most: number): Enumerated | null {
    const { stage, cast, moves } = this.scene;
    const missed = new Map<string, { moves: number; ticks: number }>();
    const seen = new Map<string, Moment>();
    let level = new Map([[0, [this.moment(firstSituation(stage.app.policy))]]]);
    for (let depth = 0; level.size > 0; depth++) {
      const next = new Map<number, Moment[]>();
      for (let ticks = 0; ticks <= Math.max(...level.keys()); ticks++) {
        for (const moment of level.get(ticks) ?? []) {
          if (seen.has(moment.key)) continue;
          seen.set(moment.key, moment);
          if (seen.size > most) return null;
          put(level, ticks + 1, this.later(moment), seen);
          for (const move of moves) {
            if (!isOpen(stage, cast, moment.situation, move)) continue;
            const [taken, ...more] = takeMove(stage, moment.situation, move, false);
            if (more.length > 0) throw new Error('one instant, two ways');
            if (taken === undefined) continue;
            for (const goal of this.scene.missedBy(moment.situation, move, taken).map(goalMissed)) {
              if (!missed.has(goal)) missed.set(goal, { moves: depth + 1, ticks });
            }
            put(next, ticks, this.moment(taken.after), seen);
          }
        }
      }
      level = next;
    }
    return { missed, opened: this.openings([...seen.values()]), states: seen.size };
  }

  private moment(situation: Situation): Moment {
    const kept = this.forgetsPages ? withoutPages(situation) : situation;
    const { situation: short, clocks, largest } = canonicalWithClocks(kept, this.scene.limits);
    const ages = clocks.map((clock, at) => Math.min(kept.zone.ages(clock).least, largest[at] ?? 0));
    return this.at(short, ages, largest);
  }

  private at(situation: Situation, ages: readonly number[], most: readonly number[]): Moment {
    return {
      situation: { ...situation, zone: pointOf(ages) },
      key: `${this.keys.of(situation)} ${ages.join()}`,
      most,
    };
  }

  private later({ situation, most }: Moment): Moment {
    const ages = most.map((limit, at) => Math.min(situation.zone.ages(at + 1).least + 1, limit));
    return this.at(situation, ages, most);
  }

  /** How late each credential still opens something, for whoever has a copy from any moment and acts alone. */
  private openings(moments: readonly Moment[]): Map<string, number> {
    const opened = new Map<string, number>();
    const { stage, cast } = this.scene;
    const { moves } = choicesOf(stage, { ...cast, thief: true });
    const ofThief = moves.filter(({ browser }) => browser === THIEF);
    const ofPerson = moves.filter(({ browser, action }) => browser === PERSON && action.verb !== 'copy');
    const [account] = [...stage.app.policy.accounts.keys()];
    const events: (readonly [string, Move['action'] | null])[] = [
      ['copied', null],
      ['logout', { verb: 'logout' }],
      ['role-removed', { verb: 'set-roles', account: account ?? '', roles: [] }],
      ['suspended', { verb: 'suspend', account: account ?? '' }],
      ['password-changed', { verb: 'set-password', account: account ?? '', password: 'another' }],
      ...(stage.app.policy.password?.change
        ? [['password-changed', { verb: 'change-password', old: null, password: 'another' }] as const]
        : []),
    ];
    const note = (name: string, ticks: number) => {
      opened.set(name, Math.max(opened.get(name) ?? -1, ticks));
    };
    for (const link of linksOf(this.scene)) this.linkRead(link, account ?? '', note);
    if (stage.app.policy.apiKeys !== null) this.keysShown(note);
    for (const { situation } of moments) {
      if (!situation.browsers.has(PERSON)) continue;
      for (const what of ['session', 'access', 'refresh', 'remember'] as const) {
        const copy: Move = { browser: PERSON, action: { verb: 'copy', what, to: THIEF } };
        const [taken] = takeMove(stage, situation, copy, false);
        if (taken === undefined) continue;
        for (const acted of this.actedOn(taken.after, ofThief, what)) {
          for (const [event, action] of events) {
            if (action === null && acted !== taken.after) continue;
            const name = `${what} ${event}`;
            const thief = acted.browsers.get(THIEF);
            const isOfTheirs = (view: View) => isLoggedOut(view, acted, thief);
            const [done] =
              action === null
                ? [taken]
                : takeMove(stage, acted, { browser: PERSON, action }, false, isOfTheirs);
            // Who may not change their password has not, and a logout of another login is none of this.
            if (action?.verb === 'change-password' && done?.played.exchanges.some(isChange) !== true) {
              continue;
            }
            if (done === undefined || (action?.verb === 'logout' && !done.isSeen)) continue;
            const { after } = done;
            const left = after.browsers.get(THIEF);
            if (left === undefined) continue;
            const alone = { ...after, browsers: new Map([[THIEF, left]]) };
            this.openedBy(alone, ofThief, opens(event === 'role-removed'), name, note);
          }
        }
      }
      this.leftAlone(situation, ofPerson, (ticks) => {
        note('browser unattended', ticks);
      });
      const out = takeMove(stage, situation, { browser: PERSON, action: { verb: 'logout' } }, false);
      if (stage.app.policy.providers.length === 0 || out[0] === undefined) continue;
      this.leftAlone(this.moment(out[0].after).situation, ofPerson, (ticks) => {
        note('browser logged-out', ticks);
      });
    }
    return opened;
  }

  /** All that whoever has a copy makes of it before anything happens, at every tick. */
  private actedOn(start: Situation, moves: readonly Move[], what: string): Situation[] {
    const reached: Situation[] = [start];
    if (what === 'session' || what === 'access') return reached;
    const open = [this.moment(start)];
    for (const at of open) {
      if (this.acted.has(`${what} ${at.key}`)) continue;
      this.acted.add(`${what} ${at.key}`);
      reached.push(at.situation);
      open.push(this.later(at));
      for (const move of moves) {
        for (const { after } of takeMove(this.scene.stage, at.situation, move, false)) {
          open.push(this.moment({ ...after, memory: at.situation.memory }));
        }
      }
    }
    return reached;
  }

  private readonly acted = new Set<string>();

  /** Every tick and every move of a holder; the ticks since the event are capped, which stands for no limit. */
  private openedBy(
    start: Situation,
    moves: readonly Move[],
    isSeen: Parameters<typeof takeMove>[4],
    name: string,
    note: (name: string, ticks: number) => void,
  ): void {
    let now = [this.moment(start)];
    for (let ticks = 0; ticks <= FOR_EVER && now.length > 0; ticks++) {
      const seen = new Set<string>();
      const known = `${name} ${ticks} ${now
        .map(({ key }) => key)
        .sort()
        .join('|')}`;
      if (this.explored.has(known)) return;
      this.explored.add(known);
      const here: Moment[] = [];
      for (let at = now.pop(); at !== undefined; at = now.pop()) {
        if (seen.has(at.key)) continue;
        seen.add(at.key);
        here.push(at);
        for (const move of moves) {
          for (const taken of takeMove(this.scene.stage, at.situation, move, false, isSeen)) {
            if (taken.isSeen) note(name, ticks);
            now.push(this.moment({ ...taken.after, memory: at.situation.memory }));
          }
        }
      }
      now = here.map((each) => this.later(each));
    }
  }

  /** A link that is sent, and read by somebody else at each tick. */
  private linkRead(link: Link, account: string, note: (name: string, ticks: number) => void): void {
    const { stage } = this.scene;
    const { ask, open } = movesFor(link, account);
    const [asked] = takeMove(stage, firstSituation(stage.app.policy), ask, false);
    if (asked === undefined) return;
    let moment = this.moment(asked.after);
    for (let ticks = 0; ticks <= FOR_EVER; ticks++, moment = this.later(moment)) {
      const read = takeMove(stage, moment.situation, open, false, comesIn);
      if (read.some(({ isSeen }) => isSeen)) note(`${link} sent`, ticks);
    }
  }

  /** The key of each machine, shown at each tick after what comes to it. */
  private keysShown(note: (name: string, ticks: number) => void): void {
    const { stage, moves } = this.scene;
    const verbs = { made: null, rotated: 'rotate-key', revoked: 'revoke-key', suspended: 'suspend' } as const;
    for (const { name: account, key } of stage.app.policy.accounts.values()) {
      if (!key) continue;
      for (const [event, verb] of Object.entries(verbs)) {
        const start = firstSituation(stage.app.policy);
        const move = verb === null ? null : ({ browser: PERSON, action: { verb, account } } as const);
        const after = move === null ? start : takeMove(stage, start, move, false)[0]?.after;
        const shown = moves.filter(
          ({ action }) => action.verb === 'send' && action.key?.isOld === (event === 'rotated'),
        );
        let moment = this.moment(after ?? start);
        for (let ticks = 0; ticks <= FOR_EVER; ticks++, moment = this.later(moment)) {
          const isOpen = shown.some((each) =>
            takeMove(stage, moment.situation, each, false, opens(false)).some(({ isSeen }) => isSeen),
          );
          if (isOpen) note(`key ${event}`, ticks);
        }
      }
    }
  }

  private readonly explored = new Set<string>();

  private leftAlone(situation: Situation, moves: readonly Move[], note: (ticks: number) => void): void {
    let moment = this.moment(situation);
    for (let ticks = 0; ticks <= FOR_EVER; ticks++) {
      const isOpened = moves.some(
        (move) =>
          (move.action.verb === 'visit' || move.action.verb === 'send') &&
          !('key' in move.action) &&
          takeMove(this.scene.stage, moment.situation, move, false, opens(false)).some(
            ({ isSeen }) => isSeen,
          ),
      );
      if (isOpened) note(ticks);
      const next = this.later(moment);
      // Nothing changes any more.
      if (next.key === moment.key) {
        if (isOpened) note(FOR_EVER);
        return;
      }
      moment = next;
    }
  }
}

/** Ticks that no policy of the tests limits anything to. */
export const FOR_EVER = 40;

function put(level: Map<number, Moment[]>, ticks: number, moment: Moment, seen: ReadonlyMap<string, Moment>) {
  if (seen.has(moment.key)) return;
  const known = level.get(ticks);
  if (known === undefined) level.set(ticks, [moment]);
  else known.push(moment);
}

function withoutPages(situation: Situation): Situation {
  const only = (tab: Tab): Tab => ({ ...tab, page: tokenOf(tab.page), history: null });
  const browsers = new Map(
    [...situation.browsers].map(([name, browser]) => [
      name,
      { ...browser, tab: only(browser.tab), behind: browser.behind.map(only) },
    ]),
  );
  return { ...situation, browsers };
}

/** What the forms of a page carry, on a page of nothing else. */
function tokenOf(page: ShownPage | null): ShownPage | null {
  if (page === null || page.token === null) return null;
  const address = { ...page.address, path: '/-/', query: '' };
  return { ...page, address, method: 'GET', menu: [], reader: null, kept: false, frozen: false, again: null };
}

/** Whether a logout is of something that another browser has, or of the login that it goes back to. */
function isLoggedOut(view: View, { state }: Situation, browser: BrowserState | undefined): boolean {
  if (browser === undefined) return false;
  const { access = '', refresh = null } = browser.tab.tokens ?? {};
  const { logins, handles } = loggedOutIn(view);
  return [...browser.cookies.map(({ value }) => value), access, refresh ?? ''].some(
    (each) => handles.has(each) || logins.has(loginOf(state, each)),
  );
}
