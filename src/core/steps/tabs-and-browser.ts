import { isInUse } from '../browser/tabs.js';
import { personStep } from './step-kind.js';
import { nothing } from './step-schemas.js';

/** Opens or closes a tab or the browser. */
export interface Opening<Verb extends string> {
  readonly verb: Verb;
}

function opening<const Verb extends 'new-tab' | 'close-tab' | 'close-browser' | 'open-browser'>(
  verb: Verb,
  does: string,
) {
  return personStep<Opening<Verb>, null>({
    verb,
    row: [`\`${verb}:\``, does],
    schema: () => nothing,
    asksNothing: true,
    read: () => ({ verb }),
    deed: () => ({ deed: verb }),
    words: () => verb,
    written: () => null,
  });
}

export const newTab = opening('new-tab', 'opens an empty tab');
export const closeTab = opening('close-tab', 'closes the tab in front');
export const closeBrowser = opening('close-browser', 'ends what dies with the browser');
export const openBrowser = opening('open-browser', 'starts the browser again, with an empty tab');

/** Opens the page in front once more, with what the tab keeps. */
export const duplicateTab = personStep<Opening<'duplicate-tab'>, null>({
  verb: 'duplicate-tab',
  row: [
    '`duplicate-tab:`',
    'opens the page in front in one more tab, with a copy of what the tab has stored, as script does by `window.open`',
  ],
  schema: () => nothing,
  read: () => ({ verb: 'duplicate-tab' }),
  deed: (_stage, { browser }) =>
    browser.tab.page === null && browser.tab.tokens === null
      ? 'this tab shows no page yet; an empty tab is opened by new-tab'
      : { deed: 'duplicate-tab' },
  words: () => 'duplicate-tab',
  written: () => null,
});

/** Closes the browser, which comes back with what it had. */
export const restoreBrowser = personStep<Opening<'restore-browser'>, null>({
  verb: 'restore-browser',
  row: [
    '`restore-browser:`',
    'closes the browser and starts it with its last session: tabs with what they have stored, and all cookies. The page in front is loaded again, one behind once it comes to the front, and none that a form had brought. What script had in memory is gone',
  ],
  schema: () => nothing,
  read: () => ({ verb: 'restore-browser' }),
  deed: (_stage, { browser }) =>
    isInUse(browser)
      ? { deed: 'restore-browser' }
      : 'this browser has nothing open that it could restore; the step closes it by itself, so no close-browser stands before it',
  words: () => 'restore-browser',
  written: () => null,
});
