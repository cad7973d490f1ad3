import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { findingsFormat, walksFormat } from '../../src/render/json-formats';
import { HARBOUR, policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

const { version } = JSON.parse(readFileSync(join(__dirname, '../../package.json'), 'utf8')) as {
  version: string;
};
const GOOD_WALK = 'walks:\n  - name: Ann opens the desk\n    steps:\n      - { login: ann, lands: /desk }\n';
const BAD_WALK = 'walks:\n  - name: Ann opens the safe\n    steps:\n      - { login: ann, lands: /safe }\n';

let place: Workplace;
let folder = '';
beforeEach(() => {
  place = new Workplace();
  ({ folder } = place);
});
afterEach(() => {
  place.remove();
});
const put: Workplace['put'] = (name, content) => {
  place.put(name, content);
};
const cavrin: Workplace['run'] = (args, more) => place.run(args, more);

describe('cavrin walk', () => {
  test('plays the walks beside the policy and shows each step', () => {
    put('cavrin.yaml', policyText());
    put('walks/a.yaml', GOOD_WALK);
    const { status, out, err } = cavrin(['walk', '--steps']);
    expect([status, err]).toEqual([0, '']);
    expect(out).toContain('✓ Ann opens the desk');
    expect(cavrin(['walk']).out).not.toContain('login ann');
    expect(out).toMatch(/0s {2}login ann +ann +\/in 200 · POST \/in 303 → \/desk 200 — served/);
    expect(out).toContain('1 walk, 1 step: all as expected');
  });

  test('marks what differs with both values, counts it, and ends with status 1', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    put('walks/b.yaml', BAD_WALK);
    const { status, out } = cavrin(['walk']);
    expect(status).toBe(1);
    expect(out).toContain('✗ line 4 expects lands /safe; it was /desk');
    expect(out).toContain('2 walks, 2 steps: 1 walk not as expected');
  });

  test('--quiet shows only what differs', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    put('walks/b.yaml', BAD_WALK);
    const { out } = cavrin(['walk', '--quiet']);
    expect(out).not.toContain('Ann opens the desk');
    expect(out).toContain('Ann opens the safe');
  });

  test('--verbose shows every message, and what the browser holds with the time left', () => {
    place.put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    const { out } = cavrin(['walk', '--verbose']);
    expect(out).toContain('→ POST /in · form: account=ann, password=…');
    expect(out).toContain(
      '← 303 · Location: /desk · Set-Cookie: session=session-1; Path=/; Secure; HttpOnly; SameSite=Lax',
    );
    expect(out).toContain('◦ session session-1 · counts · idle 30m left · absolute 8h left');
    expect(out).not.toContain('a-1');
  });

  test('--verbose shows what the app honours beside what the browser holds', () => {
    place.put('cavrin.yaml', policyText());
    place.put(
      'walks/a.yaml',
      'walks:\n  - name: Two\n    steps: [{ login: ann }, { login: bo, in: other }, { logout: , in: other }, { reload: , in: other }]\n',
    );
    const { out } = cavrin(['walk', '--verbose']);
    expect(out).toContain('▪ app also honours session session-1 of ann · idle 30m left · absolute 8h left');
    expect(out).toContain('▪ over: session-2 of bo: signed-out');
  });

  test('a broken law fails the walk, with what was seen and the line that allows it', () => {
    place.put('cavrin.yaml', policyText({ logout: 'logout: { submit: POST /out, ends: [] }' }));
    place.put('walks/a.yaml', 'walks:\n  - name: Out\n    steps: [{ login: ann }, { logout: , lands: / }]\n');
    const { status, out } = cavrin(['walk']);
    expect(status).toBe(1);
    expect(out.replace(/\s+/g, ' ')).toContain(
      '✗ breaks logout-final: a copy of the session cookie still counts after the logout (line 10 of the policy)',
    );
    const { walks } = walksFormat.parse(JSON.parse(cavrin(['walk', '--format', 'json']).out));
    expect(walks[0]?.steps[1]?.broken[0]).toMatchObject({ law: 'logout-final', weight: 'law' });
  });

  test('--only plays the walks with a text in their name, in whatever case', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    put('walks/b.yaml', BAD_WALK);
    expect(cavrin(['walk', '--only', 'THE DESK'])).toMatchObject({
      status: 0,
      out: expect.stringContaining('1 walk, ') as string,
    });
    expect(cavrin(['walk', '--only', 'nothing'])).toMatchObject({
      status: 2,
      out: '',
      err: expect.stringContaining('no-such-walk') as string,
    });
  });

  test('plays the files that are named, and no others', () => {
    put('here/policy.yaml', policyText());
    put('here/walks/a.yaml', BAD_WALK);
    put('mine.yaml', GOOD_WALK);
    expect(cavrin(['walk', 'here/policy.yaml', 'mine.yaml'])).toMatchObject({ status: 0 });
    expect(cavrin(['walk', 'here/policy.yaml'])).toMatchObject({ status: 1 });
  });

  test('finds the policy in the nearest folder above, and reads one from standard input', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    put('deep/down/x', '');
    expect(cavrin(['walk'], { cwd: join(folder, 'deep/down') })).toMatchObject({ status: 0 });
    expect(cavrin(['walk', '-'], { input: `${policyText()}\n${BAD_WALK}` })).toMatchObject({ status: 1 });
  });

  test('--format json keeps to its format and says the same', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    put('walks/b.yaml', BAD_WALK);
    const { status, out } = cavrin(['walk', '--format', 'json']);
    expect(status).toBe(1);
    const { walks, totals } = walksFormat.parse(JSON.parse(out));
    expect(totals).toEqual({ walks: 2, steps: 2, failed: 1 });
    expect(walks[1]?.steps[0]).toMatchObject({
      file: 'walks/b.yaml',
      line: 4,
      differences: [{ key: 'lands', expected: '/safe', actual: '/desk' }],
    });
  });

  test('--output writes the whole result to a file, or nothing', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    const shown = cavrin(['walk']).out;
    expect(cavrin(['walk', '--output', 'result.txt'])).toMatchObject({ status: 0, out: '' });
    expect(readFileSync(join(folder, 'result.txt'), 'utf8')).toBe(shown);
    expect(cavrin(['walk', '--output', 'no/such/folder.txt'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('cannot write') as string,
    });
    expect(cavrin(['walk', '--output', '.'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('folder') as string,
    });
    expect(readdirSync(folder).sort()).toEqual(['cavrin.yaml', 'result.txt']);
  });

  test('colour follows the options first, then NO_COLOR and FORCE_COLOR', () => {
    put('cavrin.yaml', `${policyText()}\n${GOOD_WALK}`);
    const colored = (args: string[], env: Record<string, string>) =>
      cavrin(['walk', ...args], { env }).out.includes('\u001b');
    expect(colored([], {})).toBe(false);
    expect(colored(['--color'], { NO_COLOR: '1' })).toBe(true);
    expect(colored([], { FORCE_COLOR: '1' })).toBe(true);
    expect(colored(['--no-color'], { FORCE_COLOR: '1' })).toBe(false);
    expect(colored([], { FORCE_COLOR: '1', NO_COLOR: '1' })).toBe(false);
  });
});

