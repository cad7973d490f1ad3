import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { loadProject, Secrets, sourceOf } from '../../src/core/internal';
import { replyTo } from '../../src/cli/try-answers';
import { nothingTried } from '../../src/cli/try-session';
import { completions } from '../../src/cli/try-words';
import { policyText } from '../support/policies';
import type { Fuzzer } from './fuzzer';
import { mutated } from './mutated';
import { LOOK, outputFault } from './texts';

const LINES = [
  'visit /desk\nlogin ann\nlogin ann remember\nwait 5m\nwait past session-idle\nin thief: visit /safe\nback\nback 2\nreload',
  'login bo password wrong\nlogout\ncopy session to thief\nin thief: visit /desk\nnew-tab\nclose-tab\nclose-browser\nopen-browser',
  'suspend ann\nset-roles ann clerk, chief\nset-password ann new-1\nremove ann\nrestart-app\nclear-cookies session',
  'send POST /desk\nvisit https://evil.example/\nvisit /desk from other-site\nundo\nundo 3\nwho\nwhere\nwhy GET /safe\nhelp\nsteps\nsave a walk',
];

/** Lines at the prompt of `try`. */
export async function typedFuzzer(): Promise<Fuzzer> {
  const source = sourceOf('cavrin.yaml', policyText({ more: 'remember: { life: 30d }' }));
  const { policy, input } = await loadProject(source, []);
  if (policy === null || input === null) throw new Error('the policy of the prompt cannot be used');
  const folder = mkdtempSync(join(tmpdir(), 'cavrin-typed-'));
  const terminal = { folder, env: {}, out: process.stdout, err: process.stderr, secrets: new Secrets() };
  const answering = { terminal, look: LOOK, into: 'tried.yaml' };
  const beginning = nothingTried({ policy, input, walks: [], notes: [] });
  return {
    what: 'typed texts',
    often: 1,
    make: (random) => mutated(random, LINES, 5_000),
    faultOf(text) {
      let tried = beginning;
      for (const line of text.split('\n').slice(0, 60)) {
        const reply = replyTo(line, tried, answering);
        const shown = 'wrong' in reply ? '' : reply.shown;
        if ('wrong' in reply && (reply.wrong === '' || reply.hint === '')) return 'refuses without words';
        const fault = outputFault(shown);
        if (fault !== null) return fault;
        completions(tried, line);
        if (!('wrong' in reply)) ({ tried } = reply);
      }
      return null;
    },
    end() {
      rmSync(folder, { recursive: true });
      return Promise.resolve(null);
    },
  };
}
