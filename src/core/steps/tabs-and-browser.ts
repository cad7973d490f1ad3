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
