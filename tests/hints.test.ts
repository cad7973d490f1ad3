import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { runChecks } from '../src/core/checks/run-checks';
import { sourceOf } from '../src/core/language/text/source';
import { loadProject } from '../src/core/walks/project';
import { EXAMPLES } from './support/policies';

/** Of each flaw that a check names what its hint says to write: a part of the policy, and what takes its place. */
const MENDS: Readonly<Record<string, readonly (readonly [flawed: string, mended: string])[]>> = {
  '100': [['lets: [/]', 'lets: [/, /terms]']],
  '101': [
    ['/desk:         { for: [steward] }', '/desk:         { for: [steward], refusals: { guest: desk } }'],
  ],
  '102': [['takes: [steward] }', 'takes: [steward], attempts: { most: 5, within: 15m, pause: 15m } }']],
  '103': [[', renew-session-id: false', '']],
  '104': [['roles: [member], facts', 'roles: [member, gardener], facts']],
  '105': [[', asks-old: false', '']],
  '106': [['ends: [remember]', 'ends: [session, remember, links]']],
  '107': [['own: keeps', 'own: renews']],
  '108': [['life: 3d', 'life: 30m']],
  '109': [[', code: given', '']],
  '110': [[', tells: true', '']],
  '111': [[', same-browser: false', '']],
  '112': [['ends: [session]', 'ends: [session, remember, links]']],
  '113': [['state: absent\n    pkce: false\n    nonce: ignored', 'state: checked']],
  '114': [['matches: address', 'matches: subject']],
  '115': [['parish-id:\n', 'parish-id:\n    logout: provider-too\n']],
  '116': [['code: given', 'code: asked']],
  '117': [['{ overlap: 7d }', '{ life: 90d, overlap: 7d }']],
  '118': [['sent: address, name: access', 'sent: bearer']],
  '119': [['of: [gardener, archivist]', 'of: [gardener]']],
  '120': [['kept: account', 'kept: session']],
  '121': [['of: gardener, life', "of: gardener, not: ['/me/**'], life"]],
  '122': [['write: signed-in }', 'write: signed-in, sets: { terms: accepted } }']],
  '123': [[', also: [login]', '']],
  '124': [['of: shown', 'of: login']],
  '125': [['to: /basins/:basin', 'to: /berths']],
  '126': [['after-write: /office', 'after-write: /berths']],
  '127': [['for: { flags: { charts: on } }', 'for: { any: dockmaster, flags: { charts: on } }']],
  '128': [
    [
      '{ role: skipper, idle: 1h }, { role: dockmaster, idle: 10m }',
      '{ role: dockmaster, idle: 10m }, { role: skipper, idle: 1h }',
    ],
  ],
  '129': [[', counts-as: { fresh: true }', '']],
  '130': [['of: [dockmaster]', 'of: [dockmaster, aide]']],
  '131': [['for: signed-in, sets: { basin: east }', 'for: [dockmaster], sets: { basin: east }']],
  '132': [['/me/mail: { for: signed-in }', '/me/mail: { for: { login-within: 10m } }']],
  '40': [['{ read: [bursar] }', '{ for: [bursar] }']],
  '42': [['{ DELETE: signed-in }', '{ DELETE: [dockmaster] }']],
  '43': [['write: [bursar]', 'write: { any: bursar, second-factor: true }']],
  '44': [['write: [bursar]', 'write: { any: bursar, login-within: 10m }']],
  '45': [['write: [bursar]', 'write: { any: bursar, second-factor: true }']],
  '46': [["'\\.js$'", "'^/files/[^/]+\\.js$'"]],
  '47': [['/Office/**', '/office/**']],
  '48': [['path: /office,', 'path: /office/**,']],
  '50': [['/boats/:owner/log: { for: signed-in }', '/boats/:owner/log: { for: { account: owner } }']],
  '51': [['path: /**, host', 'path: /screen, host']],
  '52': [['192.168.0.0/8', '192.168.0.0/16']],
  '53': [['  - { only: [bursar], reach: /ledger }', '  - { only: [bursar, dockmaster], reach: /ledger }']],
  '54': [['then: login', 'then: confirm, lands: /sign-in']],
  '57': [['lands: /ledger', 'lands: /berths']],
  '58': [['roles: [dockmaster], then', 'roles: [skipper], then']],
  '62': [['"/boats/{id}"', '"/boats/:id"']],
  '63': [['secure: false, http-only: false', 'secure: true, http-only: true']],
  '64': [[', rotates: false', '']],
  '65': [['cookie: { name: sid }', 'cookie: { name: other-sid }']],
  '66': [[', renews: never', ', renews: each-request']],
  '67': [['{ idle: 30m }', '{ idle: 30m, absolute: 8h }']],
  '68': [['life: 40d, longest: 7d', 'life: 2d, longest: 7d']],
  '69': [[', clears: [session]', '']],
  '70': [['most: 5, within: 5s, pause: 5s', 'most: 5, within: 15m, pause: 15m']],
  '71': [['most: 3, within: 1h, pause: 3d', 'most: 5, within: 15m, pause: 15m']],
  '72': [['life: 1d, tries: 100', 'life: 5m, tries: 3']],
  '74': [['code: given', 'code: asked']],
  '86': [[', cookie: { life: 1h, renewed: false }', '']],
  '88': [['accept: one-slash', 'accept: same-origin']],
  '90': [
    [
      '/gardens/:garden/members: { for: [gardener] }',
      "/gardens/:garden/members: { for: { any: gardener, facts: { garden: ':garden' } } }",
    ],
  ],
  '95': [['then: login', 'then: nothing, lands: /sign-in']],
  '96': [[', cookie: { path: /desk }', '']],
  '97': [[', cookie: { domain: fennel-row.example }', '']],
  '99': [['lets: [/, /terms] }', 'lets: [/, /terms], api: 403 }']],
};

