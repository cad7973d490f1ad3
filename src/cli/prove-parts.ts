import { InvalidArgumentError } from 'commander';
import { proofPartFormat, proofPartJson, type PartScene } from '../render/proof-part.js';
import { castWords } from '../render/proof-words.js';
import { readText } from './files.js';
import type { KnownScenes } from './known-scenes.js';
import { giveOut } from './output.js';
import type { WorkOptions } from './prove-options.js';
import { proofOf, settle, statusOf, type Plan } from './prove-plan.js';
import { Refused } from './status.js';
import type { Terminal } from './terminal.js';

/** One of so many parts. */
export interface Shard {
  readonly part: number;
  readonly of: number;
}

const MOST_PARTS = 64;
/** A part of a policy with very many broken laws has some hundred kilobytes. */
const MOST_BYTES = 64 * 1024 * 1024;

/** Reads `1/4`. */
export function readShard(text: string): Shard {
  const [, part = 0, of = 0] = (/^(\d{1,2})\/(\d{1,2})$/.exec(text) ?? []).map(Number);
  if (part < 1 || part > of || of > MOST_PARTS) {
    throw new InvalidArgumentError(`give a part and their number, such as 1/4, of ${MOST_PARTS} at most`);
  }
  return { part, of };
}

/** Settles one part of the scenes and gives it out as JSON. Its status tells of this part alone. */
export async function provePart(
  plan: Plan,
  shard: Shard,
  known: KnownScenes,
  options: WorkOptions,
  terminal: Terminal,
): Promise<number> {
  const scenes = plan.scenes.filter((_, at) => at % shard.of === shard.part - 1);
  const own: Plan = { ...plan, scenes, casts: scenes.map(({ job }) => job.cast) };
  const settled = await settle(own, known, options, terminal, () => undefined);
  const done = scenes.flatMap(({ job, key }, at): PartScene[] => {
    const outcome = settled.outcomes[at] ?? null;
    return outcome === null ? [] : [{ key, job, outcome }];
  });
  const { policy, input } = plan.project;
  giveOut(proofPartJson({ app: policy.app, policy: input.source.file }, shard, done), options, terminal);
  return statusOf(proofOf(own, settled));
}

/** What is no part of this proof, or that some are missing. */
class CannotJoin extends Refused {}

/**
 * Adds what parts of a proof hold to what is known of its scenes.
 *
 * @throws CannotJoin where a file is no part, or of something else, and where not all scenes are in one of them
 */
export function addParts(
  names: readonly string[],
  { scenes }: Plan,
  known: KnownScenes,
  terminal: Terminal,
): void {
  const keys = new Set(scenes.map(({ key }) => key));
  for (const name of names) {
    for (const { key, outcome } of readPart(name, terminal)) {
      if (!keys.has(key)) {
        throw new CannotJoin(
          `${name} is part of another proof: of another policy, other options or another version of cavrin; ` +
            'make all parts anew, with the same options as --join',
        );
      }
      known.add(key, outcome);
    }
  }
  const missing = scenes.filter(({ key }) => !known.has(key)).map(({ job }) => castWords(job.cast));
  if (missing.length > 0) {
    throw new CannotJoin(
      `${missing.length} of ${scenes.length} scenes are in none of the parts: ${missing.join('; ')}; name the files of all parts`,
    );
  }
}

function readPart(name: string, { folder }: Terminal) {
  const part = proofPartFormat().safeParse(parsed(name, folder));
  if (part.success) return part.data.scenes;
  throw new CannotJoin(
    `${name} is no part of a proof; write one with: cavrin prove --shard 1/4 --output part-1.json (a policy is named before --join)`,
  );
}

function parsed(name: string, folder: string): unknown {
  const read = readText(name, folder, false, MOST_BYTES);
  if (!('text' in read)) throw new CannotJoin(`${read.message}; name the files of all parts`);
  try {
    return JSON.parse(read.text);
  } catch {
    return null;
  }
}
