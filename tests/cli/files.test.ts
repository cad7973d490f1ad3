import { spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, statSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
  place.put('cavrin.yaml', policyText());
});
afterEach(() => {
  place.remove();
});
const path = (name: string) => join(place.folder, name);

/** Runs a line of bash in the folder, in which `cavrin` is the program as it is built. */
function shell(line: string) {
  const env = { PATH: process.env['PATH'], NODE: process.execPath, PROGRAM };
  const script = `cavrin() { "$NODE" "$PROGRAM" "$@"; }\n${line}`;
  const { status, stdout, stderr } = spawnSync('bash', ['--norc', '-c', script], {
    cwd: place.folder,
    env,
    encoding: 'utf8',
    timeout: 60_000,
  });
  return { status, out: stdout, err: stderr };
}
const GOOD = '5 pages, 0 rules, 0 walks: nothing to report\n';

describe('--output', () => {
  test('writes straight into what is no plain file, and leaves it what it was', () => {
    expect(shell('cavrin check --output /dev/stdout | cat')).toEqual({ status: 0, out: GOOD, err: '' });
    expect(shell('mkfifo pipe; cavrin check --output pipe & cat pipe; wait $!').out).toBe(GOOD);
    expect(statSync(path('pipe')).isFIFO()).toBe(true);
    expect(shell('cavrin check --output /dev/null').status).toBe(0);
    expect(statSync('/dev/null').isCharacterDevice()).toBe(true);
  });

  test('follows links, those to a file that is still to be made too, and keeps the mode', () => {
    place.put('real/old.txt', 'old');
    chmodSync(path('real/old.txt'), 0o640);
    symlinkSync('real/old.txt', path('link'));
    symlinkSync('real/new.txt', path('ahead'));
    for (const name of ['link', 'ahead']) {
      expect(place.run(['check', '--output', name])).toEqual({ status: 0, out: '', err: '' });
    }
    expect(readFileSync(path('real/old.txt'), 'utf8')).toBe(GOOD);
    expect(readFileSync(path('real/new.txt'), 'utf8')).toBe(GOOD);
    expect(statSync(path('real/old.txt')).mode & 0o777).toBe(0o640);
    expect(readdirSync(path('real'))).toEqual(['new.txt', 'old.txt']);
    expect(readdirSync(place.folder)).toEqual(['ahead', 'cavrin.yaml', 'link', 'real']);
  });

  test('takes a name of 255 bytes', () => {
    const name = 'n'.repeat(255);
    expect(place.run(['check', '--output', name]).status).toBe(0);
    expect(readFileSync(path(name), 'utf8')).toBe(GOOD);
  });

  test.each([
    ['/dev/full', 'no room is left (ENOSPC)'],
    ['loop', 'its links lead round and round (ELOOP)'],
    ['n'.repeat(256), 'its name is too long (ENAMETOOLONG)'],
    ['cavrin.yaml/x', 'part of its path is no folder (ENOTDIR)'],
    ['gone/x', 'there is no such folder (ENOENT)'],
    ['.', 'it is a folder (EISDIR)'],
  ])('cannot write %s: one line, status 2, nothing left', (name, reason) => {
    symlinkSync('loop', path('loop'));
    const { status, out, err } = place.run(['check', '--output', name]);
    expect({ status, out }).toEqual({ status: 2, out: '' });
    expect(err.split('\n')).toHaveLength(2);
    expect(err).toContain(`cavrin: cannot write ${name}: ${reason}; `);
    expect(readdirSync(place.folder).sort()).toEqual(['cavrin.yaml', 'loop']);
  });

  test('init leaves nothing behind where no room is left', () => {
    const { status, err } = shell('trap "" XFSZ; ulimit -f 1; cavrin init made/here');
    expect(status).toBe(2);
    expect(err).toContain('cannot write made/here/cavrin.yaml: it would be too large (EFBIG)');
    expect(existsSync(path('made'))).toBe(false);
    expect(shell('cavrin init /proc/made').err).toContain('cannot write /proc/made/cavrin.yaml: ');
  });
});

