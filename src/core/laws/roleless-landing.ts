import { refusedLanding } from './landing-allowed.js';
import type { Law } from './law.js';
import { landsNowhere } from './targets-exist.js';

/** Whoever was left without any role is landed where they are let in. */
export const rolelessLanding: Law = {
  meta: {
    name: 'roleless-landing',
    title:
      'Somebody from whom all roles were taken is landed nowhere, or at a page that refuses them (advice only).',
    holds: 'Whoever is left without any role still lands where they are let in.',
    mend: 'end landing in { otherwise: a page for signed-in }',
    weight: 'advice',
  },
  broken: (view) => {
    const nowhere = view.played.exchanges.map((each) => landsNowhere(view, each, true));
    const sight = refusedLanding(view, true) ?? nowhere.find((each) => each !== null) ?? null;
    // It is the same whoever it is, and is told once.
    return sight === null ? null : { ...sight, weakness: 'without roles' };
  },
};
