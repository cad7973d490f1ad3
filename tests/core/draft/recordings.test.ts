import { drafted, exchange, LOGIN, recording } from '../../support/drafted';

/** A guest who has the cookie of a session already. */
const GUEST = { cookies: new Map([['sid', '1']]) };

function fail(): never {
  throw new Error('no exchange');
}

describe('a draft from recordings', () => {
  test('takes names, passwords and secrets out of what it writes', () => {
    const secret = 'q7x81kfp0aa93mzt55dd';
    const { text, draft, lines } = drafted({
      recordings: [
        recording('ines', [
          ...LOGIN(0, 'jane', '/people/jane@real.example'),
          exchange(4, `GET /invoices/88123?mail=jane@real.example&key=${secret}`),
          exchange(5, `GET /reset/${secret}`),
        ]),
      ],
    });
    const all = text + JSON.stringify(draft.walks) + draft.notes.join();
    for (const word of ['jane', 'real.example', 'Secret-77', secret]) expect(all).not.toContain(word);
    expect(lines).toContain('ines: { password: ines-1 }');
    expect(text).toMatch(/# guess: .*that \/people\/ines is one of many\n +\/people\/:account: /);
    expect(text).toMatch(/# guess: .*that \/invoices\/88123 is one of many\n +\/invoices\/:id: /);
    expect(lines.find((line) => line.startsWith('login:'))).toContain(
      'fields: { account: email, password: pass }',
    );
  });

  test('tells where a refused login leads, without whose it was', () => {
    const form = {
      sends: 'form',
      fields: [
        ['user', 'jane'],
        ['pass', 'no'],
      ],
    } as const;
    const { text, draft } = drafted({
      recordings: [
        recording('ines', [
          exchange(0, 'GET /in'),
          exchange(1, 'POST /in 303 /in?failed&user=jane&from=web', form),
          exchange(2, 'GET /in?failed&user=jane&from=web'),
          exchange(3, 'POST /in 303 /berths', {
            ...form,
            sets: 'sid=1; Path=/; HttpOnly; Secure; SameSite=Lax',
          }),
          exchange(4, 'GET /berths'),
        ]),
      ],
    });
    expect(text).toContain('wrong: /in?failed&from=web');
    expect(text + JSON.stringify(draft)).not.toContain('jane');
  });

  test.each([
    ['admin', '/admin/ledger', '/admin/ledger', '/admin/ledger', 'signed-in'],
    ['jane', '/jane', '/ines', '/ines', 'signed-in'],
    ['jane', '/people/jane/boats', '/people/:account/boats', '/people/ines/boats', '{ account: account }'],
  ])('whoever logs in as %s and opens %s has the page %s', (name, path, pattern, written, whom) => {
    const [form, sent, landed] = LOGIN(0, name, '/berths');
    const login = {
      ...sent,
      fields: [
        ['email', name],
        ['pass', 'Secret-77'],
      ] as const,
    };
    const { text, draft, otherwise } = drafted({
      recordings: [
        recording(
          'ines',
          [form, login, landed, exchange(5, `GET ${path}`)].filter((each) => each !== undefined) as never,
        ),
      ],
    });
    expect(text).toContain(`  ${pattern}: { for: ${whom},`);
    expect(draft.walks[0]?.steps.at(-1)).toEqual({ visit: written, status: 200 });
    expect(otherwise).toEqual([]);
  });

  test('says of each page only what was seen, and guesses the rest aloud', () => {
    const { text, otherwise } = drafted({
      recordings: [
        recording(null, [
          exchange(0, 'GET /ledger 302 /in'),
          exchange(1, 'GET /in'),
          exchange(2, 'GET /tides'),
        ]),
        recording('ines', [
          ...LOGIN(0, 'ines', '/berths'),
          exchange(4, 'GET /ledger 403'),
          exchange(5, 'GET /busy 503'),
        ]),
        recording('petra', [
          ...LOGIN(0, 'petra', '/ledger'),
          exchange(4, 'GET /in 302 /ledger'),
          exchange(5, 'GET /ledger'),
        ]),
      ],
    });
    expect(otherwise).toEqual([]);
    expect(text).toContain('  /ledger: { for: [for-ledger], methods: [GET] }\n');
    expect(text).toContain('  /in: { for: guests, methods: [GET] }\n');
    expect(text).toContain(
      '  /berths: { for: signed-in, methods: [GET] } # guess: no guest was recorded here; only ines was recorded here\n',
    );
    expect(text).toContain(
      '  /tides: { for: everyone, methods: [GET] } # guess: only guests were recorded here\n',
    );
    expect(text).toContain('  - { role: for-ledger, to: /ledger }\n  - { otherwise: /berths }\n');
    // A busy app tells nothing of whom its page is for.
    expect(text).not.toContain('/busy');
  });

  test.each([
    [
      'sid=1; Path=/app; Max-Age=1800',
      'absolute: 30m, renews: never, cookie: { name: sid, secure: false, http-only: false, same-site: unset, path: /app, life: 30m }',
    ],
    ['sid=1; Path=/; HttpOnly; Secure; SameSite=Strict', 'cookie: { name: sid, same-site: strict }'],
    [
      'sid=1; Path=/; HttpOnly; Secure; SameSite=None; Domain=harbour.example',
      'cookie: { name: sid, same-site: none, domain: harbour.example }',
    ],
  ])('writes the cookie %s as it was set', (cookie, written) => {
    const { text } = drafted({ recordings: [recording('ines', LOGIN(0, 'ines', '/berths', cookie))] });
    expect(text).toContain(`session: { ${written} }`);
  });

  test('tells a session that a login goes on with, a cookie that a logout leaves, and time that passed', () => {
    const kept = { cookies: new Map([['sid', '1']]) };
    const { text, draft } = drafted({
      recordings: [
        recording('ines', [
          exchange(0, 'GET /tides', { sets: 'sid=1; Path=/; HttpOnly; Secure; SameSite=Lax' }),
          exchange(1, 'GET /in', kept),
          ...LOGIN(2, 'ines', '/berths')
            .slice(1)
            .map((each) => ({ ...each, ...kept })),
          exchange(400, 'POST /sign-out 303 /tides', kept),
          exchange(401, 'GET /tides', kept),
        ]),
      ],
    });
    expect(text).toContain('starts: at-first-visit');
    expect(text).toContain('renew-session-id: false');
    expect(text).not.toMatch(/guess:.*renew-session-id/);
    expect(text).toContain('the logout left the cookie in the browser');
    expect(draft.walks[0]?.steps).toContainEqual({ wait: '6m36s' });
  });

  test('does not take a session for kept that nobody was seen with again', () => {
    const [form, sent] = LOGIN(0, 'petra', '/berths');
    const { text } = drafted({
      recordings: [
        recording('ines', LOGIN(0, 'ines', '/berths')),
        recording('petra', [form ?? fail(), { ...(sent ?? fail()), ...GUEST, setCookies: [] }]),
      ],
    });
    expect(text).not.toContain('renew-session-id');
  });

  test('makes up another password where the first is the one that was recorded', () => {
    const [form, sent, landed] = LOGIN(0, 'jane', '/berths');
    const real = {
      ...(sent ?? fail()),
      fields: [
        ['email', 'jane'],
        ['pass', 'ines-1'],
      ] as const,
    };
    const { text } = drafted({ recordings: [recording('ines', [form ?? fail(), real, landed ?? fail()])] });
    expect(text).toContain('ines: { password: ines-2 }');
    expect(text).not.toContain('ines-1');
  });

  test.each([
    ['/in?to=/ledger', 'GET /in?to=/ledger', 'return: { param: to }'],
    ['/in', 'GET /in', 'return: { kept: session }'],
  ])('sees how people come back, by %s', (sent, shown, written) => {
    const { text } = drafted({
      recordings: [
        recording('ines', [
          exchange(0, `GET /ledger 302 ${sent}`),
          exchange(1, shown),
          ...LOGIN(2, 'ines', '/ledger').slice(1),
        ]),
      ],
    });
    expect(text).toContain(written);
  });

  test('tells what is missing: a login, cookies, and requests of other sites', () => {
    const other = { ...exchange(1, 'GET /x'), origin: 'https://cdn.example', isDocument: false };
    const { draft } = drafted({
      recordings: [{ ...recording('ines', [exchange(0, 'GET /'), other]), isWithoutCookies: true }],
    });
    expect(draft.notes.join('\n')).toMatch(
      /saved without cookies.*\n.*cdn\.example are left out\n.*no recording has a login/s,
    );
  });
});

test('a box that was ticked once, and a code that was wrong, are told from what is usual', () => {
  const cookie = (life: string) => `sid=1; Path=/; HttpOnly; Secure; SameSite=Lax${life}`;
  const form = (person: string, ...more: [string, string][]) => ({
    sends: 'form' as const,
    fields: [['user', person], ['pass', 'Secret-77'], ...more] as const,
  });
  const code = (text: string) => ({ sends: 'form' as const, fields: [['code', text]] as const });
  const { text, lines, draft, otherwise } = drafted({
    recordings: [
      recording('ines', [
        exchange(0, 'GET /in'),
        exchange(1, 'POST /in 303 /berths', { ...form('ines'), sets: cookie('') }),
        exchange(2, 'GET /berths', GUEST),
      ]),
      recording('tomas', [
        exchange(0, 'GET /in'),
        exchange(1, 'POST /in 303 /berths', {
          ...form('tomas', ['keep', 'on']),
          sets: cookie('; Max-Age=2592000'),
        }),
        exchange(2, 'GET /berths', GUEST),
      ]),
      recording('petra', [
        exchange(0, 'GET /in'),
        exchange(1, 'POST /in 303 /code', form('petra')),
        exchange(2, 'GET /code'),
        exchange(3, 'POST /code 303 /code?no', code('000000')),
        exchange(4, 'GET /code?no'),
        exchange(5, 'POST /code 303 /ledger', { ...code('123456'), sets: cookie('') }),
        exchange(6, 'GET /ledger', GUEST),
      ]),
    ],
  });
  expect(otherwise).toEqual([]);
  expect(lines).toContain('session: { cookie: { name: sid } }');
  expect(text).toMatch(/# guess: .*that of whoever is remembered, which is kept for 30d, is left out/);
  expect(draft.walks[1]?.steps[1]).toEqual({ login: 'tomas', lands: '/berths' });
  expect(draft.walks[2]?.steps.slice(1)).toEqual([
    { login: 'petra', lands: '/code' },
    { code: 'wrong', lands: '/code' },
    { code: 'right', lands: '/ledger' },
  ]);
  expect(text).toContain('role: for-ledger, to: /ledger');
});

test.each([
  ['is refused', '403', '/cards/:account: { for: { account: account }, methods: [GET] }'],
  ['is sent to the login', '302 /in', '/cards/:account: { for: { account: account }, methods: [GET] }'],
  ['is let in', '200', '/cards/:account: { for: signed-in, methods: [GET] }'],
])('a page that names its owner, where somebody else %s', (_how, answer, line) => {
  const at = (second: number, path: string, more = '') =>
    exchange(second, `GET ${path} ${more}`.trim(), GUEST);
  const { text, otherwise, draft } = drafted({
    recordings: [
      recording(null, [exchange(0, 'GET /cards/ines@real.example 302 /in'), exchange(1, 'GET /in')]),
      recording('ines', [...LOGIN(0, 'ines', '/berths'), at(4, '/cards/ines@real.example')]),
      recording('tomas', [
        ...LOGIN(0, 'tomas', '/berths'),
        at(4, '/cards/tomas@real.example'),
        at(5, '/cards/ines@real.example', answer),
        ...(answer.endsWith('/in') ? [at(5, '/in')] : []),
        at(6, '/berths'),
      ]),
    ],
  });
  expect(text).toContain(line);
  expect(otherwise).toEqual([]);
  expect(draft.walks[1]?.steps.at(-1)).toEqual({ visit: '/cards/ines', status: 200 });
});