/** Where a hint offers a choice: each that it offers. */
const CHOICES: Readonly<Record<string, readonly (readonly (readonly [flawed: string, mended: string])[])[]>> =
  {
    '41': [
      [['methods: [POST]', 'methods: [POST, PUT, PATCH, DELETE]']],
      [['/rates:   {}', '/rates:   { write: [bursar] }']],
    ],
    '49': [
      [['for: everyone }\nlogin', 'for: [dockmaster] }\nlogin']],
      [['/screen:  {}', '/screen:  { for: [dockmaster] }']],
    ],
    '55': [[['for: signed-in }]', 'for: guests }]']], [['for: signed-in }]', 'for: everyone }]']]],
    '56': [
      [['/code:    { for: signed-in }', '/code:    { for: guests }']],
      [['/code:    { for: signed-in }', '/code:    { for: everyone }']],
    ],
    '59': [[['/ledger:  {', '/books:   { for: [bursar] }\n  /ledger:  {']], [['to: /books', 'to: /ledger']]],
    '60': [[['/api/berths: { for: [dockmaster]', '/api/berths: { for: signed-in']]],
    '61': [
      [
        [
          '/berths:  { for: signed-in }',
          '/berths:  { for: signed-in, guard: browser, loads: [GET /api/berths] }',
        ],
      ],
      [['by: tokens', 'by: both']],
      [
        ['access: { life: 5m }', 'access: { life: 5m, kept: cookie }'],
        // Kept there, tabs have them in common.
        ['longest: 12h }', 'longest: 12h }, shared-refresh: true'],
      ],
    ],
    '73': [[['for: signed-in }]', 'for: signed-in }, { path: /**, scheme: https }]']]],
    '85': [
      [["matches: '^/ledger(/|$)'", 'path: /ledger/**']],
      [['/ledger:  {}', '/ledger:  { for: [bursar] }']],
    ],
    '91': [[['/beds: { for: signed-in', "/beds: { for: { facts: { garden: ':garden' } }"]]],
    '92': [
      [['for: [gardener]\n', 'read: [gardener]\n    write: [steward]\n']],
      [['for: [steward], sends', 'for: [gardener], sends']],
    ],
    '93': [
      [['for: [gardener], sends', 'for: [steward], sends']],
      [['write: [steward]', 'write: [gardener]']],
    ],
    '94': [
      [
        [
          '/api/loans: { for: [gardener]',
          '/api/loans: { for: { any: gardener, flags: { stock-taking: off } }',
        ],
      ],
    ],
    '98': [[['/api/tour: { for: signed-in', '/api/tour: { for: { joined-within: 14d }']]],
  };

const FOLDER = join(EXAMPLES, 'faults');
const files = readdirSync(FOLDER);

async function foundIn(text: string) {
  const { policy, input, walks, diagnostics } = await loadProject(sourceOf('cavrin.yaml', text), []);
  const found = policy && input ? runChecks(policy, input, walks) : [];
  // What is accepted with a reason is so no more once it is mended.
  const codes = found.map(({ code }) => code).filter((code) => code !== 'accepts-nothing');
  const grave = new Set(found.flatMap(({ code, severity }) => (severity === 'advice' ? [] : [code])));
  return { codes, grave, faults: diagnostics.map(({ code }) => code) };
}

const TRIED = [
  ...Object.entries(MENDS),
  ...Object.entries(CHOICES).flatMap(([number, choices]) => choices.map((mends) => [number, mends] as const)),
];

test.each(TRIED)('what the hint says mends flaw %s', async (number, mends) => {
  const name = files.find((each) => each.startsWith(`${number}-`)) ?? '';
  const whole = readFileSync(join(FOLDER, name), 'utf8');
  const [, code = ''] = /^# Named by check: ([\w-]+)/m.exec(whole) ?? [];
  // What the walks expect is the flaw.
  const text = whole.slice(0, whole.indexOf('\nwalks:') + 1);
  const before = await foundIn(text);
  expect(before.codes).toContain(code);
  const mended = mends.reduce((all, [from, to]) => {
    expect(all).toContain(from);
    return all.replace(from, () => to);
  }, text);
  const after = await foundIn(mended);
  expect(after.faults).toEqual([]);
  expect(after.codes).not.toContain(code);
  const others = after.codes.filter((each) => after.grave.has(each) && !before.codes.includes(each));
  expect(others).toEqual([]);
});

test('every flaw that a check names is mended so', () => {
  const named = files.filter((name) =>
    readFileSync(join(FOLDER, name), 'utf8').includes('# Named by check: '),
  );
  const tried = [...Object.keys(MENDS), ...Object.keys(CHOICES)];
  expect(named.map((name) => name.split('-', 1)[0]).sort()).toEqual(tried.sort());
});
