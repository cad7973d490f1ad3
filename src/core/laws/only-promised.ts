import type { Law } from './law.js';
import { unkeptPromises } from './promises.js';

/** Promised pages are reached by those roles only. */
export const onlyPromised: Law = {
  meta: {
    name: 'only-promised',
    title: 'A page that the policy promises to some roles only is shown to somebody else.',
    holds: 'Promised pages are reached by those roles only.',
    mend: 'narrow the audience of the page, or add the role to the promise',
    needs: {
      words: 'promises of pages',
      isThere: ({ promises }) => promises.some(({ only }) => only !== null),
    },
    weight: 'law',
  },
  broken: (view) => unkeptPromises(view).find(({ promise }) => promise.only !== null)?.sight ?? null,
};
