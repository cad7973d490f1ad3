import { spawn } from 'node:child_process';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

test('--watch runs again after a change, and an interrupt ends it with the last status', async () => {
  place.put('cavrin.yaml', policyText());
  const env = { PATH: process.env['PATH'], NO_COLOR: '1' };
  const program = spawn(process.execPath, [PROGRAM, 'check', '--watch'], { cwd: place.folder, env });
  let out = '';
  let err = '';
  program.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
  program.stderr.on('data', (chunk: Buffer) => (err += chunk.toString()));
  const until = async (met: () => boolean) => {
    for (let tries = 0; !met() && tries < 800; tries++) await new Promise((go) => setTimeout(go, 50));
    expect(met()).toBe(true);
  };
  await until(() => err.includes('watching') && out.includes('\n'));
  expect(out).toBe('5 pages, 0 rules, 0 walks: nothing to report\n');
  place.put('cavrin.yaml', policyText({ session: null }));
  await until(() => out.includes('session-without-limit') && err.split('watching').length === 3);
  const ended = new Promise((settle) => program.on('exit', settle));
  program.kill('SIGINT');
  expect(await ended).toBe(1);
});
