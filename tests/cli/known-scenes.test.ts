import { execFileSync, spawn } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  lstatSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { proofFormat } from '../../src/render/json-formats';
import { proofPartFormat } from '../../src/render/proof-part';
import { PROGRAM, Workplace } from '../support/program';
import { LEAKY, SOUND } from '../support/small-proofs';

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

describe('what is known is not worked out again', () => {
  const env = () => ({ XDG_CACHE_HOME: place.folder });
  const prove = (...args: string[]) => place.run(['prove', ...args, '--format', 'json'], { env: env() });
  const without = ({ totals, ...rest }: ReturnType<typeof proofOf>) => ({
    ...rest,
    totals: { ...totals, known: 0 },
  });

  test('a policy that is as it was is answered from the cache, a changed one only where it is the same', () => {
    const first = proofOf(prove('leaky.yaml').out);
    expect(first.totals).toMatchObject({ scenes: 4, known: 0 });
    const again = prove('leaky.yaml');
    expect(again.status).toBe(1);
    expect(proofOf(again.out).totals.known).toBe(4);
    expect(without(proofOf(again.out))).toEqual(without(first));
    expect(place.run(['prove', 'leaky.yaml'], { env: env() }).out).toMatch(
      /4 of 4 scenes, all of them known before/,
    );
    place.put('leaky.yaml', LEAKY.replace('10m', '11m'));
    expect(proofOf(prove('leaky.yaml').out).totals.known).toBe(0);
    expect(proofOf(prove('leaky.yaml', '--most-states', '19000').out).totals.known).toBe(0);
    expect(proofOf(prove('leaky.yaml', '--no-cache').out).totals.known).toBe(0);
    expect(proofOf(place.run(['prove', 'leaky.yaml', '--format', 'json']).out).totals.known).toBe(0);
    expect(proofOf(prove('leaky.yaml', '--cache', 'elsewhere').out).totals.known).toBe(0);
    expect(readdirSync(join(place.folder, 'elsewhere'))).toHaveLength(4);
    place.run(['prove', 'leaky.yaml'], { env: { XDG_CACHE_HOME: 'here' } });
    expect(existsSync(join(place.folder, 'here'))).toBe(false);
  });

  test('what was spoilt in the cache is worked out anew', () => {
    prove('leaky.yaml');
    const folder = join(place.folder, 'cavrin');
    const files = readdirSync(folder);
    expect(files).toHaveLength(4);
    for (const [at, name] of files.entries()) {
      const text = readFileSync(join(folder, name), 'utf8');
      const spoilt = [
        text.slice(0, -20),
        text.replaceAll('"broken"', '"holds"').replace(/"states":\d+/, '"states":7'),
        '{}',
        '',
      ];
      writeFileSync(join(folder, name), spoilt[at] ?? '');
    }
    const { status, out } = prove('leaky.yaml');
    expect([status, proofOf(out).totals.known]).toEqual([1, 0]);
  });

  test('what is no plain file of this user is not opened, and no result stands for another', () => {
    prove('leaky.yaml');
    const folder = join(place.folder, 'cavrin');
    const [first = '', second = '', third = '', fourth = ''] = readdirSync(folder).map((name) =>
      join(folder, name),
    );
    renameSync(first, join(place.folder, 'elsewhere.json'));
    symlinkSync(join(place.folder, 'elsewhere.json'), first);
    rmSync(second);
    execFileSync('mkfifo', [second]);
    writeFileSync(third, readFileSync(fourth));
    chmodSync(fourth, 0o666);
    const { status, out } = prove('leaky.yaml');
    expect([status, proofOf(out).totals.known]).toEqual([1, 0]);
    expect([first, second, third, fourth].map((file) => lstatSync(file).isFile())).toEqual(
      Array(4).fill(true),
    );
  });

  test('two proofs at once share a folder, and leave nothing half written', async () => {
    const call = [PROGRAM, 'prove', 'leaky.yaml', '--quiet', '--cache', 'shared', '--cores', '1'];
    const run = async () => {
      const child = spawn(process.execPath, call, { cwd: place.folder, stdio: 'ignore' });
      return new Promise((settle) => child.on('close', settle));
    };
    expect(await Promise.all([run(), run()])).toEqual([1, 1]);
    const names = readdirSync(join(place.folder, 'shared'));
    expect(names.filter((name) => /^[0-9a-f]{64}\.json$/.test(name))).toHaveLength(4);
    expect(names).toHaveLength(4);
  });

  test('parts that several machines settled come to the same together', () => {
    const whole = prove('leaky.yaml', '--no-cache');
    const statuses = [1, 2, 3].map((part) => {
      return place.run(['prove', 'leaky.yaml', '--shard', `${part}/3`, '--output', `part-${part}.json`])
        .status;
    });
    expect(statuses).toContain(1);
    const joined = place.run([
      'prove',
      'leaky.yaml',
      '--format',
      'json',
      '--join',
      'part-3.json',
      'part-1.json',
      'part-2.json',
    ]);
    expect([joined.status, joined.err]).toEqual([1, '']);
    expect(without(proofOf(joined.out))).toEqual(without(proofOf(whole.out)));
    const part = proofPartFormat().parse(JSON.parse(readFileSync(join(place.folder, 'part-1.json'), 'utf8')));
    expect(part).toMatchObject({ app: 'Test', policy: 'leaky.yaml', part: 1, of: 3 });
    const refused = (...files: string[]) => place.run(['prove', 'leaky.yaml', '--join', ...files]);
    expect(refused('part-1.json', 'part-2.json')).toMatchObject({
      status: 2,
      out: '',
      err: expect.stringMatching(
        /^cavrin: 1 of 4 scenes are in none of the parts: one person .*; name the files/,
      ) as unknown,
    });
    place.put('odd.json', '{"format": "cavrin/proof"}');
    expect(refused('odd.json').err).toMatch(/^cavrin: odd.json is no part of a proof; write one with/);
    expect(refused('nowhere.json').err).toMatch(/^cavrin: there is no file nowhere.json; name the files/);
    expect(place.run(['prove', '--join', 'part-1.json']).err).toMatch(
      /^cavrin: part-1.json is part of another proof/,
    );
  });

  test('advice fails no part, as it fails no whole', () => {
    place.put('advice.yaml', `${SOUND}\nmenu: [{ to: /desk, text: Desk, for: signed-in }]`);
    const whole = place.run(['prove', 'advice.yaml', '--format', 'json']);
    const advice = proofOf(whole.out).verdicts.find(({ goal }) => goal === 'menu-honest');
    expect([whole.status, advice?.verdict]).toEqual([0, 'broken']);
    const part = place.run(['prove', 'advice.yaml', '--shard', '1/1']);
    expect([part.status, part.out]).toEqual([0, expect.stringContaining('"verdict": "broken"')]);
  });

  test.each([
    [['--shard', '3/2'], 'give a part and their number, such as 1/4'],
    [['--shard', '1/2', '--join', 'part-1.json'], 'cannot be used with'],
    [['--cache', ''], 'the word after --cache is empty'],
    [['--join', '/dev/zero'], '/dev/zero is a device, a socket or a pipe'],
    [['--cache', 'cavrin.yaml'], 'cannot write cavrin.yaml'],
    [['--cache', 'no/such/folder'], 'name a folder that can be written to, or use --no-cache'],
  ])('%j is refused', (args, said) => {
    const refused = place.run(['prove', ...args]);
    expect(refused).toMatchObject({ status: 2, out: '', err: expect.stringContaining(said) as string });
  });
});
