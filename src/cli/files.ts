import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { LIMITS, problem, sourceOf, type Diagnostic, type Source } from '../core/index.js';

/** The texts of a policy and its walks; `faults` are the files that could not be read. */
export interface Texts {
  readonly policy: Source | null;
  readonly walks: readonly Source[];
  readonly faults: readonly Diagnostic[];
}

export interface Request {
  /** The folder that names are relative to. */
  readonly folder: string;
  /** The policy's file, `-` for standard input; undefined: the cavrin.yaml of this folder or the nearest parent. */
  readonly policy: string | undefined;
  /** Files of walks; none: those in `walks/` beside the policy. */
  readonly walks: readonly string[];
}

/** Reads the files of a policy and its walks, or of a policy alone. */
export function readTexts(request: Request, extent: 'all' | 'policy only' = 'all'): Texts {
  const faults: Diagnostic[] = [];
  const read = (file: string): Source | null => {
    const result = readText(file, request.folder);
    if ('text' in result) return result;
    faults.push(result);
    return null;
  };
  const file = request.policy ?? nearestPolicy(request.folder);
  if (file === null) {
    return { policy: null, walks: [], faults: [problem('no-policy', { folder: request.folder }, null)] };
  }
  const policy = read(file);
  const names = policy === null || extent === 'policy only' ? request.walks : walkFiles(request, file);
  const walks = names.map(read).filter((source) => source !== null);
  return { policy, walks, faults };
}

/** The names of the files that a request reads, the policy first; without those that come from standard input. */
export function filesOf(request: Request): string[] {
  const file = request.policy ?? nearestPolicy(request.folder);
  return file === null ? [] : [file, ...walkFiles(request, file)].filter((name) => name !== '-');
}

function walkFiles(request: Request, policy: string): readonly string[] {
  return request.walks.length > 0 ? request.walks : walksBeside(policy, request.folder);
}

function nearestPolicy(folder: string): string | null {
  for (let here = folder; ; here = dirname(here)) {
    const file = join(here, 'cavrin.yaml');
    if (statSync(file, { throwIfNoEntry: false })?.isFile() === true) return relative(folder, file);
    if (here === dirname(here)) return null;
  }
}

function walksBeside(policy: string, folder: string): string[] {
  if (policy === '-') return [];
  const beside = join(dirname(policy), 'walks');
  try {
    return readdirSync(resolve(folder, beside))
      .filter((name) => name.endsWith('.yaml'))
      .sort()
      .map((name) => join(beside, name));
  } catch {
    // No such folder: a policy may keep its walks in itself, or have none.
    return [];
  }
}

/** Reads one file; gives what is wrong with it where it cannot be read. */
export function readText(file: string, folder: string): Source | Diagnostic {
  try {
    const path = file === '-' ? 0 : resolve(folder, file);
    if (typeof path === 'string') {
      const stat = statSync(path, { throwIfNoEntry: false });
      if (stat === undefined) return problem('no-file', { file }, null);
      if (stat.isDirectory()) return problem('is-folder', { file }, null);
      // Judged before reading, so that a huge file costs nothing.
      if (stat.size > LIMITS.bytes) return tooLarge(file);
    }
    const bytes = readFileSync(path);
    if (bytes.length > LIMITS.bytes) return tooLarge(file);
    if (bytes.includes(0)) return problem('not-text', { file }, null);
    return sourceOf(file, new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch (error) {
    if (error instanceof TypeError) return problem('not-text', { file }, null);
    const reason = (error as NodeJS.ErrnoException).code ?? String(error);
    return problem('cannot-read', { file, reason }, null);
  }
}

function tooLarge(file: string): Diagnostic {
  const empty = sourceOf(file, '');
  return problem('too-large', { mebibytes: LIMITS.bytes / 1024 / 1024 }, { source: empty, start: 0, end: 0 });
}
