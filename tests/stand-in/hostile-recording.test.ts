import { hasErrors, loadProject, sourceOf, stageOf } from '../../src/core/internal';
import { playWalk } from '../../src/core/walks/runner';
import { Asked, cookies } from '../support/asked-stand-in';
import { policyText } from '../support/policies';

const PARTS = {
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests }, /desk: { for: [clerk] }, /of/:name: { for: signed-in, methods: [GET, POST] } }',
  login: 'login: { page: /in, submit: POST /in, return: {} }',
  landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
  more: 'sign-up: { page: /join, submit: POST /join, then: login, lands: / }\nconfirm: { path: /confirm/:token, life: 1h }',
};

let asked: Asked;
beforeEach(async () => {
  asked = await Asked.start(PARTS);
});
afterEach(async () => {
  await asked.standIn.stop();
});

const steer = (deed: string, fields: Record<string, string>) =>
  asked.post(`/-/${deed}`, fields, { authorization: `Bearer ${asked.standIn.secret}` });

/** Names that mean something to YAML, to a terminal, to a page, to a path or to the language. */
const HOSTILE = [
  ...'*a|!!binary|#x|"x"|{a}|[a]|%x|@x|`x`|>-|~|null|true|0x10|1e3|2026-12-01|12:30|__proto__|constructor|guest'.split(
    '|',
  ),
  ..."a: b;- a;&a b;? x;a #b;it's;|;a, b;../../x;/etc/passwd;$(touch x);</textarea><script>;::error::x".split(
    ';',
  ),
  ...[
    'a\nwalks: []',
    'a\r\n# b',
    'a\tb',
    '\u0000',
    '\u001b[2J',
    '\u0085x',
    '\u2028x',
    '\u202ex',
    '\u200bx',
    '\ufeffx',
  ],
  ...['\\u0041', 'é', 'e\u0301', '日本', 'x'.repeat(199)],
];

/** What the text of a recorded walk is once it is read and played. */
async function replayed(text: string) {
  const policy = sourceOf('cavrin.yaml', policyText(PARTS));
  const loaded = await loadProject(policy, [sourceOf('recorded.yaml', text)]);
  const errors = hasErrors(loaded.diagnostics) ? loaded.diagnostics.map(({ message }) => message) : [];
  if (loaded.policy === null) throw new Error('no policy');
  const stage = stageOf(loaded.policy);
  const plays = loaded.walks.map((walk) => ({ name: walk.name, passed: playWalk(stage, walk).passed }));
  return { errors, plays };
}

test.each(HOSTILE.map((name) => [name]))(
  'whatever people call themselves and their walk: %j',
  async (name) => {
    await steer('walk', { record: 'on' });
    const joined = await asked.post('/join', { account: name, password: name, email: name });
    const encoded = encodeURIComponent(name);
    await asked.ask('GET', `/of/${encoded}?q=${encoded}`, { cookie: cookies(joined) });
    await asked.post('/in', { account: name, password: `${name}!`, back: `/of/${name}` });
    await asked.post('/in?back=%2Fof%2F%0Ax', { account: 'ann', password: name });
    await asked.ask('GET', '/', { cookie: `stand-in-browser=${encoded}`, referer: 'x: y' });
    await steer('clock', { wait: '5m' });
    const ended = await steer('walk', { name });
    const { body } = name.trim() === '' ? await steer('walk', { name: 'x' }) : ended;
    const { errors, plays } = await replayed(body);
    expect([errors, body]).toEqual([[], expect.stringContaining('walks:')]);
    expect(plays).toEqual([{ name: name.trim(), passed: true }]);
    expect(body).not.toMatch(/^\s*::/m);
    expect(body).not.toMatch(/[^\n\P{C}]|[\p{Zl}\p{Zp}]/u);
  },
);

test('a recording stays small enough to be read, and says where it was cut', async () => {
  await steer('walk', { record: 'on' });
  const long = 'x'.repeat(8_000);
  for (let at = 0; at < 400; at++) await asked.ask('GET', `/of/${at}?q=${long}`);
  const { headers } = await asked.ask('GET', '/', { accept: 'text/html' });
  expect(headers['set-cookie'] ?? []).not.toContainEqual(expect.stringContaining('stand-in-browser'));
  const { body } = await steer('walk', { name: 'Long' });
  expect(body).toMatch(/^# It was cut after \d+ requests and deeds\.$/m);
  const { errors, plays } = await replayed(body);
  expect([errors, plays]).toEqual([[], [{ name: 'Long', passed: true }]]);
}, 60_000);
