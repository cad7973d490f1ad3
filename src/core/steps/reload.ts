import { personStep } from './step-kind.js';
import { nothing } from './step-schemas.js';
import { alone } from './typed-form.js';

/** Asks again for the page that is shown. */
export interface Reload {
  readonly verb: 'reload';
}

export const reload = personStep<Reload, null>({
  verb: 'reload',
  row: [
    '`reload:`',
    'presses the reload button: the page that is shown is asked for again, by another site where that had it shown',
  ],
  typed: alone('reload'),
  traits: ['on-page', 'no-login'],
  untried: 'a visit is tried',
  schema: () => nothing,
  read: () => ({ verb: 'reload' }),
  deed: (_stage, { browser }) =>
    browser.tab.page === null ? 'this browser shows no page yet that could be reloaded' : { deed: 'reload' },
  words: () => 'reload',
  written: () => null,
});
