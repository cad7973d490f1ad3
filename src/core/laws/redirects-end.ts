import type { Law } from './law.js';

/** Redirects come to an end. */
export const redirectsEnd: Law = {
  meta: { name: 'redirects-end', title: 'A chain of redirects repeats or passes 20.', weight: 'law' },
  broken: ({ played }) => {
    if (played.cutShort !== 'redirect-loop') return null;
    const last = played.exchanges.at(-1);
    return {
      seen: `the visitor is sent round and round, at last from ${last?.request.path ?? '/'}`,
      allowedBy: last?.explanation.decidedBy ?? [],
    };
  },
};
