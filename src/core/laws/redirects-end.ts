import type { Law } from './law.js';

/** Redirects come to an end. */
export const redirectsEnd: Law = {
  meta: {
    name: 'redirects-end',
    title: 'A chain of redirects repeats or passes 20.',
    holds: 'Every chain of redirects comes to an end.',
    mend: 'let one of the pages on the way admit whoever is sent to it',
    weight: 'law',
  },
  broken: ({ played }) => {
    if (played.cutShort !== 'redirect-loop') return null;
    const last = played.exchanges.at(-1);
    return {
      seen: `the visitor is sent round and round, at last from ${last?.request.path ?? '/'}`,
      allowedBy: last?.explanation.decidedBy ?? [],
    };
  },
};
