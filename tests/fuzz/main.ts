import { writeFileSync } from 'node:fs';
import { loadRegularLanguages } from '../../src/core/internal';
import { disagreement, expression, path } from './expressions';
import { Random } from './random';
import { answerFault, rawRequest, sendRaw, startFuzzed } from './requests';
import { beginnings, faultOf, mutated } from './texts';

/**
 * Tries random texts, requests and expressions for some seconds. Prints the seed, the counts and the first fault of each kind;
 * the status is 1 where there is any.
 *
 * Usage: node fuzz.cjs EXAMPLES SECONDS SEED
 */
async function main([examples = '', seconds = '20', seed = '0']: readonly string[]): Promise<void> {
  const random = new Random(Number(seed));
  const share = Number(seconds) * 1000;
  await loadRegularLanguages();
  const texts = beginnings(examples);
  const standIn = await startFuzzed();
  const counts = { texts: 0, requests: 0, expressions: 0 };
  const faults = new Map<string, string>();
  const note = (fault: string | null, input: string) => {
    if (fault === null) return;
    const kind = fault.replace(/\d+/g, 'N').slice(0, 60);
    if (faults.has(kind)) return;
    faults.set(kind, input);
    process.stdout.write(`${fault}\n  ${JSON.stringify(input.slice(0, 600))}\n`);
    writeFileSync(`fuzz-found-${faults.size}.txt`, input);
  };
  const until = Date.now() + share;
  while (Date.now() < until) {
    const text = mutated(random, texts);
    counts.texts += 1;
    note(
      await faultOf(text).catch((error: unknown) => `fails: ${String((error as Error).stack).slice(0, 300)}`),
      text,
    );
    for (let times = 0; times < 3; times++) {
      const request = rawRequest(random);
      counts.requests += 1;
      note(answerFault(request, await sendRaw(standIn.address, request)), request);
      const [source, address] = [expression(random), path(random)];
      counts.expressions += 1;
      note(disagreement(source, address), `${source} ${address}`);
    }
    if (counts.texts % 500 === 0) {
      await sendRaw(
        standIn.address,
        `POST /-/reset HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer ${standIn.secret}\r\nContent-Length: 0\r\nConnection: close\r\n\r\n`,
      );
      const alive = await sendRaw(
        standIn.address,
        'GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n',
      );
      note(alive.startsWith('HTTP/1.1 200') ? null : 'the stand-in no longer answers', alive);
    }
  }
  await standIn.stop();
  const told = Object.entries(counts).map(([what, number]) => `${number} ${what}`);
  process.stdout.write(`fuzz: seed ${seed}, ${seconds} s, ${told.join(', ')}: ${faults.size} faults\n`);
  process.exitCode = faults.size === 0 ? 0 : 1;
}

void main(process.argv.slice(2));
