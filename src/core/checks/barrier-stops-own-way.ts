import { stopsAt } from '../app/barriers.js';
import { isSafe, METHODS } from '../http/messages.js';
import { check } from './check.js';

/** A barrier lets through the page that it sends people to. */
export const barrierStopsOwnWay = check<{ name: string; to: string; what: string }>({
  meta: {
    code: 'barrier-stops-own-way',
    severity: 'error',
    title: 'A barrier lets through the page that it sends people to.',
    why: 'Whoever is stopped is sent to the page where they could pass, and is stopped there again: round in a circle, or with no way on.',
    cwe: null,
    mend: 'Name the page, and what its form sends, in lets.',
  },
  *find(facts) {
    const { app } = facts.stage;
    for (const barrier of facts.policy.barriers) {
      const { name, sends: to, at } = barrier;
      if (to === null) continue;
      const reads = facts.route(to);
      const write = METHODS.find(
        (method) => !isSafe(method) && (facts.route(to, method)?.isAnswered ?? false),
      );
      const writes = write === undefined ? null : facts.route(to, write);
      const stopped = [reads, writes].find((route) => route !== null && stopsAt(app, barrier, route));
      if (stopped === undefined || stopped === null) continue;
      const what = stopped === reads ? 'shown' : 'sent';
      yield { at: [...at, 'sends'], params: { name, to, what } };
    }
  },
  message: ({ name, to, what }) =>
    `the barrier ${name} sends people to ${to}, and stops what is ${what} there too`,
});
