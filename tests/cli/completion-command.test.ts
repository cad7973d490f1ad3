import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { HARBOUR, policyText } from '../support/policies';
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

/** How each shell is started at a terminal, and reads what completes. */
const STARTS = {
  bash: ['bash --norc --noprofile -i', 'eval "$(cavrin completion bash)"'],
  zsh: ['zsh -f -i', 'autoload -Uz compinit; compinit -u -D; source <(cavrin completion zsh)'],
  fish: ['fish --no-config -i', 'cavrin completion fish | source'],
} as const;
const HERE = (['bash', 'zsh', 'fish'] as const).filter(
  (shell) => spawnSync('which', [shell]).status === 0 || shell === 'bash',
);
const NAME = 'nightly $(touch evil) `touch evil` "q" \\ it\'s !x';

describe.each(HERE)('%s at a terminal', (shell) => {
  test.each(['nig', '"nig', "'nig", '"nightly \\$(to'])(
    'completes %s to a walk, and evaluates nothing of its name',
    async (typed) => {
      mkdirSync(join(place.folder, 'bin'));
      symlinkSync(PROGRAM, join(place.folder, 'bin', 'cavrin'));
      const walk = `{ name: ${JSON.stringify(NAME)}, steps: [{ visit: /, status: 200 }] }`;
      place.put('cavrin.yaml', policyText({ more: `walks: [${walk}]` }));
      const [start, setUp] = STARTS[shell];
      const PATH = `${join(place.folder, 'bin')}:${process.env['PATH'] ?? ''}`;
      const child = spawn('script', ['-qec', start, '/dev/null'], {
        cwd: place.folder,
        env: { PATH, TERM: 'dumb', HOME: place.folder, COLUMNS: '200' },
      });
      let shown = '';
      child.stdout.on('data', (part: Buffer) => (shown += part.toString()));
      const until = async (words: RegExp) => {
        for (let tries = 0; tries < 400 && !words.test(shown); tries++) {
          await new Promise((go) => setTimeout(go, 50));
        }
      };
      child.stdin.write(`${setUp}; echo re''ady\n`);
      await until(/^ready/m);
      shown = '';
      child.stdin.write(`cavrin walk --only ${typed}\t`);
      await until(/!['"]*x/);
      child.stdin.write('\n');
      await until(/as expected/);
      const ended = new Promise((go) => child.on('exit', go));
      child.stdin.end('exit\n');
      await ended;
      expect(shown).toContain('1 walk, 1 step: all as expected');
      expect(existsSync(join(place.folder, 'evil'))).toBe(false);
    },
    60_000,
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
