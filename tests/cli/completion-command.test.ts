import { spawnSync } from 'node:child_process';
import { mkdirSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { HARBOUR } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

/** What may stand next, without what is told of it. */
function next(...words: string[]): string[] {
  const { status, out } = place.run(['completion', '--next', '--', ...words], { cwd: HARBOUR });
  expect(status).toBe(0);
  return out.split('\n').flatMap((line) => (line === '' ? [] : [line.split('\t')[0] ?? '']));
}

test.each([
  [['pro'], ['prove']],
  [
    ['prove', '--most'],
    ['--most-states', '--most-time'],
  ],
  [
    ['check', '--format', ''],
    ['text', 'json', 'markdown', 'sarif'],
  ],
  [
    ['grid', '--method', 'P'],
    ['POST', 'PUT', 'PATCH'],
  ],
  [['walk', '--only', 'A ret'], ['A return address cannot lead off the site']],
  [['walk', '--only', 'A\\ ret'], ['A return address cannot lead off the site']],
  [['walk', '--only', '"A ret'], ['A return address cannot lead off the site']],
  [['why', '--as', 'p'], ['petra']],
  [
    ['why', '/led'],
    ['/ledger', '/ledger/:year'],
  ],
  [['why', '/ledger', '--as', 'petra', '--state', 'sus'], ['suspended']],
  [
    ['draw', 'l'],
    ['landings', 'lives'],
  ],
  [['draw', 'walk', 'An h'], ['An hour without a request ends the session']],
  [
    ['completion', ''],
    ['bash', 'zsh', 'fish'],
  ],
  [['demo', 'f'], ['fennel-row']],
  [['check', 'cav'], []],
  [['nothing', 'x'], []],
])('after %j may stand %j', (words, expected) => {
  expect(next(...words)).toEqual(expected);
});

test('bash completes with it, names with spaces too', () => {
  mkdirSync(join(place.folder, 'bin'));
  symlinkSync(PROGRAM, join(place.folder, 'bin', 'cavrin'));
  const script = `eval "$(cavrin completion bash)"
    COMP_WORDS=(cavrin walk --only 'A ret'); COMP_CWORD=3; _cavrin; printf '%s\\n' "\${COMPREPLY[@]}"
    COMP_WORDS=(cavrin walk --only '"A ret'); _cavrin; printf '%s\\n' "\${COMPREPLY[@]}"`;
  const PATH = `${join(place.folder, 'bin')}:${process.env['PATH'] ?? ''}`;
  const run = spawnSync('bash', ['-c', script], { cwd: HARBOUR, encoding: 'utf8', env: { PATH } });
  expect(run.stdout).toBe(
    'A\\ return\\ address\\ cannot\\ lead\\ off\\ the\\ site\n"A return address cannot lead off the site\n',
  );
});

test('a policy that cannot be read completes nothing, and says nothing', () => {
  place.put('cavrin.yaml', 'cavrin: [');
  expect(place.run(['completion', '--next', '--', 'walk', '--only', ''])).toEqual({
    status: 0,
    out: '',
    err: '',
  });
  expect(place.run(['completion', 'tcsh'])).toMatchObject({ status: 2, out: '' });
});
