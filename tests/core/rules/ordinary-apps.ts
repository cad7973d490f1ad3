import type { SCENARIOS } from './cases';

const LOGIN = 'login: { page: /in, submit: POST /in, return: {}';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';

/** What browsers and apps made in the ordinary way do besides. */
export const ORDINARY: typeof SCENARIOS = {
  'the back button': [
    [
      'brings a page back that must not be stored, until a cookie changes',
      {},
      [
        '{ login: ann, lands: /desk }',
        '{ visit: / }',
        '{ suspend: ann }',
        '{ back: , lands: /desk }',
        '{ reload: , lands: /in, why: suspended }',
      ],
    ],
    [
      'asks for it again once a cookie has changed',
      { session: 'session: { cookie: { life: 8h } }' },
      [
        '{ login: ann }',
        '{ wait: 1s }',
        '{ visit: / }',
        '{ suspend: ann }',
        '{ back: , lands: /in, why: suspended }',
      ],
    ],
    [
      'and after three minutes',
      {},
      [
        '{ login: ann }',
        '{ visit: / }',
        '{ suspend: ann }',
        '{ wait: 2m59s }',
        '{ back: , lands: /desk }',
        '{ visit: / }',
        '{ wait: 3m }',
        '{ back: , lands: /in }',
      ],
    ],
    [
      'goes as many pages back as it is told',
      {},
      [
        '{ login: ann }',
        '{ visit: /hall }',
        '{ visit: / }',
        '{ back: 2, lands: /desk }',
        '{ visit: / }',
        '{ back: 2, lands: /in }',
      ],
    ],
    [
      'makes script judge again within what it guards, and not beyond',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /a: { for: clerk, guard: browser }, /b: { for: clerk, guard: browser } }`,
        landing: 'landing: [{ otherwise: /a }]',
        more: 'tokens: { access: { life: 5m, kept: browser } }\nmenu: [{ to: /b, text: B }]',
      },
      [
        '{ login: ann, lands: /a }',
        '{ follow: B, lands: /b }',
        '{ wait: 1m }',
        '{ back: , lands: /a }',
        '{ follow: B }',
        '{ visit: / }',
        '{ new-tab: }',
        '{ visit: /a }',
        '{ logout: }',
        '{ close-tab: }',
        '{ back: , lands: /b }',
        '{ back: , lands: /in, why: guest }',
      ],
    ],
  ],
};
