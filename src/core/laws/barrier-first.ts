import { stops } from '../app/barriers.js';
import type { Barrier, Policy } from '../language/policy.js';
import type { Exchange } from '../play/stage.js';
import type { Law, View } from './law.js';
import { isShown } from './shown.js';

/** What a barrier stops somebody from is not shown to them, nor its data or parts. */
export const barrierFirst: Law = {
  meta: {
    name: 'barrier-first',
    title: 'A page, its data or its parts are shown to somebody whom a barrier stops.',
    holds: 'Whom a barrier stops is shown nothing but what it lets through.',
    mend: 'give the barrier a status for the api too, such as api: 403',
    needs: { words: 'barriers', isThere: ({ barriers }) => barriers.length > 0 },
    weight: 'law',
  },
  broken: (view) => {
    const { policy } = view.stage.app;
    if (policy.barriers.length === 0) return null;
    for (const exchange of view.played.exchanges) {
      const barrier = passedBy(view, policy, exchange);
      if (barrier === null) continue;
      const { visitor, request } = exchange;
      return {
        seen: `${visitor.account ?? 'a guest'} gets ${request.path} although the barrier ${barrier.name} stops them`,
        allowedBy: barrier.at,
      };
    }
    return null;
  },
};

/** The barrier that stops the visitor to whom something is shown that it does not let through; null for none. */
function passedBy({ stage: { app }, clock }: View, { barriers }: Policy, exchange: Exchange): Barrier | null {
  const { route, visitor } = exchange;
  if (route === null || !isShown(exchange) || isFormPage(app, route.spelled)) return null;
  const found = barriers.find(
    (each) =>
      !each.lets.some((pattern) => app.router.covers(pattern, route.path)) &&
      stops(each, visitor, route, clock),
  );
  return found ?? null;
}

/** The pages of the ways in are let through where the barrier does not name them, and stopped by the app where it does. */
function isFormPage({ formPages }: View['stage']['app'], path: string): boolean {
  return Object.values(formPages).includes(path);
}
