import { readdirSync, readFileSync } from 'node:fs';

/** The variable by which all that a run has started is known again. */
export const MARK = 'CAVRIN_RUN';

/**
 * The processes that a run has started and that still live, those that made a group or session of their own too: what
 * has the run's mark in its environment, and what descends from it or from the program itself.
 *
 * Only where the system has a `/proc` of Linux's kind, and only what this user may look at; elsewhere there are none.
 *
 * @param mark the value of the variable {@link MARK} in this run
 * @param roots processes that the run itself has started
 */
export function startedBy(mark: string, roots: readonly number[]): number[] {
  const parents = parentsOfAll();
  const found = new Set([...parents.keys()].filter((id) => roots.includes(id) || hasMark(id, mark)));
  // Children that cleared their environment are known by their parents.
  for (let before = -1; before < found.size;) {
    before = found.size;
    for (const [id, parent] of parents) if (found.has(parent)) found.add(id);
  }
  found.delete(process.pid);
  return [...found];
}

function parentsOfAll(): Map<number, number> {
  const parents = new Map<number, number>();
  for (const name of namesIn('/proc')) {
    const id = Number(name);
    if (!Number.isInteger(id)) continue;
    // A program's own name stands in brackets, and may hold any; the state and the parent come after the last (proc(5)).
    const [state, parent] = (textOf(id, 'stat').split(')').at(-1) ?? '').trim().split(' ');
    if (parent !== undefined && state !== 'Z') parents.set(id, Number(parent));
  }
  return parents;
}

function hasMark(id: number, mark: string): boolean {
  return textOf(id, 'environ').split('\0').includes(`${MARK}=${mark}`);
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

/** Empty where it is somebody else's, or has ended meanwhile. */
function textOf(id: number, file: string): string {
  try {
    return readFileSync(`/proc/${id}/${file}`, 'latin1');
  } catch {
    return '';
  }
}
