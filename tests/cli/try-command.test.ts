import { spawn } from 'node:child_process';
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

const piped = (...lines: readonly string[]) => place.run(['try'], { input: lines.join('\n') });

describe('steps from a pipe', () => {
  test('are answered as walk does, with what the browser holds', () => {
    const { status, out, err } = piped('visit /desk', 'login ann', '', '# a note', 'in thief: visit /desk');
    expect([status, err]).toEqual([0, '']);
    expect(out).toMatch(/0s +visit \/desk +guest +\/desk 302 → \/in\S* 200 — guest \(line \d+\)/);
    expect(out).toMatch(
      /login ann +ann +POST \/in 303 → \/desk 200 — served\n +◦ session session-1 · counts/,
    );
    expect(out).toMatch(/thief: visit \/desk +guest/);
  });

  test('are taken back, explained, and told where they led', () => {
    const { out } = piped(
      'login cy',
      'visit /desk',
      'why',
      'undo 2',
      'login bo',
      'reaches',
      'suspend bo',
      'state',
    );
    expect(out).toMatch(/request +GET \/desk, by cy[^]*audience +clerk[^]*to get in +hold clerk/);
    expect(out).toMatch(/ {2}\/\n {2}\/desk\n {2}\/safe\n {2}\/hall\n/);
    expect(out).toMatch(
      /browser: shows \/safe, last seen as bo\n {4}session .*does not count: suspended[^]*account bo: suspended/,
    );
  });

  test('are saved as a walk that expects what came out, behind those that are there', () => {
    const before = 'walks: # mine\n    - name: old\n      steps: [{ visit: / }]\n\n# the end\n';
    place.put('walks/tried.yaml', before);
    const { status, out } = piped(
      'visit /desk',
      'login ann',
      'wait 5m',
      'visit /safe',
      'save Ann & the safe',
    );
    expect([status, out]).toEqual([
      0,
      expect.stringContaining('wrote Ann & the safe to walks/tried.yaml: 4 steps'),
    ]);
    expect(place.read('walks/tried.yaml').startsWith(before.trimEnd().replace('\n\n# the end', ''))).toBe(
      true,
    );
    expect(place.read('walks/tried.yaml')).toMatch(
      /\n {4}- name: Ann & the safe\n {6}steps:\n {8}- \{ visit: \/desk, lands: \/in\S*, why: guest, seen-as: guest \}\n[^]*wait: 5m[^]*status: 403[^]*# the end\n$/,
    );
    expect(place.run(['walk']).out).toContain('2 walks, 5 steps: all as expected');
    // What was saved would notice a change.
    place.put('cavrin.yaml', policyText().replace('/safe: { for: [chief] }', '/safe: { for: signed-in }'));
    expect(place.run(['walk']).out).toContain('expects status 403');
    expect(piped('visit /', 'save old')).toMatchObject({
      status: 2,
      err: 'standard input:2: walks/tried.yaml has a walk called old; save under another name\n',
    });
  });

  test('break laws that a saved walk owns up to', () => {
    place.put(
      'cavrin.yaml',
      policyText({
        logout: 'logout: { submit: POST /out, ends: [] }',
        more: 'session: { idle: 1h, absolute: 2h }',
      }).replace(/^session: .*\n/m, ''),
    );
    const { out } = piped(
      'login ann',
      'copy session to thief',
      'logout',
      'in thief: visit /desk',
      'save A thief',
    );
    expect(out).toMatch(/breaks logout-final/);
    expect(place.read('walks/tried.yaml')).toContain('expect-broken: [logout-final]');
    expect(place.run(['walk']).status).toBe(0);
  });

  test.each([
    ['vist /', 'standard input:1: vist is no step; did you mean visit? help shows what can be typed\n'],
    ['visit', 'standard input:1: visit is not typed so; type visit /berths\n'],
    ['login bob', 'standard input:1: no account is called bob; did you mean bo?'],
    ['undo', 'standard input:1: there is no step to take back; '],
    ['code right', 'standard input:1: '],
    [
      'in thief: reaches',
      'standard input:1: no step was done in a browser called thief; there are browser\n',
    ],
    ['save', 'standard input:1: a walk has a name; '],
    ['undo 1e9', 'standard input:1: 1e9 is no number of steps; '],
  ])('that are wrong, such as %s, end it with what to type instead', (line, err) => {
    const run = piped(line, 'visit /');
    expect(run).toMatchObject({ status: 2, out: '' });
    expect(run.err.startsWith(err) ? err : run.err).toBe(err);
  });

  test('are saved under a name that is shown as it can be seen', () => {
    expect(piped('visit /', 'save wal\u202ek').out).toContain('wrote wal\\u{202e}k to walks/tried.yaml');
  });

  test('are saved into folders that are made for it, and not lost where nothing can be written', () => {
    expect(place.run(['try', '--into', 'a/b/c.yaml'], { input: 'visit /\nsave x' }).status).toBe(0);
    expect(place.read('a/b/c.yaml')).toContain('- name: x');
    place.put('file', '');
    expect(place.run(['try', '--into', 'file/x.yaml'], { input: 'visit /\nsave x' })).toMatchObject({
      status: 2,
      err: expect.stringMatching(/^standard input:2: cannot (?:write|read) file\/x\.yaml: .*\n$/) as string,
    });
  });

  test('have no other use for standard input, and a file of another form is left alone', () => {
    expect(place.run(['try', '-'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('name the file') as string,
    });
    place.put('walks.yaml', 'walks: [{ name: x, steps: [{ visit: / }] }]\n');
    expect(place.run(['try', '--into', 'walks.yaml'], { input: 'visit /\nsave y' }).status).toBe(2);
    expect(place.read('walks.yaml')).toBe('walks: [{ name: x, steps: [{ visit: / }] }]\n');
  });
});

/** Types at a pseudo-terminal, each text once the one before was answered, and gives all that was shown. */
async function typing(
  ...turns: readonly (readonly [until: RegExp, act: string | (() => void)])[]
): Promise<string> {
  const run = spawn('script', ['-qec', `"${process.execPath}" "${PROGRAM}" try`, '/dev/null'], {
    cwd: place.folder,
    env: { PATH: process.env['PATH'], TERM: 'xterm', COLUMNS: '100' },
  });
  let shown = '';
  let from = 0;
  const left = [...turns];
  const isStuck = setTimeout(() => run.kill(), 40_000);
  await new Promise<void>((ended) => {
    run.stdout.on('data', (data: Buffer) => {
      // eslint-disable-next-line no-control-regex -- what a terminal is told besides text
      shown += data.toString().replace(/\u001b\[[\d;?]*[A-Za-z]|\r/g, '');
      for (let turn = left[0]; turn?.[0].test(shown.slice(from)) === true; turn = left[0]) {
        left.shift();
        from = shown.length;
        if (typeof turn[1] === 'string') run.stdin.write(turn[1]);
        else turn[1]();
      }
    });
    run.on('close', () => {
      clearTimeout(isStuck);
      ended();
    });
  });
  expect(left).toEqual([]);
  return shown;
}

test('at a terminal who one is stands in the prompt, words are completed, and a changed policy is played again', async () => {
  const changed = policyText().replace('/desk: { for: [clerk] }', '/desk: { for: [chief] }');
  const shown = await typing(
    [/guest 0s> /, 'logi'],
    [/logi/, '\t'],
    [/n $/, 'an'],
    [/an/, '\t'],
    [/n $/, '\r'],
    [/ann 0s> $/, 'visit /de'],
    [/\/de/, '\t'],
    [/sk $/, '\r'],
    [
      /served[^]*ann 0s> $/,
      () => {
        place.put('cavrin.yaml', changed);
      },
    ],
    [
      /come out otherwise[^]*ann 0s> $/,
      () => {
        place.put('cavrin.yaml', 'cavrin: 1');
      },
    ],
    [/what it was before still answers[^]*ann 0s> $/, 'nothing\r'],
    [/nothing is no step[^]*ann 0s> $/, '\u0004'],
  );
  expect(shown).toMatch(/step 2 was\n.*visit \/desk .*served\n +and is now\n.*visit \/desk .*403 — role/);
}, 60_000);
