import { barrierBefore, stops } from '../app/barriers.js';
import { GUEST } from '../app/identify.js';
import { FixedClock } from '../time/clock.js';
import { check } from './check.js';

/** Whoever a barrier lets through can log in while it stands. */
export const barrierShutsOutExempt = check<{ name: string; who: string; page: string }>({
  meta: {
    code: 'barrier-shuts-out-exempt',
    severity: 'error',
    title: 'Whoever a barrier lets through can log in while it stands.',
    why: 'A guest is not yet known to be one of those whom the barrier leaves alone: they are stopped on the way to the login.',
    cwe: null,
    mend: 'Leave login out of also, or let the page and the endpoint of the login through by lets.',
  },
  *find(facts) {
    const { policy, stage } = facts;
    const clock = new FixedClock(0);
    for (const barrier of policy.barriers) {
      const { audience } = barrier.stops;
      if (!barrier.also.has('login') || audience.who !== 'some') continue;
      const flags = new Set([...audience.flags].flatMap(([flag, isOn]) => (isOn ? [flag] : [])));
      const guest = { ...GUEST, flags };
      for (const { page, submit } of policy.logins) {
        const shut = [facts.route(page), facts.route(submit.path, submit.method)].find(
          (each) => each !== null && barrierBefore(stage.app, each, guest, clock) === barrier,
        );
        if (shut === null || shut === undefined) continue;
        const exempt = [...policy.accounts.values()].find(
          ({ name, roles, facts, state, key }) =>
            state === 'active' &&
            !key &&
            !stops(
              barrier,
              { ...guest, account: name, roles, facts, since: clock.now, secondFactor: true },
              shut,
              clock,
            ),
        );
        if (exempt === undefined) continue;
        yield { at: [...barrier.at, 'also'], params: { name: barrier.name, who: exempt.name, page } };
        break;
      }
    }
  },
  message: ({ name, who, page }) =>
    `the barrier ${name} leaves ${who} alone, and stops them as a guest on the way to the login at ${page}`,
});