describe('cavrin check', () => {
  test('has nothing to say of the harbour', () => {
    cpSync(HARBOUR, folder, { recursive: true });
    expect(cavrin(['check'])).toEqual({
      status: 0,
      out: '18 pages, 5 rules, 76 walks: nothing to report\n',
      err: '',
    });
    expect(cavrin(['check', '--quiet'])).toEqual({ status: 0, out: '', err: '' });
  });

  test('shows each finding with place, excerpt and hint, and ends with status 1', () => {
    put('cavrin.yaml', policyText({ session: null, logout: 'logout: { submit: POST /out, ends: [] }' }));
    const { status, out } = cavrin(['check']);
    expect(status).toBe(1);
    expect(out).toMatch(/error logout-ends-too-little {2}cavrin\.yaml:\d+:\d+\n {2}a logout clears/);
    expect(out).toMatch(/\d+ │ logout: \{ submit: POST \/out, ends: \[\] \}\n +│ +~~\n/);
    expect(out).toContain('Hint: Add what is left to logout.ends.');
    expect(out).toContain('1 error, 1 warning');
  });

  test('--format json keeps to its format, for findings and for bad input', () => {
    put('cavrin.yaml', policyText({ session: null }));
    const found = cavrin(['check', '--format', 'json']);
    expect(found.status).toBe(1);
    expect(findingsFormat.parse(JSON.parse(found.out)).findings[0]).toMatchObject({
      code: 'session-without-limit',
      check: { cwe: 'CWE-613' },
    });
    put('cavrin.yaml', 'cavrin: 1\n');
    const wrong = cavrin(['check', '--format', 'json']);
    expect(wrong.status).toBe(2);
    expect(findingsFormat.parse(JSON.parse(wrong.out)).totals.errors).toBe(2);
  });

  test('reports the errors of policy and walks together, on standard error', () => {
    put('cavrin.yaml', policyText().replace('roles: [clerk]', 'roles: [clark]'));
    put('walks/a.yaml', GOOD_WALK.replace('login', 'logni'));
    const { status, out, err } = cavrin(['check']);
    expect([status, out]).toEqual([2, '']);
    expect(err).toContain('did you mean clerk?');
    expect(err).toContain('did you mean login?');
    expect(err).toContain('2 errors');
  });
});

