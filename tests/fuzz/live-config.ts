import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadProject, readLiveText, sourceOf } from '../../src/core/internal';
import { diagnosticsText } from '../../src/render/diagnostics-text';
import type { Fuzzer } from './fuzzer';
import { mutated } from './mutated';
import { diagnosticFault, LOOK, outputFault } from './texts';

const FULL = `cavrin-live: 1
at: http://127.0.0.1:3000/app
start: { run: node server.js "a b", ready: GET /, within: 20s, env: { PORT: '{port}', KEY: env:KEY } }
clock: { send: POST /test/clock, with: { now: '{time}' } }
reset: { run: node reset.js }
accounts: { ines: { name: ines@harbour.example, password: env:INES }, petra: { password: env:PETRA } }
who: { element: .who, attribute: title, signed-in-where: '#out' }
credentials: { session: sid, access: { storage: local, key: tokens, at: /access } }
forms: { login: { form: '#in', name: mail, password: word } }
pages: { /ledger: { shown-when: 'h1:Ledger' } }
do: { suspend: { run: 'node people.js suspend {account}' } }
`;

/** Files of live runs for the policy of the harbour, mutated. */
export async function liveConfigFuzzer(examples: string): Promise<Fuzzer> {
  const read = (name: string) => readFileSync(join(examples, name), 'utf8');
  const { policy } = await loadProject(sourceOf('cavrin.yaml', read('harbour/cavrin.yaml')), []);
  if (policy === null) throw new Error('the policy of the harbour cannot be used');
  const texts = [FULL, read('harbour/live.yaml'), read('fennel-row/live.yaml')];
  return {
    what: 'live configurations',
    often: 1,
    make: (random) => mutated(random, texts),
    faultOf(text) {
      const { config, diagnostics } = readLiveText(sourceOf('live.yaml', text), policy);
      if (config === null && diagnostics.length === 0) return 'cannot be used, and nothing is said';
      return diagnosticFault(diagnostics, text) ?? outputFault(diagnosticsText(diagnostics, LOOK));
    },
  };
}
