import { statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { LIMITS, problem, sourceOf, type Diagnostic, type Source } from '../core/internal.js';
import { readAtMost } from './bounded-reading.js';
import { reasonOf } from './status.js';
import { kindOf, leavesProject, MOST_BYTES, walksBeside } from './walk-files.js';

/** The texts of a policy and its walks; `faults` are the files that could not be read. */
export interface Texts {
  readonly policy: Source | null;
  readonly walks: readonly Source[];
  readonly faults: readonly Diagnostic[];
  /** What lies beside the policy, looks like walks and was not read. */
  readonly notRead: readonly string[];
}

export interface Request {
  /** The folder that names are relative to. */
  readonly folder: string;
  /** The policy's file, `-` for standard input; undefined: the cavrin.yaml of this folder or the nearest parent. */
  readonly policy: string | undefined;
  /** Files of walks; none: those beside the policy. */
  readonly walks: readonly string[];
}

/** Reads the files of a policy and its walks, or of a policy alone. */
export function readTexts(request: Request, extent: 'all' | 'policy only' = 'all'): Texts {
  const faults: Diagnostic[] = [];
  const file = request.policy ?? nearestPolicy(request.folder);
  const read = (name: string, isFound: boolean): Source | null => {
    const result =
      isFound && leavesProject(name, dirname(file ?? name), request.folder)
        ? problem('link-leaves', { file: name }, null)
        : readText(name, request.folder, isFound);
    if ('text' in result) return result;
    faults.push(result);
    return null;
  };
  if (file === null) {
    const faults = [problem('no-policy', { folder: request.folder }, null)];
    return { policy: null, walks: [], faults, notRead: [] };
  }
  const policy = read(file, request.policy === undefined);
  const isGiven = request.walks.length > 0 || extent === 'policy only';
  if (policy === null || isGiven) {
    const walks = request.walks.map((name) => read(name, false)).filter((source) => source !== null);
    return { policy, walks, faults, notRead: [] };
  }
  const beside = walksBeside(file, request.folder);
  const walks: Source[] = [];
  let left = MOST_BYTES;
  for (const name of beside.walks) {
    const source = read(name, true);
    if (source === null) continue;
    left -= source.text.length;
    if (left < 0) {
      faults.push(problem('too-many-walks', { folder: dirname(name) }, null));
      break;
    }
    walks.push(source);
  }
  return { policy, walks, faults: [...faults, ...beside.faults], notRead: beside.notRead };
}

/** The policy that a request reads; null where none is named and none is found. */
export function policyOf(request: Request): string | null {
  return request.policy ?? nearestPolicy(request.folder);
}

function nearestPolicy(folder: string): string | null {
  for (let here = folder; ; here = dirname(here)) {
    const file = join(here, 'cavrin.yaml');
    const kind = kindOf(file);
    // What is there and cannot be read is told when it is read.
    if (kind !== null && (typeof kind === 'string' || !kind.isDirectory())) return relative(folder, file);
    if (here === dirname(here)) return null;
  }
}

/**
 * Reads one file; gives what is wrong with it where it cannot be read.
 *
 * @param isFound whether nobody named it: then it must be a plain file, while a pipe can be named
 * @param most how many bytes it may hold
 */
export function readText(
  file: string,
  folder: string,
  isFound: boolean,
  most: number = LIMITS.bytes,
): Source | Diagnostic {
  try {
    const path = file === '-' ? null : resolve(folder, file);
    if (path !== null) {
      const stat = statSync(path, { throwIfNoEntry: false });
      if (stat === undefined) return problem('no-file', { file }, null);
      if (stat.isDirectory()) return problem('is-folder', { file }, null);
      if (!stat.isFile() && (isFound || !stat.isFIFO())) return problem('special-file', { file }, null);
      // Judged before reading, so that a huge file costs nothing.
      if (stat.size > most) return tooLarge(file, most);
    }
    const bytes = readAtMost(path, most);
    if (bytes === null) return tooLarge(file, most);
    if (bytes.includes(0)) return problem('not-text', { file }, null);
    return sourceOf(file, new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch (error) {
    if (error instanceof TypeError) return problem('not-text', { file }, null);
    return problem('cannot-read', { file, reason: reasonOf(error) }, null);
  }
}

function tooLarge(file: string, most: number): Diagnostic {
  const code = most === LIMITS.bytes ? 'too-large' : 'source-too-large';
  const empty = sourceOf(file, '');
  return problem(code, { mebibytes: most / 1024 / 1024 }, { source: empty, start: 0, end: 0 });
}
