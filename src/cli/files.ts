import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { LIMITS, problem, sourceOf, type Diagnostic, type Source } from '../core/index.js';

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
  const read = (file: string): Source | null => {
    const result = readText(file, request.folder);
    if ('text' in result) return result;
    faults.push(result);
    return null;
  };
  const file = request.policy ?? nearestPolicy(request.folder);
  if (file === null) {
    const faults = [problem('no-policy', { folder: request.folder }, null)];
    return { policy: null, walks: [], faults, notRead: [] };
  }
  const policy = read(file);
  const names = policy === null || extent === 'policy only' ? request.walks : walkFiles(request, file);
  const walks = names.map(read).filter((source) => source !== null);
  const isGiven = request.walks.length > 0 || extent === 'policy only';
  return { policy, walks, faults, notRead: isGiven ? [] : walksBeside(file, request.folder).notRead };
}

/** The names of the files that a request reads, the policy first; without those that come from standard input. */
export function filesOf(request: Request): string[] {
  const file = request.policy ?? nearestPolicy(request.folder);
  return file === null ? [] : [file, ...walkFiles(request, file)].filter((name) => name !== '-');
}

function walkFiles(request: Request, policy: string): readonly string[] {
  return request.walks.length > 0 ? request.walks : walksBeside(policy, request.folder).walks;
}

function nearestPolicy(folder: string): string | null {
  for (let here = folder; ; here = dirname(here)) {
    const file = join(here, 'cavrin.yaml');
    if (statSync(file, { throwIfNoEntry: false })?.isFile() === true) return relative(folder, file);
    if (here === dirname(here)) return null;
  }
}

/** What lies beside a policy: the walks that are read with it, and what looks like walks and is not. */
export interface Beside {
  readonly walks: readonly string[];
  readonly notRead: readonly string[];
}

const YAML = /\.ya?ml$/i;

/** The files of walks beside a policy: in `walks`, at any depth, and `walks.yaml`. */
export function walksBeside(policy: string, folder: string): Beside {
  if (policy === '-') return { walks: [], notRead: [] };
  const home = dirname(policy);
  const names = namesIn(resolve(folder, home));
  const files = names.filter((name) => /^walks\.ya?ml$/i.test(name)).map((name) => join(home, name));
  const notRead = names.filter((name) => /^walk(?:\.ya?ml)?$/i.test(name)).map((name) => join(home, name));
  return { walks: [...walksBelow(join(home, 'walks'), folder, 0), ...files], notRead };
}

/** Deep enough for any order that somebody keeps, and not for a link that leads round. */
const DEEPEST = 8;

function walksBelow(below: string, folder: string, depth: number): string[] {
  if (depth > DEEPEST) return [];
  return namesIn(resolve(folder, below)).flatMap((name) => {
    const path = join(below, name);
    const isFolder = statSync(resolve(folder, path), { throwIfNoEntry: false })?.isDirectory() === true;
    if (isFolder) return walksBelow(path, folder, depth + 1);
    return YAML.test(name) ? [path] : [];
  });
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder).sort();
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
