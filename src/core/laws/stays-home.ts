import type { Law } from './law.js';

/** Nothing in a request leads off the site. */
export const staysHome: Law = {
  meta: {
    name: 'stays-home',
    title: 'A redirect leaves the origin because of something in the request.',
    holds: 'Nothing in a request leads off the site.',
    mend: 'set login.return.accept: same-origin',
    weight: 'law',
  },
  broken: (view) => {
    const { played } = view;
    const last = played.exchanges.at(-1);
    if (played.cutShort !== 'off-origin' || last === undefined) return null;
    return {
      seen: `${last.request.path} sends the visitor to ${view.outcome.lands ?? 'another site'}`,
      allowedBy: last.explanation.decidedBy,
    };
  },
};
