import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { againstFormat } from '../../src/render/draft/against-json';
import { draftFormat } from '../../src/render/draft/draft-json';
import { Workplace } from '../support/program';

const API = `openapi: 3.0.3
info: { title: Berths }
servers: [{ url: https://harbour.example }]
paths:
  /berths: { get: { responses: { '200': {} } }, post: { security: [{ key: [] }], responses: { '201': {} } } }
components: { securitySchemes: { key: { type: http, scheme: bearer } } }
`;

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
  place.put('api.yaml', API);
  place.put('routes.txt', 'GET /berths\\nGET /tides\\n'.replaceAll('\\n', '\n'));
});
afterEach(() => {
  place.remove();
});

/** A recording of somebody who logs in, as a browser without much to say would save it. */
function har(steps: readonly (readonly [line: string, to?: string, body?: string])[]): string {
  const entries = steps.map(([line, to, text], at) => {
    const [method, path, status] = line.split(' ');
    const isForm = text !== undefined;
    return {
      startedDateTime: new Date(Date.UTC(2026, 4, 1, 10, 0, at)).toISOString(),
      request: {
        method,
        url: `https://harbour.example${path ?? ''}`,
        headers: [{ name: 'Accept', value: 'text/html' }],
        ...(isForm ? { postData: { mimeType: 'application/x-www-form-urlencoded', text } } : {}),
      },
      response: {
        status: Number(status),
        headers: [
          ...(to === undefined ? [] : [{ name: 'Location', value: to }]),
          ...(isForm && status === '303'
            ? [{ name: 'Set-Cookie', value: `sid=${at}; Path=/; HttpOnly; Secure; SameSite=Lax` }]
            : []),
        ],
        content: { mimeType: 'text/html', text: `<h1>${path ?? ''}</h1>` },
      },
    };
  });
  return JSON.stringify({ log: { version: '1.2', entries } });
}

const INES = har([
  ['GET /ledger 302', '/in'],
  ['GET /in 200'],
  ['POST /in 303', '/ledger', 'mail=jane%40real.example&password=Secret-77'],
  ['GET /ledger 200'],
  ['GET /tides 200'],
  ['POST /sign-out 303', '/in'],
  ['GET /in 200'],
]);

