import { isInUse } from '../browser/tabs.js';
import { personStep, type PersonStep } from './step-kind.js';
import { nothing } from './step-schemas.js';
import { alone } from './typed-form.js';

/** Opens or closes a tab or the browser. */
export interface Opening<Verb extends string> {
  readonly verb: Verb;
}

function opening<const Verb extends 'new-tab' | 'close-tab' | 'close-browser' | 'open-browser'>(
  verb: Verb,
  does: string,
  more: Pick<PersonStep<Opening<Verb>, null>, 'traits' | 'tried' | 'untried' | 'isWorthTrying'>,
) {
  return personStep<Opening<Verb>, null>({
    ...more,
    verb,
    row: [`\`${verb}:\``, does],
    typed: alone(verb),
    schema: () => nothing,
    asksNothing: true,
    read: () => ({ verb }),
    deed: () => ({ deed: verb }),
    words: () => verb,
    written: () => null,
  });
}

export const newTab = opening('new-tab', 'opens an empty tab', {
  traits: ['turns-away', 'no-login'],
  tried: (_policy, { tabs }) => (tabs > 1 ? [{ verb: 'new-tab' }] : []),
  isWorthTrying: (_action, browser, tabs) => browser.behind.length < tabs - 1,
});
export const closeTab = opening('close-tab', 'closes the tab in front', {
  traits: ['turns-away', 'no-login', 'changes-tab'],
  tried: (_policy, { tabs }) => (tabs > 1 ? [{ verb: 'close-tab' }] : []),
  isWorthTrying: (_action, browser) => browser.behind.length > 0,
});
export const closeBrowser = opening('close-browser', 'ends what dies with the browser', {
  traits: ['turns-away', 'closes-browser'],
  tried: () => [{ verb: 'close-browser' }],
});
export const openBrowser = opening('open-browser', 'starts the browser again, with an empty tab', {
  traits: [],
  untried: 'the next step opens it',
});

/** Opens the page in front once more, with what the tab keeps. */
export const duplicateTab = personStep<Opening<'duplicate-tab'>, null>({
  verb: 'duplicate-tab',
  row: [
    '`duplicate-tab:`',
    'opens the page in front in one more tab, with a copy of what the tab has stored, as script does by `window.open`',
  ],
  typed: alone('duplicate-tab'),
  traits: ['turns-away', 'no-login'],
  // Elsewhere it is a new tab and a visit.
  tried: ({ tokens }, { tabs }) => (tabs > 1 && tokens?.kept === 'tab' ? [{ verb: 'duplicate-tab' }] : []),
  isWorthTrying: (_action, browser, tabs) => browser.tab.tokens !== null && browser.behind.length < tabs - 1,
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
  typed: alone('restore-browser'),
  traits: [],
  untried: 'a visit is tried',
  schema: () => nothing,
  read: () => ({ verb: 'restore-browser' }),
  deed: (_stage, { browser }) =>
    isInUse(browser)
      ? { deed: 'restore-browser' }
      : 'this browser has nothing open that it could restore; the step closes it by itself, so no close-browser stands before it',
  words: () => 'restore-browser',
  written: () => null,
});
