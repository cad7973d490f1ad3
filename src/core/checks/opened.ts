import type { Facts } from './facts.js';

/** Pages, and those that can be sent to, in words: `/ledger`, `POST /ledger`. */
export type Opened = ReadonlySet<string>;

/** The pages that some roles are enough for, to see or to send to, for somebody who has just come in with nothing else. */
export function openedTo(facts: Facts, holds: ReadonlySet<string>): Opened {
  const visitor = { ...facts.newcomer(holds), secondFactor: true };
  const opened = facts.pageClasses.flatMap(({ page }) =>
    (['GET', 'POST'] as const).flatMap((method) => {
      const route = facts.route(facts.sampleOf(page), method);
      const isOpen = route !== null && facts.admits(route.grounds.audience, visitor, route.parameters);
      return isOpen ? [method === 'GET' ? page.pattern.text : `${method} ${page.pattern.text}`] : [];
    }),
  );
  return new Set(opened);
}
