import { spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { progressLine } from '../../src/cli/prove-progress';
import { proofFormat } from '../../src/render/json-formats';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';
import { LEAKY, SMALL, SOUND } from '../support/small-proofs';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
  place.put('cavrin.yaml', SOUND);
  place.put('leaky.yaml', LEAKY);
});
afterEach(() => {
  place.remove();
});

const proofOf = (out: string) => proofFormat.parse(JSON.parse(out));

test('a sound policy holds, for everybody who is said to take part', () => {
  const { status, out, err } = place.run(['prove']);
  expect([status, err]).toEqual([0, '']);
  expect(out).toMatch(/✓ logout-final +Nothing from before a logout opens anything after it\./);
  expect(out).not.toContain('transitions');
  expect(out).toMatch(/session cookie, after the copy +8h +ann logs in, a thief copies the session cookie,/);
  expect(out).toMatch(/session cookie, after the logout +0s +opens nothing/);
  expect(out).toMatch(
    /browser left alone, after the last step in it +30m +ann logs in and 29m59s later ann is still let in/,
  );
  expect(out).toMatch(/13 hold, 9 not asked +4 of 4 scenes/);
  expect(place.run(['prove', '--steps', '--verbose']).out).toMatch(
    /after the copy +8h +login ann, copy session to thief[^]*one person \(ann\) and a thief[^]*transitions in 4 of 4/,
  );
  expect(place.run(['prove', '--format', 'markdown']).out).toMatch(
    /^### Test: 13 hold, 9 not asked\n[^]*\| session cookie, after the copy \| 8h \| ann logs in/,
  );
});

test('a step that does not do what it says expects so, in the proof and in the saved walks', () => {
  const way = 'login: { page: /in, submit: POST /in, return: { accept: { listed: [/desk] } } }';
  const pages =
    'pages: { /: { for: everyone }, /in: { for: guests }, /word: { for: signed-in }, /desk: { for: [clerk] } }';
  const more = 'password: { change: { page: /word, submit: POST /word } }';
  place.put('cavrin.yaml', policyText({ ...SMALL, login: way, pages, more }));
  const { out } = place.run(['prove', '--save-walks', 'found.yaml']);
  expect(out).toContain('change-password  guest');
  expect(out).not.toContain('did not come about');
  const replayed = place.run(['walk', 'cavrin.yaml', 'found.yaml']);
  expect([replayed.status, replayed.err]).toEqual([0, '']);
});

test('what is broken is told with the shortest walk, which is saved and comes out the same when it is played', () => {
  const { status, out } = place.run('prove leaky.yaml --save-walks found.yaml --format json'.split(' '));
  expect(status).toBe(1);
  const { verdicts, exposures, totals } = proofOf(out);
  const broken = verdicts.filter(({ verdict }) => verdict === 'broken');
  expect(broken.map(({ goal, brokenBy }) => [goal, brokenBy?.moves, brokenBy?.time])).toEqual([
    ['logout-final', 2, 600],
    ['promise 1', 2, 600],
  ]);
  expect(broken[0]?.brokenBy?.steps.map(({ action }) => action)).toEqual(['login ann', 'logout', 'wait 10m']);
  expect(totals).toMatchObject({ broken: 2, notSettled: 0, scenes: 4 });
  expect(exposures?.find(({ since }) => since === 'logout')).toMatchObject({ ends: 28_800, attained: true });
  // Saved walks know what they break: they pass as long as they break it, and fail where it is mended.
  const replayed = place.run(['walk', 'leaky.yaml', 'found.yaml', '--format', 'json']);
  expect([replayed.status, replayed.err]).toEqual([0, '']);
  const walks = JSON.parse(replayed.out) as { walks: { name: string; steps: { time: number }[] }[] };
  expect(walks.walks[0]?.name).toBe('broken: logout-final');
  expect(walks.walks[0]?.steps.at(-1)?.time).toBe(600);
  const mended = place.run(['walk', 'cavrin.yaml', 'found.yaml', '--only', 'broken']);
  expect([mended.status, mended.out]).toEqual([
    1,
    expect.stringContaining('expects expect-broken logout-final'),
  ]);
});

test('text shows each step of the walk, and --quiet only what is not as it should be', () => {
  const { out } = place.run(['prove', 'leaky.yaml', '--quiet']);
  expect(out).toMatch(
    /✗ logout-final +a copy of the session cookie still counts 10m after the logout; broken in 2 steps and 10m of waiting/,
  );
  expect(out).toContain(
    'breaks logout-final: a copy of the session cookie still counts 10m after the logout',
  );
  expect(out).not.toContain('✓');
  expect(out).not.toContain('Exposure');
});

test('a limit that is hit leaves open what is not settled, never holding', () => {
  const { status, out } = place.run(['prove', '--most-states', '2', '--format', 'json']);
  expect(status).toBe(3);
  const { verdicts, exposures } = proofOf(out);
  expect(new Set(verdicts.map(({ verdict }) => verdict))).toEqual(new Set(['not-settled']));
  expect(verdicts[0]?.because).toBe('the limit of 2 states was hit');
  expect(exposures).toBeNull();
});