describe('cavrin demo', () => {
  test('plays the harbour without any file here, and leaves none', () => {
    const { status, out, err } = cavrin(['demo']);
    expect([status, err]).toEqual([0, '']);
    expect(out).toMatch(/\d\d walks, \d+ steps: all as expected\n$/);
    expect(readdirSync(folder)).toEqual([]);
  });

  test('takes the options of walk', () => {
    const { walks } = walksFormat.parse(
      JSON.parse(cavrin(['demo', '--only', 'refresh', '--format', 'json']).out),
    );
    expect(walks.length).toBeGreaterThan(1);
  });
});

describe('bad input ends with status 2, a clear error on standard error, and nothing written', () => {
  const bombs = {
    'deep.yaml': '['.repeat(50_000),
    'big.yaml': `cavrin: 1\n${'# filler\n'.repeat(1_200_000)}`,
  };

  test.each([
    ['no file', 'nowhere.yaml', null, 'there is no file nowhere.yaml'],
    ['a folder', 'walks', null, 'walks is a folder'],
    ['binary', 'b.yaml', Buffer.from([0x7f, 0x45, 0x4c, 0x46, 0, 1, 2]), 'no text in UTF-8'],
    ['not UTF-8', 'l.yaml', Buffer.from([0x61, 0xff, 0xfe]), 'no text in UTF-8'],
    ['empty', 'e.yaml', '', 'the file is empty'],
    ['invalid YAML', 'i.yaml', 'a: [', 'not valid YAML'],
    ['ten megabytes', 'big.yaml', bombs['big.yaml'], 'larger than 2 MiB'],
    ['deeply nested', 'deep.yaml', bombs['deep.yaml'], 'nested more than'],
    ['duplicate keys', 'd.yaml', `${policyText()}\napp: x`, 'written twice'],
  ])('%s', (_what, name, content, message) => {
    put('walks/a.yaml', GOOD_WALK);
    if (content !== null) put(name, content);
    const before = readdirSync(folder);
    for (const command of ['walk', 'check']) {
      const { status, out, err } = cavrin([command, name, '--output', 'result']);
      expect([status, out]).toEqual([2, '']);
      expect(err.replace(/\s+/g, ' ')).toContain(message);
    }
    expect(readdirSync(folder)).toEqual(before);
  });

  test.each([
    [['walk', '--format', 'xml'], "error: option '--format <format>' argument 'xml' is invalid"],
    [['walk', '--onyl', 'x'], "error: unknown option '--onyl'"],
    [['wlak'], "error: unknown command 'wlak'"],
    [['walk'], 'there is no cavrin.yaml'],
  ])('%j', (args, message) => {
    const { status, out, err } = cavrin(args);
    expect([status, out]).toEqual([2, '']);
    expect(err).toContain(message);
  });

  test('a policy without walks has nothing to play', () => {
    put('cavrin.yaml', policyText());
    expect(cavrin(['walk'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('no walks to play') as string,
    });
  });
});

describe('the program itself', () => {
  test('tells its version and its commands', () => {
    expect(cavrin(['--version'])).toEqual({ status: 0, out: `${version}\n`, err: '' });
    const { status, out } = cavrin(['--help']);
    expect(status).toBe(0);
    for (const command of ['check', 'walk', 'demo']) {
      expect(out).toContain(`  ${command}`);
      expect(cavrin([command, '--help'])).toMatchObject({
        status: 0,
        out: expect.stringContaining('--format') as string,
      });
    }
  });

  test('called without a command it shows how it is called', () => {
    expect(cavrin([])).toMatchObject({
      status: 2,
      out: '',
      err: expect.stringContaining('Usage: cavrin') as string,
    });
  });

  test('does not mind a reader that stops reading', () => {
    const run = spawnSync('/bin/sh', ['-c', `"${process.execPath}" "${PROGRAM}" demo | head -1; echo done`], {
      encoding: 'utf8',
    });
    expect([run.stdout.split('\n').length > 1, run.stderr]).toEqual([true, '']);
    expect(existsSync(PROGRAM)).toBe(true);
  });
});
