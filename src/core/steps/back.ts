import * as z from 'zod';
import type { BrowserState } from '../browser/state.js';
import { personStep } from './step-kind.js';
import { nothing } from './step-schemas.js';
import { one } from './typed-form.js';

/** Goes so many pages back. */
export interface Back {
  readonly verb: 'back';
  readonly pages: number;
}

const FEW_PAGES = 'nothing after the colon, or how many pages back, 1 to 50';

export const back = personStep<Back, number | null>({
  verb: 'back',
  row: [
    '`back:` or `back: 2`',
    'goes back to the page before, or so many. It is shown where it was kept, and otherwise where the browser still has it as it was left: for three minutes, and while none of its cookies has changed; else it is asked for again. Within pages that are guarded in the browser script judges again',
  ],
  typed: one('back, or back 2', '=2', {
    form: /^(?:(?<name>\d+)(?: pages)?)?$/,
    written: ({ name }) => (name === undefined ? null : Number(name)),
    places: [],
  }),
  traits: ['shows-kept', 'turns-away', 'on-page', 'no-login', 'on-the-way'],
  tried: () => [{ verb: 'back', pages: 1 }],
  schema: () =>
    z.union([nothing, z.int().min(1, { error: FEW_PAGES }).max(50, { error: FEW_PAGES })], {
      error: FEW_PAGES,
    }),
  read: (pages) => ({ verb: 'back', pages: pages ?? 1 }),
  deed: (_stage, { browser }, { pages }) =>
    hasBehind(browser, pages)
      ? { deed: 'back', pages }
      : `there ${pages === 1 ? 'is no page' : `are no ${pages} pages`} to go back to`,
  words: ({ pages }) => (pages === 1 ? 'back' : `back ${pages} pages`),
  written: ({ pages }) => (pages === 1 ? null : pages),
});

/** Whether a tab has shown so many pages before the one in front. */
function hasBehind({ tab }: BrowserState, pages: number): boolean {
  let { history } = tab;
  for (let left = pages; left > 1 && history !== null; left--) history = history.before;
  return history !== null;
}