describe('cavrin draft', () => {
  test('writes a policy that check reads, and says what it guessed', () => {
    const { status, out, err } = place.run(['draft', '--openapi', 'api.yaml', '--routes', 'routes.txt']);
    expect([status, err]).toEqual([0, '']);
    expect(out).toMatch(/^Drafted 2 pages and 1 account\n {2}wrote cavrin\.yaml\n/);
    expect(out).toMatch(/Guessed 2 times, .*\n {2}line \d+ +\/tides +the list does not say whom it is for\n/);
    expect(out).toContain('then cavrin check, and cavrin coverage --propose walks.yaml for walks');
    expect(place.read('cavrin.yaml')).toMatch(/^# A first policy, drafted from api\.yaml, routes\.txt\.\n/);
    expect(place.read('cavrin.yaml')).toContain(
      '  /berths: { read: everyone, write: signed-in, kind: api, methods: [GET, POST], write-status: 201 }\n',
    );
    expect(existsSync(join(place.folder, 'walks'))).toBe(false);
    expect(place.run(['check']).status).toBe(1);
  });

  test('writes walks that replay a recording, into a folder that it makes', () => {
    place.put('ines.har', INES);
    const { status, out } = place.run(['draft', 'first/one', '--har', 'ines=ines.har']);
    expect(status).toBe(0);
    expect(out).toContain('✓ 1 recorded walk with 4 steps comes out on the draft as recorded\n');
    expect(place.read('first/one/walks/recorded.yaml')).toBe(
      [
        '# What was recorded, to be replayed: each step with what came of it.',
        'walks:',
        '  - name: "As recorded: ines"',
        '    steps:',
        '      - { visit: /ledger, lands: /in }',
        '      - { login: ines, lands: /ledger }',
        '      - { visit: /tides, status: 200 }',
        '      - { logout: , lands: /in }',
        '',
      ].join('\n'),
    );
    const walk = place.run(['walk', 'first/one/cavrin.yaml']);
    expect([walk.status, walk.out.includes('1 walk, 4 steps: all as expected')]).toEqual([0, true]);
    expect(place.read('first/one/cavrin.yaml')).not.toMatch(/jane|real\.example|Secret/);
  });

  test('never writes over what is there, nor part of it', () => {
    place.put('walks/recorded.yaml', 'mine');
    place.put('ines.har', INES);
    const { status, err } = place.run(['draft', '--har', 'ines=ines.har']);
    expect(status).toBe(2);
    expect(err).toMatch(/^cavrin: cannot write walks\/recorded\.yaml: it is there already/);
    expect(existsSync(join(place.folder, 'cavrin.yaml'))).toBe(false);
    expect(place.read('walks/recorded.yaml')).toBe('mine');
  });

  test('says with status 1 where a recording comes out otherwise', () => {
    // A page that one recording refuses to everybody and another gives to a guest.
    place.put('a.har', INES);
    place.put('guest.har', har([['GET /ledger 200'], ['GET /ledger 302', '/in'], ['GET /in 200']]));
    const { status, out } = place.run(['draft', '--har', 'ines=a.har', '--har', 'guest=guest.har']);
    expect(status).toBe(1);
    expect(out).toContain('guests were let in at one time, and refused at another');
    expect(out).toMatch(
      /✗ 2 steps of 6 come out otherwise on the draft than recorded:\n✗ As recorded: ines, step 1, visit \/ledger: /,
    );
  });

  test('a logout without any login is a request, and what is written can be read', () => {
    place.put('guest.har', har([['GET /home 200'], ['POST /logout 302', '/bye'], ['GET /bye 200']]));
    const { status } = place.run(['draft', '--har', 'guest=guest.har']);
    expect(status).toBeLessThan(2);
    expect(place.read('walks/recorded.yaml')).toContain('send: POST /logout');
    expect(place.run(['walk']).err).toBe('');
  });

  test('has a form for programs, and keeps quiet when asked', () => {
    const { out } = place.run(['draft', '--openapi', 'api.yaml', '--format', 'json']);
    const told = draftFormat.parse(JSON.parse(out));
    expect(told.totals).toEqual({ pages: 1, accounts: 1, walks: 0, steps: 0 });
    expect(told.guesses.map(({ text }) => text)).toEqual(['how long a key is good is not described']);
    expect(place.run(['draft', 'quiet', '--openapi', 'api.yaml', '--quiet']).out).toBe('');
  });

  test.each([
    [[], /needs something to draft from: --openapi, --har/],
    [['--har', 'ines.har'], /say whose recording it is, as in ines=ines\.har/],
    [['--har', 'signed-in=a.har'], /signed-in has a meaning of its own/],
    [['--har', 'ines=api.yaml'], /api\.yaml:1:1\n {2}this is no HAR recording/],
    [
      ['--openapi', 'routes.txt', '--routes', 'api.yaml'],
      /routes\.txt:1:1[\s\S]*api\.yaml:1:1\n {2}this line is no route/,
    ],
    [['--openapi', 'none.yaml'], /there is no file none\.yaml/],
    [['--sitemap', '.'], /is a folder/],
    [['--at', 'harbour'], /harbour is no address/],
    [
      ['--at', 'https://harbour.example', '--login', '/in'],
      /harbour\.example is not this machine: say --allow-host harbour\.example/,
    ],
    [['--at', 'http://127.0.0.1:9', '--login', 'in'], /--login \/login/],
    [['--at', 'http://127.0.0.1:9', '--login', '/in'], /needs accounts to look as/],
    [
      ['--at', 'http://127.0.0.1:9', '--login', '/in', '--account', 'ines:env:NOT_SET'],
      /the variable NOT_SET is not set/,
    ],
    [['--at', 'http://127.0.0.1:9', '--login', '/in', '--account', 'ines:env:PATH'], /nothing listens there/],
    [
      ['--at', 'http://127.0.0.1:9', '--login', '/in', '--account', 'guest:env:PATH'],
      /guest cannot be the name of an account/,
    ],
    [
      ['--at', 'http://127.0.0.1:9', '--login', '/in', '--account', '7 up:env:PATH'],
      /7 up cannot be the name of an account/,
    ],
  ])('%j is refused with status 2, and writes nothing', (args, message) => {
    const { status, err } = place.run(['draft', ...args]);
    expect(status).toBe(2);
    expect(err).toMatch(message);
    expect(existsSync(join(place.folder, 'cavrin.yaml'))).toBe(false);
  });

  test('takes a large description, and a recording with much in it, in its stride', () => {
    const paths = Object.fromEntries(
      Array.from({ length: 900 }, (_, at) => [
        `/part-${at}/{id}`,
        { get: { description: 'x'.repeat(5000) } },
      ]),
    );
    place.put('large.json', JSON.stringify({ openapi: '3.1.0', paths }));
    expect(place.run(['draft', 'large', '--openapi', 'large.json']).out).toContain('Drafted 900 pages');
    const many = Array.from({ length: 3000 }, (_, at) => [`GET /berths/${at} 200`] as const);
    place.put('many.har', har(many));
    const { status, out } = place.run(['draft', 'many', '--har', 'guest=many.har']);
    expect([status, out.includes('Drafted 1 page')]).toEqual([0, true]);
  });
});

describe('cavrin draft --into', () => {
  const POLICY = `cavrin: 1
app: Harbour
origin: https://harbour.example
accounts: { ines: { password: gull-29 } }
pages: { /: { for: everyone }, /in: { for: guests }, /berths: { for: signed-in, kind: api, methods: [GET] }, /ledger: { for: signed-in } }
login: { page: /in, submit: POST /in, return: { kept: session } }
landing: [{ otherwise: /ledger }]
logout: { submit: POST /sign-out, lands: /in }
session: { idle: 1h, cookie: { name: hb } }
`;

  test('tells what only the sources have, what only the policy has, and what is otherwise', () => {
    place.put('own.yaml', POLICY);
    const { status, out } = place.run([
      'draft',
      '--openapi',
      'api.yaml',
      '--routes',
      'routes.txt',
      '--into',
      'own.yaml',
    ]);
    expect(status).toBe(1);
    expect(out.split('\n\n').slice(1)).toEqual([
      'In the sources, and not in the policy\n+ POST /berths\n+ GET /tides',
      'In the policy, and not in the sources\n– GET /  line 5\n– GET /in  line 5\n– GET /ledger  line 5\n– the login POST /in  line 6\n– the logout POST /sign-out  line 8',
      'Otherwise in the policy\n≠ GET /berths: in the sources guests are let in; in the policy guests are refused  line 5\n',
    ]);
    expect(existsSync(join(place.folder, 'cavrin.yaml'))).toBe(false);
  });

  test('plays what was recorded on the policy, and compares cookies', () => {
    place.put('own.yaml', POLICY);
    place.put('ines.har', INES);
    const run = place.run(['draft', '--har', 'ines=ines.har', '--into', 'own.yaml', '--format', 'json']);
    const told = againstFormat.parse(JSON.parse(run.out));
    expect(told.notInPolicy.map(({ what }) => what)).toEqual(['GET /tides']);
    expect(told.otherwise.map(({ inSources, inPolicy }) => [inSources, inPolicy])).toEqual([
      ['sid, secure, http-only, same-site lax', 'hb, secure, http-only, same-site lax'],
    ]);
    expect(told.recorded).toEqual([
      {
        walk: 'As recorded: ines',
        step: 3,
        does: 'visit /tides',
        differences: ['expects status 200; it was 404'],
      },
    ]);
  });

  test('says so where both have the same, or where the policy lacks whoever was recorded', () => {
    place.put('ines.har', INES);
    expect(place.run(['draft', '--har', 'ines=ines.har']).status).toBe(0);
    const same = place.run(['draft', '--har', 'ines=ines.har', '--into', 'cavrin.yaml']);
    expect([same.status, same.out]).toEqual([
      0,
      expect.stringContaining(
        'has what the sources have, and nothing else, and 4 recorded steps come out on it.',
      ),
    ]);
    const other = place.run(['draft', '--har', 'petra=ines.har', '--into', 'cavrin.yaml']);
    expect(other.out).toContain(
      '! the recorded walks cannot be played on the policy: no account is called petra',
    );
  });
});
