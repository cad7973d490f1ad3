import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { faults } from '../../support/policies';
import { marked } from '../../support/marked';

beforeAll(loadRegularLanguages);

const base = 'cavrin: 1\napp: Test\norigin: https://app.example\n';
const provider = 'issuer: https://id.example, start: GET /go, back: GET /back';
const providers = (each: string) =>
  `${base}login: { page: /in, submit: POST /in }\nidentity-providers: { ${each} }`;

test.each([
  ['missing-section', `${base}identity-providers: { port-id: »{ ${provider} } }`],
  ['bad-name', providers('»Port id: {}').replace('{}', `{ ${provider} }`)],
  ['missing-key', providers('port-id: »{ issuer: https://id.example, start: GET /go }')],
  ['bad-value', providers(`port-id: { ${provider.replace('GET /go,', '»POST /go,')} }`)],
  ['bad-value', providers(`port-id: { ${provider.replace('GET /back', '»POST /back')} }`)],
  ['bad-value', providers(`port-id: { ${provider.replace('https://id.example', '»id.example/in')} }`)],
  ['bad-value', providers(`port-id: { ${provider.replace('https://id.example', '»https://app.example')} }`)],
  ['same-endpoint', providers(`port-id: { ${provider.replace('GET /back', '»GET /go')} }`)],
  [
    'bad-value',
    providers(`a: { ${provider} }, b: { issuer: »https://id.example, start: GET /c, back: GET /d }`),
  ],
  ['unknown-account', providers(`port-id: { ${provider}, knows: { »ann: a@id.example } }`)],
  ['missing-section', providers(`port-id: { ${provider}, unknown: »sign-up }`)],
  ['missing-section', providers(`port-id: { ${provider}, logout: »provider-too }`)],
  ['missing-section', providers(`port-id: { ${provider}, code: »given }`)],
  ...['state', 'nonce', 'pkce', 'matches', 'unknown', 'code', 'logout', 'asks-again'].map(
    (key): [string, string] => ['wrong-type', providers(`port-id: { ${provider}, ${key}: »perhaps }`)],
  ),
  ['bad-value', providers(`port-id: { ${provider}, session: »0s }`)],
  ['bad-value', providers(`port-id: { ${provider}, session: »perhaps }`)],
  [
    'not-built',
    `${base}login: { page: /in, submit: POST /in, by: tokens }\ntokens: { access: { life: 5m } }\nidentity-providers: { a: »{ ${provider} } }`,
  ],
  ['unknown-key', providers(`port-id: { ${provider}, »pkcs: true }`)],
])('%s of an identity provider, row %#', (code, withMark) => {
  const { expected, text } = marked(code, withMark);
  expect(faults(text)[0]).toBe(expected);
});

const machine = 'accounts: { bot: { key: true } }';
const keys = (each: string) => `${base}api-keys: { ${each} }`;
const withLogin = `${base}roles: { chief: [], clerk: [] }\nlogin: { page: /in, submit: POST /in }\n`;
const acting = (each: string) => `${withLogin}impersonation: { ${each} }`;
const whole = 'start: POST /as/:who, stop: POST /back, by: chief, of: [clerk]';

test.each([
  ['missing-key', `${base}accounts: { bot: »{ roles: [] } }`],
  ['bad-value', `${base}api-keys: {}\naccounts: { bot: »{ key: true, password: b-1 } }`],
  ['wrong-type', `${base}api-keys: {}\naccounts: { bot: { key: »secret } }`],
  ['missing-section', `${base}accounts: { bot: { key: »true } }`],
  ['bad-value', `${base}api-keys: {}\naccounts: { bot: { key: true, second-factor: »true } }`],
  [
    'bad-value',
    `${base}${machine}\napi-keys: {}\nlogin: { page: /in, submit: POST /in }\nidentity-providers: { a: { ${provider}, knows: { bot: »b@id.example } } }`,
  ],
  ['wrong-type', keys('sent: »cookie')],
  ['bad-value', keys('life: »0s')],
  ['bad-value', keys('overlap: »soon')],
  ['bad-value', keys('name: »X-Api-Key')],
  ['bad-value', keys("sent: header, name: »'X Api Key'")],
  ['bad-value', keys('sent: header, name: »"X-Key\\r\\nX-Evil"')],
  ['bad-value', keys('sent: header, name: »Cookie')],
  ['bad-value', keys("sent: address, name: »'a&b'")],
  ['unknown-key', keys('»lives: 90d')],
  ['missing-section', `${base}roles: { chief: [], clerk: [] }\nimpersonation: »{ ${whole} }`],
  ['missing-key', `${withLogin}impersonation: »{ start: POST /as/:who, stop: POST /back, by: chief }`],
  ['unknown-role', acting(whole.replace('chief', '»chef'))],
  ['unknown-role', acting(whole.replace('[clerk]', '[clerk, »cleric]'))],
  ['bad-value', acting(whole.replace('POST /as/:who', '»POST /as'))],
  ['bad-value', acting(whole.replace('POST /as/:who', '»POST /:a/as/:who'))],
  ['bad-value', acting(whole.replace('POST /as/:who', "»'POST /as/**'"))],
  ['bad-value', acting(whole.replace('POST /as/:who', '»GET /as/:who'))],
  ['bad-value', acting(whole.replace('POST /back', '»GET /back'))],
  ['same-endpoint', acting(whole.replace('POST /back', '»POST /in'))],
  ['bad-path', acting(`${whole}, not: [/me, »me]`)],
  ['bad-value', acting(`${whole}, life: »0s`)],
  ['wrong-type', acting(`${whole}, kept: »cookie`)],
  ['unknown-key', acting(`${whole}, »until: 5m`)],
  [
    'not-built',
    `${acting(whole).replace('submit: POST /in', 'submit: POST /in, by: tokens').replace('impersonation: {', 'impersonation: »{')}\ntokens: { access: { life: 5m } }`,
  ],
])('%s of a machine, or of acting for somebody, row %#', (code, withMark) => {
  const { expected, text } = marked(code, withMark);
  expect(faults(text)).toContain(expected);
});

const played = `${base}accounts: { bot: { key: true }, ann: { password: a-1 } }\napi-keys: {}\nlogin: { page: /in, submit: POST /in }\nwalks: [{ name: a, steps: [»step] }]`;

test.each([
  ['unknown-account', '{ send: { request: GET /, key: »bott } }'],
  ['bad-value', '{ send: { request: GET /, key: »ann } }'],
  ['bad-value', '{ send: { request: GET /, key: bot }, from: »https://mail.example }'],
  ['missing-key', '{ send: »{ key: bot } }'],
  ['unknown-key', '{ send: { request: GET /, key: bot, »late: true } }'],
  ['bad-value', '{ rotate-key: »ann }'],
  ['unknown-account', '{ revoke-key: »bott }'],
  ['bad-value', '{ login: »bot }'],
  ['bad-value', '{ set-password: { as: »bot, password: b-2 } }'],
  ['cannot-be-expected', '{ rotate-key: bot, »status: 200 }'],
  ['unknown-account', '{ visit: /, acted-by: »bott }'],
])('%s of a step with a key, row %#', (code, step) => {
  const { expected, text } = marked(code, played.replace('»step', step));
  expect(faults(text)).toContain(expected);
});
