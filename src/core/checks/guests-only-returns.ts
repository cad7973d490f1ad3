import { loginFor } from '../app/answer.js';
import { check } from './check.js';

/** Whoever is turned away from a page for guests gets somewhere else. */
export const guestsOnlyReturns = check<{ who: string; to: string }>({
  meta: {
    code: 'guests-only-returns',
    severity: 'error',
    title: 'Whoever is turned away from a page for guests gets somewhere else.',
    why: 'A signed-in visitor at a page for guests is sent to another page for guests, which turns them away again.',
    cwe: 'CWE-835',
    mend: 'Send refusals.guests-only to a page that signed-in visitors may see, or to landing.',
  },
  *find(facts) {
    const { refusals, landing } = facts.policy;
    const guestsOnly = refusals.page['guests-only'];
    const targets =
      guestsOnly.to === 'landing'
        ? landing.map((entry) => ({ at: entry.at, to: entry.to }))
        : guestsOnly.to === 'path'
          ? [{ at: ['refusals', 'guests-only'], to: guestsOnly.path }]
          : guestsOnly.to === 'login'
            ? [{ at: ['refusals', 'guests-only'], to: loginFor(facts.stage.app, guestsOnly)?.page ?? '/' }]
            : [];
    if (!facts.audiences.some(({ audience }) => audience.who === 'guests')) return;
    for (const { at, to } of targets) {
      const grounds = facts.route(to)?.grounds;
      if (grounds?.audience.who !== 'guests') continue;
      yield {
        at,
        params: { who: 'a signed-in visitor', to },
        related: [{ at: grounds.at, message: `${to} is for guests` }],
      };
      return;
    }
  },
  message: ({ who, to }) =>
    `${who} who is turned away from a page for guests is sent to ${to}, which is for guests too`,
});
