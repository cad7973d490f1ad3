import { Secrets } from '../../src/core/real-app/secrets';
import { harmless } from '../../src/cli/printing';
import { Workplace } from '../support/program';
import { policyText } from '../support/policies';

const EVIL = '\u001b[31mred\u0007';

/** Calls that name something of which an error tells. */
const CALLS = [
  ['no-command', EVIL],
  [EVIL],
  [`--opt${EVIL}`],
  ['check', EVIL],
  ['walk', '--only', EVIL],
  ['why', EVIL],
  ['why', '/desk', '--as', EVIL],
  ['grid', '--method', EVIL],
  ['prove', '--most-time', EVIL],
  ['prove', '--join', EVIL],
  ['draft', '--har', EVIL],
  ['draft', '--har', `ann=${EVIL}`],
  ['draft', '--openapi', EVIL],
  ['draft', '--at', EVIL, '--login', '/in'],
  ['draft', '--at', '127.0.0.1:1', '--login', '/in', '--account', EVIL],
  ['live', '--at', EVIL],
  ['live', '--config', EVIL],
  ['live', '--learn', '--at', '127.0.0.1:1', '--login', EVIL],
  ['draw', EVIL],
  ['draw', 'walk', EVIL],
  ['demo', EVIL],
  ['diff', EVIL, EVIL],
  ['serve', '--host', EVIL],
  ['serve', '--port', EVIL],
  ['schema', EVIL],
  ['coverage', '--at-least', EVIL],
  ['report', '--output', `${EVIL}/x.html`],
  ['check', '--output', `no-folder${EVIL}/x`],
  ['completion', EVIL],
];

test('no error has a control character of the call in it as it is', () => {
  const place = new Workplace();
  place.put('cavrin.yaml', policyText());
  try {
    const raw = CALLS.flatMap((call) => {
      const { err, status } = place.run(call);
      // eslint-disable-next-line no-control-regex -- it is what is looked for
      const isRaw = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/.test(err);
      return isRaw || status !== 2 ? [{ call, err, status }] : [];
    });
    expect(raw).toEqual([]);
  } finally {
    place.remove();
  }
}, 120_000);

test.each([
  ['plain\nlines\n', 'plain\nlines\n'],
  ['\u001b[31mred\u001b[39m', '\u001b[31mred\u001b[39m'],
  ['\r\u001b[K3 of 5', '\r\u001b[K3 of 5'],
  ['a\u0007b\u001b]0;title\u0007', 'a\\u{7}b\\u{1b}]0;title\\u{7}'],
  ['\u202egnp.exe', '\\u{202e}gnp.exe'],
  ['\u001b[2J', '\\u{1b}[2J'],
])('a message %j is printed as %j', (text, printed) => {
  expect(harmless(text)).toBe(printed);
});

test('secrets are cut out in each form, but for those that are names', () => {
  const secrets = new Secrets();
  expect(secrets.cut('gull/29 & sand')).toBe('gull/29 & sand');
  secrets.add('gull/29 & sand');
  secrets.add('ines');
  secrets.addName('ines');
  secrets.addName('admin');
  secrets.add('admin');
  expect(secrets.cut('ines has gull/29 & sand, gull%2F29%20%26%20sand; admin')).toBe('ines has …, …; admin');
});
