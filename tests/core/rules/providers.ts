import type { SCENARIOS } from './cases';

const CODE = 'second-factor: { page: /, submit: POST /code, life: 5m, of: [chief] }';
const SIGN_UP = 'sign-up: { page: /, submit: POST /join, roles: [clerk] }';
/** A provider that knows ann and bo. */
const by = (rest: string, more = '') => ({
  more: `identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example, bo: b@id.example }${rest} } }\n${more}`,
});
const UNCHECKED = 'state: ignored, pkce: false, nonce: ignored';

/** Identity providers. */
export const PROVIDERS: typeof SCENARIOS = {
  'an identity provider': [
    [
      'signs in whom it knows, and knows the browser until its own session ends',
      by(', session: 2h'),
      [
        '{ visit: /hall, lands: /in?back=/hall }',
        '{ login: { as: bo, with: port-id }, lands: /hall, seen-as: bo }',
        '{ logout: }',
        '{ visit: /hall, lands: /in?back=/hall }',
        '{ wait: 1h }',
        // Whoever types the address of the way in has asked for no page.
        '{ visit: /go, lands: /safe, seen-as: bo }',
        '{ logout: }',
        '{ wait: 1h }',
        '{ visit: /go, lands: https://id.example/authorize?state=asked-3, status: 200 }',
        '{ login: { as: ann, with: port-id }, lands: /desk, seen-as: ann }',
      ],
    ],
    [
      'forgets the browser where the logout goes on to it, or somebody logs out there',
      by(', logout: provider-too'),
      [
        '{ login: { as: ann, with: port-id }, lands: /desk }',
        '{ logout: , lands: / }',
        '{ login: { as: bo, with: port-id }, lands: /safe, seen-as: bo }',
        '{ logout-provider: port-id }',
        '{ visit: /desk, status: 200, seen-as: bo }',
      ],
    ],
    [
      'asks each time where it is told to',
      by(', asks-again: true'),
      [
        '{ login: { as: ann, with: port-id }, lands: /desk }',
        '{ logout: }',
        '{ visit: /go, lands: https://id.example/authorize?state=asked-2, status: 200 }',
      ],
    ],
    [
      'has nobody in whom nobody knows, or makes an account for them',
      by(''),
      ['{ login: { as: zoe, with: port-id }, lands: /in, why: unknown-person, seen-as: guest }'],
    ],
    [
      'makes an account on the spot, once',
      by(', unknown: sign-up', SIGN_UP),
      [
        '{ login: { as: zoe, with: port-id }, lands: /desk, seen-as: zoe }',
        '{ logout: }',
        '{ visit: /go, lands: /desk, seen-as: zoe }',
      ],
    ],
    [
      'lets nobody in who may not be here',
      by(''),
      [
        '{ suspend: ann }',
        '{ login: { as: ann, with: port-id }, lands: /in, why: suspended, seen-as: guest }',
      ],
    ],
    [
      'does not stand for the code that somebody owes',
      by('', CODE),
      [
        '{ login: { as: bo, with: port-id }, lands: /, why: code-needed, seen-as: guest }',
        '{ code: right, lands: /safe, seen-as: bo }',
      ],
    ],
    [
      'stands for the code where it is given there',
      by(', code: given', CODE),
      ['{ login: { as: bo, with: port-id }, lands: /safe, seen-as: bo, expect-broken: code-first }'],
    ],
    [
      'answers this browser alone',
      by(''),
      [
        '{ plant-answer: { of: bo, with: port-id }, lands: /in, why: answer-refused, seen-as: guest }',
        '{ visit: /go }',
        '{ plant-answer: { of: bo, with: port-id }, lands: /in, why: answer-refused, seen-as: guest }',
        '{ visit: /go/back, lands: /in, why: answer-refused }',
        '{ visit: /go/back?code=code-2&state=asked-2, lands: /in, why: answer-refused }',
      ],
    ],
    [
      'answers whoever opens the link where nothing is held against it',
      by(`, ${UNCHECKED}`),
      ['{ plant-answer: { of: bo, with: port-id }, lands: /safe, seen-as: bo, expect-broken: own-login }'],
    ],
    [
      'gives codes that are good once',
      by(`, ${UNCHECKED}`),
      [
        '{ login: { as: bo, with: port-id }, lands: /safe }',
        '{ visit: /go/back?code=code-1&state=asked-1, in: other, lands: /in, why: answer-refused }',
      ],
    ],
  ],
};
