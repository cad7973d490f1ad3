import { asksForCode } from './step-up.js';
import { check } from './check.js';
import { loadedData } from './loaded-data.js';

/** The data of a page that asks for a code asks for it too. */
export const dataWithoutSecondFactor = check<{ path: string; data: string }>({
  meta: {
    code: 'data-without-second-factor',
    severity: 'error',
    title: 'The data of a page that asks for a code asks for it too.',
    why: 'The code is asked for at the page, but the data behind it answers without one.',
    cwe: 'CWE-308',
    mend: 'Add second-factor: true to the audience of the data.',
  },
  *find(facts) {
    for (const { data, by } of loadedData(facts)) {
      if (asksForCode(data.grounds.audience)) continue;
      if (!by.every(({ route }) => asksForCode(route.grounds.audience))) continue;
      const [{ page, load }] = by;
      yield {
        at: load.at,
        params: { path: page.pattern.text, data: `${load.method} ${load.path}` },
        related: [{ at: data.grounds.at, message: 'no code is asked for here' }],
      };
    }
  },
  message: ({ path, data }) => `${path} asks for a one-time code, but ${data} answers without one`,
});
