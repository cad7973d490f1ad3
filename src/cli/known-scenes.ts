import { createHash, randomUUID } from 'node:crypto';
import {
  existsSync,
  lstatSync,
  lutimesSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { dirname, isAbsolute, join, resolve } from 'node:path';
import {
  keepScene,
  keptSceneSchema,
  readKeptScene,
  sceneMatter,
  type Job,
  type KeptScene,
  type SceneOutcome,
  type Stage,
} from '../core/internal.js';
import { readOwnFile } from './bounded-reading.js';
import type { Usable } from './project.js';
import { CannotWrite, reasonOf } from './status.js';

/** A result that nothing asked for in so long a time is thrown away. */
const KEPT_MILLISECONDS = 30 * 24 * 60 * 60 * 1000;
/** No scene comes near it. */
const MOST_BYTES = 64 * 1024 * 1024;

/** What came of scenes before: of this run, and of others where there is a folder for it. */
export class KnownScenes {
  private readonly known = new Map<string, KeptScene>();

  /** @param folder null: nothing is kept beyond this run */
  constructor(private readonly folder: string | null) {}

  /** Adds what was found elsewhere. */
  add(key: string, scene: KeptScene): void {
    this.known.set(key, scene);
  }

  has(key: string): boolean {
    return this.known.has(key);
  }

  /** What came of a scene; null where it is not known. */
  find(key: string, stage: Stage, job: Job): SceneOutcome | null {
    const kept = this.known.get(key) ?? this.read(key);
    return kept === null ? null : readKeptScene(stage, job, kept);
  }

  /** Keeps what came of a scene, unless it was not finished. */
  keep(key: string, outcome: SceneOutcome): void {
    if (outcome.isInterrupted) return;
    const scene = keepScene(outcome);
    this.known.set(key, scene);
    if (this.folder === null) return;
    // Put there whole, since others may read it meanwhile, under a name that nobody can have put a link at.
    const partial = join(this.folder, `${key}.${randomUUID()}.part`);
    try {
      writeNew(partial, JSON.stringify({ digest: digestOf(key, scene), scene }));
      renameSync(partial, join(this.folder, `${key}.json`));
    } catch {
      // Whatever cannot be kept is worked out again.
      rmSync(partial, { force: true });
    }
  }

  private read(key: string): KeptScene | null {
    if (this.folder === null) return null;
    const file = join(this.folder, `${key}.json`);
    try {
      const text = readOwnFile(file, MOST_BYTES)?.toString();
      if (text === undefined) return null;
      const { digest, scene } = JSON.parse(text) as Readonly<Record<string, unknown>>;
      const kept = keptSceneSchema().safeParse(scene);
      if (!kept.success || digest !== digestOf(key, scene)) return null;
      lutimesSync(file, new Date(), new Date());
      this.known.set(key, kept.data);
      return kept.data;
    } catch {
      return null;
    }
  }
}

/** Of the key too, so that no result is taken for that of another scene. */
function digestOf(key: string, scene: unknown): string {
  return createHash('sha256').update(key).update(JSON.stringify(scene)).digest('hex');
}

/** Writes a file that is not there yet, for this user alone. */
function writeNew(file: string, text: string): void {
  writeFileSync(file, text, { flag: 'wx', mode: 0o600 });
}

/** The key of what comes of a scene: the same only for the same program and all of the policy that bears on it. */
export function keyOf(job: Job, { policy, input }: Usable): string {
  return createHash('sha256')
    .update(program())
    .update(sceneMatter(job, policy, input.value))
    .digest('hex');
}

let programText: Buffer | null = null;

/** What works scenes out, with its library for expressions. A version alone would not tell a program that was built anew. */
function program(): Buffer {
  programText ??= Buffer.concat(
    ['prove-worker.cjs', 'refa.cjs'].map((name) => readFileSync(join(import.meta.dirname, name))),
  );
  return programText;
}

/**
 * The folder in which results are kept; null for none.
 *
 * @param chosen what was asked for: a folder, false for none, undefined for the usual one, where there is a home
 * @throws CannotWrite where a folder that was asked for cannot be used
 */
export function cacheFolder(
  chosen: string | false | undefined,
  at: string,
  env: Readonly<Record<string, string | undefined>>,
): string | null {
  if (chosen === false) return null;
  const { XDG_CACHE_HOME, LOCALAPPDATA, HOME } = env;
  // The XDG Base Directory Specification has one that is not absolute ignored.
  const [usual = null] = [XDG_CACHE_HOME, LOCALAPPDATA, HOME && join(HOME, '.cache')].filter(
    (each): each is string => each !== undefined && isAbsolute(each),
  );
  if (chosen === undefined && usual === null) return null;
  const folder = chosen === undefined ? join(usual ?? '', 'cavrin') : resolve(at, chosen);
  try {
    // One by one: Node 20 never returns from a recursive mkdir below /proc.
    for (const each of [dirname(folder), folder]) if (!existsSync(each)) mkdirSync(each, { mode: 0o700 });
    const probe = join(folder, `.${randomUUID()}.part`);
    writeNew(probe, '');
    rmSync(probe);
    throwAwayOld(folder);
    return folder;
  } catch (error) {
    if (chosen === undefined) return null;
    throw new CannotWrite(chosen, reasonOf(error), 'name a folder that can be written to, or use --no-cache');
  }
}

function throwAwayOld(folder: string): void {
  for (const name of readdirSync(folder)) {
    if (!/^[0-9a-f]{64}\.(?:json|[0-9a-f-]+\.part)$/.test(name)) continue;
    const file = join(folder, name);
    // Another run may have thrown it away meanwhile.
    const stat = lstatSync(file, { throwIfNoEntry: false });
    const isOld = stat?.isDirectory() === false && Date.now() - stat.mtimeMs > KEPT_MILLISECONDS;
    if (isOld) rmSync(file, { force: true });
  }
}
