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
