import type { Law } from './law.js';
import { isAboutCredentials } from './law-book.js';
import { unkeptPromises } from './promises.js';

/** What is promised to end does end in time; after a logout that is for logout-final to say, and of what is shown for right-audience. */
export const promiseKept: Law = {
  meta: {
    name: 'promise-kept',
    title: 'A credential still counts after the time at which the policy promises that it has ended.',
    holds: 'What is promised to end ends in time.',
    mend: 'shorten the life of the credential, or promise a longer time',
    needs: {
      words: 'promises of times',
      isThere: ({ promises }) => promises.some(({ after }) => after !== null),
    },
    weight: 'law',
  },
  broken: (view) =>
    unkeptPromises(view).find(({ promise }) => promise.after !== 'logout' && isAboutCredentials(promise))
      ?.sight ?? null,
};
