import { execFileSync } from 'node:child_process';
import { relative, resolve, sep } from 'node:path';
import { LIMITS, problem, sourceOf, type Diagnostic, type Source } from '../core/internal.js';

/** A file as a revision of a repository has it. */
export interface GitFile {
  readonly revision: string;
  /** null: the file that is compared with it. */
  readonly path: string | null;
}

/** Reads `git:main` or `git:main:app/cavrin.yaml`; null for the name of a file. */
export function readGitName(name: string): GitFile | null {
  const [, revision = '', path] = /^git:([^:]*)(?::(.*))?$/s.exec(name) ?? [];
  return name.startsWith('git:') ? { revision, path: path === undefined || path === '' ? null : path } : null;
}

/**
 * Reads a file of a revision through git; gives what is wrong with it where it cannot be read.
 *
 * @param folder the folder that the path is relative to
 */
export function readGitText({ revision, path }: GitFile, usual: string, folder: string): Source | Diagnostic {
  const file = path ?? usual;
  const name = `git:${revision}:${file}`;
  const fault = (reason: string) => problem('cannot-read', { file: name, reason }, null);
  // What begins with a dash would be an option of git.
  if (revision === '' || revision.startsWith('-')) {
    return fault('git: is followed by a revision, such as git:main or git:HEAD~1');
  }
  const below = relative(folder, resolve(folder, file)).split(sep).join('/');
  const read = git(['cat-file', 'blob', `${revision}:./${below}`], folder);
  if (typeof read === 'string') return fault(read === '' ? whyNot(revision, below, folder) : read);
  if (read.includes(0)) return problem('not-text', { file: name }, null);
  try {
    return sourceOf(name, new TextDecoder('utf-8', { fatal: true }).decode(read));
  } catch {
    return problem('not-text', { file: name }, null);
  }
}

function whyNot(revision: string, below: string, folder: string): string {
  if (typeof git(['rev-parse', '--git-dir'], folder) === 'string') {
    return 'this folder is in no git repository';
  }
  const commit = git(['rev-parse', '--verify', '--quiet', `${revision}^{commit}`], folder);
  return typeof commit === 'string' ? `there is no revision ${revision}` : `${revision} has no file ${below}`;
}

/** What git answers; a text where it does not: why, or empty where only git knows. */
function git(words: readonly string[], folder: string): Buffer | string {
  try {
    return execFileSync('git', words, {
      cwd: folder,
      // A repository may name a program to fetch with what it lacks.
      env: { ...process.env, GIT_NO_LAZY_FETCH: '1' },
      maxBuffer: LIMITS.bytes,
      stdio: ['ignore', 'pipe', 'ignore'],
    });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT') return 'git is not installed here';
    return code === 'ENOBUFS' ? `it is larger than ${LIMITS.bytes / 1024 / 1024} MiB` : '';
  }
}
