import { ownAddress } from '../../app/classes.js';
import { GUEST } from '../../app/identify.js';
import { admit } from '../../app/admit.js';
import { SOME_CLIENT } from '../../http/client-address.js';
import { isSafe, type Method } from '../../http/messages.js';
import type { Account, Kind, Page, Policy } from '../../language/policy.js';
import { sampleAddress } from '../../paths/coverage.js';
import type { Stage } from '../../play/stage.js';
import { FixedClock } from '../../time/clock.js';
import { formatDuration, type Seconds } from '../../time/duration.js';

/** Something that people do, a step a line, as it may be typed; what a policy has not, cannot be played. */
export interface Scenario {
  readonly name: string;
  readonly lines: readonly string[];
}

/** More waits than these in one walk nobody reads. */
export const MOST_WAITS = 40;

export const wait = (seconds: Seconds) => `wait ${formatDuration(seconds)}`;

/** How somebody comes in, with the code where it is owed. */
export function entering({ secondFactor }: Policy, person: Account, more = ''): string[] {
  const owes = person.secondFactor && secondFactor?.asked === 'at-login';
  return [`login ${person.name}${more}`, ...(owes ? ['code right'] : [])];
}

/** The addresses of a page that somebody may ask for: of their own, and of somebody else where those differ. */
export function addressesOf({ app }: Stage, person: Account | null, { pattern }: Page): string[] {
  const others = sampleAddress(pattern, () => 'somebody-else');
  if (person === null) return [others];
  const own = ownAddress(app.router, pattern, { account: person.name, facts: person.facts });
  return own === others ? [own] : [own, others];
}

/** A request for something that is not for everyone, and that somebody gets. */
export function askFor({ app }: Stage, person: Account, kind: Kind | null = null): string | null {
  for (const { pattern } of app.policy.pages) {
    const address = ownAddress(app.router, pattern, { account: person.name, facts: person.facts });
    const route = app.router.find('GET', address, undefined, SOME_CLIENT);
    const audience = route?.grounds.audience;
    if (
      !route?.isAnswered ||
      audience === undefined ||
      audience.who === 'everyone' ||
      audience.who === 'guests'
    ) {
      continue;
    }
    if (kind !== null && route.kind !== kind) continue;
    const visitor = {
      ...GUEST,
      account: person.name,
      roles: person.roles,
      facts: person.facts,
      secondFactor: true,
    };
    if (admit(audience, visitor, route.parameters, new FixedClock(0)) !== 'served') continue;
    return route.kind === 'api' ? `send GET ${address}` : `visit ${address}`;
  }
  return null;
}

export function pagesAsked(stage: Stage, person: Account): string[] {
  return stage.app.policy.pages.flatMap((page) =>
    addressesOf(stage, person, page)
      .slice(0, 1)
      .map((at) => `visit ${at}`),
  );
}

/** The pages that are for script. */
export function apiPages({ app: { policy, router } }: Stage): Page[] {
  const at = ({ pattern }: Page) => sampleAddress(pattern, () => 'x');
  return policy.pages.filter((page) => router.find('GET', at(page))?.kind === 'api');
}

/** A method by which a page is written to; undefined where it answers none. */
export function writingMethod({ answers }: Page): Method | undefined {
  return answers === null ? 'POST' : answers.find((each) => !isSafe(each));
}