test('who takes part can be said', () => {
  const args = ['--browsers', '2', '--tabs', '1', '--thief', '--administrator'];
  const { status, out } = place.run(['prove', ...args, '--most-states', '20', '--format', 'json']);
  const { scenes } = proofOf(out);
  expect(status).toBe(3);
  expect(scenes).toEqual([
    expect.objectContaining({ account: null, browsers: 2, tabs: 1, thief: true, administrator: true }),
  ]);
  const own = proofOf(place.run(['prove', '--thief', '--administrator', '--format', 'json']).out);
  expect(own.totals).toMatchObject({ broken: 0, notSettled: 0, scenes: 2 });
  expect(own.scenes.map(({ words }) => words)).toEqual([
    'one person (any account)',
    'one person (ann), a thief and an administrator',
  ]);
});

test.each([
  [['--tabs', '0'], 'give a number from 1 to 3'],
  [['--browsers', 'many'], 'give a number from 1 to 3'],
  [['--most-time', 'soon'], 'give a duration such as 30s or 5m'],
  [['nowhere.yaml'], 'nowhere.yaml'],
  [['broken.yaml'], 'broken.yaml:3'],
  [['cavrin.yaml', '--save-walks', 'no/such/folder.yaml'], 'cannot write no/such/folder.yaml'],
  [['cavrin.yaml', '--output', 'no/such/folder.txt'], 'cannot write no/such/folder.txt'],
])('%j is refused with a remedy and status 2', (args, said) => {
  place.put('broken.yaml', 'cavrin: 1\napp: Test\norigin: nowhere\n');
  const { status, err, out } = place.run(['prove', ...args]);
  expect([status, out]).toEqual([2, '']);
  expect(err).toContain(said);
  expect(existsSync(join(place.folder, 'no'))).toBe(false);
});

/** Far more than can be settled while a test waits. */
const LONG = ['--browsers', '2', '--thief', '--administrator', '--tabs', '3'];

test.each(['SIGINT', 'SIGTERM', 'SIGHUP'] as const)(
  'by %s it gives what was settled by then, and status 3',
  async (signal) => {
    place.put('harbour.yaml', readFileSync(join(__dirname, '../../examples/harbour/cavrin.yaml')));
    const child = spawn(process.execPath, [PROGRAM, 'prove', 'harbour.yaml', '--format', 'json', ...LONG], {
      cwd: place.folder,
      env: { PATH: process.env['PATH'], TMPDIR: place.folder },
    });
    let out = '';
    child.stdout.on('data', (part: Buffer) => (out += part.toString()));
    const ended = new Promise<number | null>((settle) => child.on('close', settle));
    await new Promise((settle) => setTimeout(settle, 5_000));
    child.kill(signal);
    expect(await ended).toBe(3);
    const { verdicts, totals } = proofOf(out);
    expect(verdicts.every(({ verdict }) => verdict !== 'holds')).toBe(true);
    expect(verdicts[0]?.because).toMatch(/^it was interrupted/);
    expect(totals.states).toBeGreaterThan(0);
    expect(readdirSync(place.folder).sort()).toEqual(['cavrin.yaml', 'harbour.yaml', 'leaky.yaml']);
  },
  30_000,
);

test('a limit of time ends it too', () => {
  place.put('harbour.yaml', readFileSync(join(__dirname, '../../examples/harbour/cavrin.yaml')));
  const { status, out } = place.run([
    'prove',
    'harbour.yaml',
    '--most-time',
    '1s',
    '--format',
    'json',
    ...LONG,
  ]);
  expect(status).toBe(3);
  expect(proofOf(out).verdicts[0]?.because).toMatch(/^the limit of 1 s was hit/);
}, 30_000);

test('the line on how far it is tells of scenes, laws, states and rate, the most important first', () => {
  const sum = {
    done: 3,
    states: 900,
    transitions: 50_000,
    broken: new Set(['promise-kept']),
    open: new Set(['promise-kept', 'way-in']),
    looksFor: new Set(['new-id']),
  };
  expect(progressLine(sum, { scenes: 11, goals: 22 }, 5)).toBe(
    '3 of 11 scenes, 20 of 22 hold so far, broken: promise-kept, 1 not settled, ' +
      'looking for the shortest walk: new-id, 900 states, 50000 transitions, 10000/s; Ctrl-C ends',
  );
  const begun = {
    ...sum,
    done: 0,
    broken: new Set<string>(),
    open: new Set<string>(),
    looksFor: new Set<string>(),
  };
  expect(progressLine(begun, { scenes: 1, goals: 22 }, 5)).toMatch(
    /^0 of 1 scene, 22 of 22 hold so far, 900 states/,
  );
});

test('names in a policy are harmless in a terminal', () => {
  place.put('odd.yaml', SOUND.replace('app: Test', 'app: "\\e[31mred"'));
  const { out } = place.run(['prove', 'odd.yaml']);
  expect(out).not.toContain('\u001b');
  expect(out).toContain('\\u{1b}[31mred');
});
