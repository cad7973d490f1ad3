import * as z from 'zod';
import { text } from '../language/text/schema-parts.js';
import { personStep } from './step-kind.js';
import { nothing } from './step-schemas.js';
import { one } from './typed-form.js';

/** Drops cookies. */
export interface ClearCookies {
  readonly verb: 'clear-cookies';
  /** The one that goes; null for all. */
  readonly name: string | null;
}

export const clearCookies = personStep<ClearCookies, string | null>({
  verb: 'clear-cookies',
  row: ['`clear-cookies:` or a name', 'drops all cookies, or the one of that name'],
  typed: one('clear-cookies, or clear-cookies and the name of one', '=', {
    form: /^(?<name>\S+)?$/,
    written: ({ name }) => name ?? null,
    places: [],
  }),
  traits: ['turns-away'],
  tried: ({ session }) => [null, session.cookie.name].map((name) => ({ verb: 'clear-cookies', name })),
  schema: () =>
    z.union([nothing, text('the name of a cookie')], {
      error: 'nothing after the colon, or the name of a cookie',
    }),
  asksNothing: true,
  read: (name) => ({ verb: 'clear-cookies', name }),
  deed: (_stage, _here, { name }) => ({ deed: 'clear-cookies', name }),
  unsaid({ from }, { name }) {
    const isThere = name === null || from.cookies.some((cookie) => cookie.name === name);
    return isThere
      ? null
      : { what: `that the cookie ${name} is dropped`, success: [], actual: 'there is none' };
  },
  words: ({ name }) => (name === null ? 'clear-cookies' : `clear-cookies ${name}`),
  written: ({ name }) => name,
});
