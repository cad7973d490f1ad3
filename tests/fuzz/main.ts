import { writeFileSync } from 'node:fs';
import { loadRegularLanguages } from '../../src/core/internal';
import { allFuzzers } from './all-fuzzers';
import type { Fuzzer } from './fuzzer';
import { Random } from './random';

/** Any input is answered in so much processor time. */
const MOST_SECONDS = 5;

/**
 * Tries random inputs of all kinds for some seconds. Prints the seed, the counts and the first fault of each kind; the status is 1
 * where there is any.
 *
 * Usage: node fuzz.cjs EXAMPLES PROGRAM SECONDS SEED
 */
async function main([
  examples = '',
  program = '',
  seconds = '20',
  seed = '0',
]: readonly string[]): Promise<void> {
  const random = new Random(Number(seed));
  await loadRegularLanguages();
  const fuzzers = await allFuzzers(examples, program);
  const counts = new Map(fuzzers.map((fuzzer) => [fuzzer, 0]));
  const faults = new Set<string>();
  const note = (what: string, fault: string | null, input: string) => {
    const kind = `${what} ${fault?.replace(/\d+/g, 'N').slice(0, 60) ?? ''}`;
    if (fault === null || faults.has(kind)) return;
    faults.add(kind);
    process.stdout.write(`${what}: ${fault}\n  ${JSON.stringify(input.slice(0, 600))}\n`);
    writeFileSync(`fuzz-found-${faults.size}.txt`, input);
  };
  const until = Date.now() + Number(seconds) * 1000;
  while (Date.now() < until) {
    for (const fuzzer of fuzzers) {
      for (let times = 0; times < fuzzer.often; times++) {
        const input = fuzzer.make(random);
        counts.set(fuzzer, (counts.get(fuzzer) ?? 0) + 1);
        note(fuzzer.what, await faultOf(fuzzer, input), input);
      }
    }
  }
  for (const fuzzer of fuzzers) note(fuzzer.what, (await fuzzer.end?.()) ?? null, '');
  const told = [...counts].map(([{ what }, number]) => `${number} ${what}`);
  process.stdout.write(`fuzz: seed ${seed}, ${seconds} s, ${told.join(', ')}: ${faults.size} faults\n`);
  process.exitCode = faults.size === 0 ? 0 : 1;
}

async function faultOf(fuzzer: Fuzzer, input: string): Promise<string | null> {
  const before = process.cpuUsage();
  try {
    const fault = await fuzzer.faultOf(input);
    const { user, system } = process.cpuUsage(before);
    const took = (user + system) / 1e6;
    return fault ?? (took > MOST_SECONDS ? `took ${took.toFixed(1)} s` : null);
  } catch (error) {
    return `fails: ${String((error as Error).stack).slice(0, 300)}`;
  }
}

void main(process.argv.slice(2));
