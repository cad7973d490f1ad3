import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Addresses } from '../../../src/core/draft/addresses';
import type { DescribedRequest, Evidence } from '../../../src/core/draft/evidence';
import { guessesIn } from '../../../src/core/language/text/guesses';
import { sourceOf } from '../../../src/core/language/text/source';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { drafted, exchange, LOGIN, recording } from '../../support/drafted';
import { EXAMPLES, project, SHIPPED } from '../../support/policies';
import { simulatedRecording } from '../../support/simulated-recording';

beforeAll(loadRegularLanguages);

/** Policies whose recordings come out otherwise in some steps, and why. */
const KNOWN: Readonly<Record<string, number>> = {
  // A code that is asked for at a page, and that nobody gave while they were recorded.
  '06-code-at-page.yaml': 3,
  '09-code-and-fresh-login.yaml': 3,
  // Barriers, and switches.
  'fennel-row': 8,
};

const SOUND = [
  ...readdirSync(join(EXAMPLES, 'sound')).map((name) => [name, join(EXAMPLES, 'sound', name)] as const),
  ...SHIPPED.map((name) => [name, join(EXAMPLES, name, 'cavrin.yaml')] as const),
];

test.each(SOUND)('what people are recorded to do at %s comes out on the draft', (name, file) => {
  const { policy, stage } = project(readFileSync(file, 'utf8'));
  const people = [...(policy?.accounts.values() ?? [])].filter(
    ({ key, state }) => !key && state === 'active',
  );
  const recordings = [null, ...people.map((each) => each.name)].map((person) =>
    simulatedRecording(stage, person),
  );
  const { draft, otherwise } = drafted({ recordings });
  expect(otherwise.slice(KNOWN[name] ?? 0)).toEqual([]);
  expect(otherwise).toHaveLength(KNOWN[name] ?? 0);
  expect(draft.walks.length).toBeGreaterThan(0);
});

const described = (
  line: string,
  access: DescribedRequest['access'],
  more: Partial<DescribedRequest> = {},
): DescribedRequest => {
  const [method = 'GET', pattern = '/'] = line.split(' ');
  return {
    pattern,
    method: method as 'GET',
    kind: 'api',
    access,
    status: null,
    guess: null,
    takesPassword: false,
    ...more,
  };
};

describe('a draft from descriptions', () => {
  const from = (
    requests: readonly DescribedRequest[],
    schemes: Evidence['descriptions'][number]['schemes'] = [],
  ) =>
    drafted({
      descriptions: [{ from: 'api.yaml', app: 'Berths', origin: null, requests, schemes, notes: [] }],
    });

  test('has an audience for each way to ask, and roles for scopes', () => {
    const { lines, text } = from(
      [
        described('GET /berths', { scopes: [['berths:read']] }),
        described('POST /berths', { scopes: [['berths:read', 'berths:write']] }, { status: 201 }),
        described('GET /berths/:id', 'everyone'),
        described('DELETE /berths/:key', { scopes: [['berths:write'], ['admin']] }, { status: 204 }),
      ],
      [{ kind: 'key', sent: 'header', name: 'X-Key' }],
    );
    expect(lines).toContain(
      '/berths: { read: [berths-read], write: { all: [berths-read, berths-write] }, kind: api, methods: [GET, POST], write-status: 201 }',
    );
    // One address has one page, whatever its parameter is called.
    expect(text).toContain(
      '/berths/:id: { read: everyone, write: [berths-write, admin], kind: api, methods: [GET, DELETE], write-status: 204 }',
    );
    expect(lines).toContain('machine: { key: true, roles: [admin, berths-read, berths-write] }');
    expect(text).toContain('api-keys: { sent: header, name: X-Key } # guess: ');
  });

  test('finds the login that hands out tokens', () => {
    const { text } = from(
      [
        described('POST /auth/token', 'everyone', { takesPassword: true }),
        described('GET /me', 'signed-in'),
        described('POST /auth/logout', 'signed-in'),
      ],
      [{ kind: 'tokens', submit: 'POST /auth/token', refresh: 'POST /auth/token' }],
    );
    expect(text).toContain('login: { page: /sign-in, submit: POST /auth/token, by: tokens }');
    expect(text).toContain('logout: { submit: POST /auth/logout } # guess: ');
    expect(text).toContain('mia: { password: mia-1 }');
  });

  test('lets recordings say more of what is described, and go before it', () => {
    const { text } = drafted({
      descriptions: [
        {
          from: 'api.yaml',
          app: null,
          origin: null,
          schemes: [],
          notes: [],
          requests: [
            described('GET /berths/:berth', 'everyone', { kind: 'page' }),
            described('POST /berths/:berth', 'signed-in', { kind: 'page' }),
          ],
        },
      ],
      recordings: [
        recording(null, [exchange(0, 'GET /berths/12 302 /in'), exchange(1, 'GET /in')]),
        recording('ines', [...LOGIN(0, 'ines', '/berths/12')]),
      ],
    });
    expect(text).toContain('/berths/:berth: { for: signed-in, methods: [GET, POST] }');
  });

  test('leaves out what no page can be, and says so', () => {
    const { draft, text } = from([described('GET /-/x', 'everyone'), described('GET /ok', 'everyone')]);
    expect(draft.notes).toEqual([
      'api.yaml: GET /-/x is left out: addresses below /-/ belong to the pages that steer the stand-in',
    ]);
    expect(text).toContain('pages: # guess: the description says nothing of security');
  });
});

test.each([
  ['/berths/12/bookings/b1946ac9-2492-4d23-88a1-1f0fb2d0a2a5', '/berths/:id/bookings/:id2'],
  ['/users/ines%40harbour.example/', '/users/:account'],
  ['/reset/q7x81kfp0aa93mzt55dd', '/reset/:id'],
  ['/b%C3%BCro/ledger-2026', '/büro/ledger-2026'],
  ['/a//b', '/a/b'],
  ['/a/%2F', null],
  ['/-/x', null],
])('the address %s is one of %s', (path, pattern) => {
  const addresses = new Addresses([], new Map([['ines@harbour.example', 'ines']]));
  expect(addresses.patternOf(path)).toBe(pattern);
});

test('a guess is a comment that starts so, and nothing else is', () => {
  const source = sourceOf(
    'x',
    'a: \'# guess: no\' # guess: yes, # or not\n# guess:   alone\nb: |\n  # guess: in a block\nc: "x" #guess: tight\n# Guess: loud\n#guessing: no\n',
  );
  const found = guessesIn({ source });
  expect(found.map(({ text }) => text)).toEqual(['yes, # or not', 'alone', 'tight', 'loud']);
  for (const { place } of found) {
    expect(source.text.slice(place.start, place.end)).toMatch(/^#\s*guess: .*\S$/i);
  }
});
