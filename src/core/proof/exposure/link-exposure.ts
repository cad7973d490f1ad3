// Step 6 of docs/proof-method.md: exposure.

import { letsIn } from '../../play/entries.js';
import { isChange } from '../../laws/password-changes.js';
import type { View } from '../../laws/law.js';
import { NEW_PASSWORD } from '../choices/account-changes.js';
import { accountClasses } from '../../app/classes.js';
import { PERSON, THIEF } from '../choices/cast.js';
import { takeMove, type Move } from '../situations/moves.js';
import type { Scene } from '../search/scene.js';
import { clocksOf, followed, trailFrom } from '../search/trail.js';
import { firstAges, firstSituation } from '../situations/situation.js';
import type { Latest } from './holder.js';

/** A link that somebody else may read: where it is sent to, or where it stands in a log. */
export type Link = 'reset-link' | 'sign-in-link';

/** The links that a policy has sent. */
export function linksOf({ stage }: Scene): Link[] {
  const { password, linkLogin } = stage.app.policy;
  return [
    ...(password?.reset ? ['reset-link' as const] : []),
    ...(linkLogin === null ? [] : ['sign-in-link' as const]),
  ];
}

/** The latest at which somebody who reads a link comes to anything by it, since it was sent; undefined where they never do. */
export function latestBy({ stage }: Scene, link: Link): Latest | undefined {
  const { policy } = stage.app;
  let latest: Latest | undefined;
  for (const { account: known } of accountClasses(policy)) {
    if (known.state !== 'active') continue;
    const { ask, open } = movesFor(link, known.name);
    const start = trailFrom(firstSituation(policy), firstAges(policy));
    for (const asked of takeMove(stage, start.situation, ask)) {
      const { after } = asked;
      const sent = after.zone.size - 1;
      const trail = followed(start, ask, asked, { situation: after, clocks: clocksOf(after) });
      for (const taken of takeMove(stage, after, open, true, comesIn)) {
        if (!taken.isSeen) continue;
        const age = taken.after.zone.ages(sent).greatest;
        if (latest === undefined || latest.age < age) {
          latest = { age, trail, move: open, taken, event: trail.depth - 1 };
        }
      }
    }
  }
  return latest;
}

/** What sends somebody a link, and what whoever reads it does. */
export function movesFor(link: Link, account: string): { readonly ask: Move; readonly open: Move } {
  return link === 'reset-link'
    ? {
        ask: { browser: PERSON, action: { verb: 'ask-reset', account } },
        open: { browser: THIEF, action: { verb: 'reset', account, password: NEW_PASSWORD, late: false } },
      }
    : {
        ask: { browser: PERSON, action: { verb: 'ask-link', account } },
        open: { browser: THIEF, action: { verb: 'open-link', account, late: false } },
      };
}

/** Whether somebody has chosen another password, or got in, if only as far as a code is owed. */
export function comesIn({ played }: View): boolean {
  return played.exchanges.some(
    (each) => isChange(each) || letsIn(each) || each.explanation.reason === 'code-needed',
  );
}