describe('streams', () => {
  test('with a broken pipe the status stays that of the result', () => {
    place.put('cavrin.yaml', policyText({ session: null }));
    expect(shell('cavrin check | true; echo ${PIPESTATUS[0]}')).toEqual({ status: 0, out: '1\n', err: '' });
    expect(shell('cavrin check --output good.txt >&-; echo $?').out).toBe('1\n');
  });

  test('a full standard output is one line and status 2', () => {
    const { status, err } = shell('cavrin check >/dev/full');
    expect({ status, lines: err.split('\n').length }).toEqual({ status: 2, lines: 2 });
    expect(err).toContain('cavrin: cannot write standard output: no room is left (ENOSPC); ');
  });

  test('endless and special input ends at the limit', () => {
    expect(shell('yes | cavrin check -').err).toContain('error too-large');
    expect(shell('cavrin check /dev/zero').err).toContain('/dev/zero is a device, a socket or a pipe');
    expect(shell('cavrin check <(cat cavrin.yaml)').out).toBe(GOOD);
    mkdirSync(path('walks'));
    symlinkSync('/dev/zero', path('walks/a.yaml'));
    expect(shell('mkfifo walks/b.yaml; cavrin check').err).toContain(
      'walks/b.yaml is a device, a socket or a pipe',
    );
    expect(shell('cavrin check').err).toContain('walks/a.yaml is a link that leads out of the project');
  });
});

test('a folder of walks is gone through once, however many links lead to it', () => {
  mkdirSync(path('walks/below'), { recursive: true });
  for (const name of ['one', 'two', 'three']) symlinkSync('..', path(`walks/below/${name}`));
  symlinkSync('..', path('walks/up'));
  shell('cp cavrin.yaml walks/copy.txt');
  expect(shell('cavrin check').err).toBe('');
});

describe('files that cannot be reached', () => {
  test.each([
    ['cavrin check loop', 'loop cannot be read: its links lead round and round (ELOOP)'],
    ['cavrin check cavrin.yaml/x', 'cavrin.yaml/x'],
    [`cavrin check ${'n'.repeat(300)}`, 'its name is too long (ENAMETOOLONG)'],
    ['mkdir d; cd d; ln -s cavrin.yaml cavrin.yaml; cavrin check', 'cavrin.yaml cannot be read'],
    ['mkdir d; cd d; rmdir ../d; cavrin check', 'the current folder is gone'],
    ['ln -s walks walks; cavrin check', 'walks cannot be read: its links lead round and round'],
    ['mkdir walks; ln -s nowhere walks/a.yaml; cavrin walk', 'there is no file walks/a.yaml'],
    ['mkdir walks; ln -s a.yaml walks/a.yaml; cavrin walk', 'walks/a.yaml cannot be read'],
    ['mkdir walks; ln -s /etc walks/etc; cavrin walk', 'walks/etc is a link that leads out of the project'],
    ['ln -s /etc walks; cavrin walk', 'walks is a link that leads out of the project'],
    ['ln -s /etc/passwd walks.yaml; cavrin walk', 'walks.yaml is a link that leads out of the project'],
    ['mkdir walks; ln -s /etc/passwd walks/a.yaml; cavrin walk', 'walks/a.yaml is a link that leads out'],
    ['mkdir d; ln -s /etc/passwd d/cavrin.yaml; cd d; cavrin check', 'cavrin.yaml is a link that leads out'],
    [
      'mkdir walks; (cd walks; seq -f "%06g.yaml" 100000 | xargs touch); time cavrin walk',
      'walks has more than 10,000 files of walks',
    ],
  ])('%s', (line, words) => {
    symlinkSync('loop', path('loop'));
    const { status, err } = shell(line);
    expect(err).toContain(words);
    expect(err).not.toContain('a fault of its own');
    expect(status).toBe(2);
  });
});
