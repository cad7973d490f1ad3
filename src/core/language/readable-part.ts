import { valueUnder } from './text/plain.js';
import { pathOf } from './text/issues.js';
import type * as z from 'zod';
import { policySchema, type PolicyText } from './policy-schema.js';
import type { Path } from './text/yaml-text.js';

type Plain = Record<string, unknown>;

/** What stands in for parts that others refer to, so that taking them out makes no name undefined. */
const REQUIRED: Plain = { cavrin: 1, app: 'app', origin: 'https://app.example' };

/**
 * What is left of a policy once everything without the right form is taken out; null where too little is left to look at
 * the names in it.
 */
export function readablePart(value: unknown, issues: readonly z.core.$ZodIssue[]): PolicyText | null {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return null;
  const written: Plain = { ...value };
  let part: Plain = { ...REQUIRED, ...written };
  let faults = issues;
  // Taking out a value can leave a section without a key that it needs, which takes the section out in the next round.
  for (let round = 0; round < 5; round++) {
    const left = without(part, cutsOf(faults.flatMap((issue) => culprits(issue, part))));
    part = typeof left === 'object' ? { ...left } : {};
    const read = policySchema.safeParse({ ...REQUIRED, ...part });
    if (read.success) {
      return part['roles'] === undefined && written['roles'] !== undefined ? null : read.data;
    }
    faults = read.error.issues;
  }
  return null;
}

function culprits(issue: z.core.$ZodIssue, part: Plain): Path[] {
  const path = pathOf(issue);
  if (issue.code === 'unrecognized_keys') return issue.keys.map((key) => [...path, key]);
  if (issue.code === 'invalid_union') {
    const inner = issue.errors
      .flat()
      .filter((each) => each.code === 'unrecognized_keys' || each.path.length > 0);
    if (inner.length > 0) {
      return inner.flatMap((each) => culprits({ ...each, path: [...path, ...each.path] }, part));
    }
  }
  // A rule without its path would be one that says nothing: it goes as a whole.
  if (path[0] === 'rules' && (path[2] === 'path' || path[2] === 'matches')) return [path.slice(0, 2)];
  const missing = path.reduce<unknown>(valueUnder, part) === undefined;
  // What is missing at the top, or was taken out already, has nothing left to take out.
  if (missing && path.length === 1) return [];
  return [missing ? path.slice(0, -1) : path];
}

/** What takes the place of a broken entry, so that its name stays defined and the entries after it keep their numbers. */
const STAND_INS: Plain = {
  roles: [],
  accounts: { password: '-' },
  rules: { path: '/' },
  landing: { otherwise: '/' },
};

/** Where to cut: whether here, or where below. */
interface Cut {
  isHere: boolean;
  readonly below: Map<string | number, Cut>;
}

/** Paths as one tree, so that however many there are a value is gone through once. */
function cutsOf(paths: readonly Path[]): Cut {
  const root: Cut = { isHere: false, below: new Map() };
  for (const path of paths) {
    let cut = root;
    for (const step of path) {
      const next = cut.below.get(step) ?? { isHere: false, below: new Map() };
      cut.below.set(step, next);
      cut = next;
    }
    cut.isHere = true;
  }
  return root;
}

/** A copy without what is cut. */
function without(value: unknown, cut: Cut, above: Path = []): unknown {
  const standIn = above.length === 2 ? STAND_INS[String(above[0])] : undefined;
  if (cut.isHere || typeof value !== 'object' || value === null) return standIn;
  if (Array.isArray(value)) {
    const items = value.map((item: unknown, at) => {
      const inside = cut.below.get(at);
      return inside === undefined ? item : without(item, inside, [...above, at]);
    });
    return items.includes(undefined) ? standIn : items;
  }
  const copy: Plain = { ...value };
  for (const [step, inside] of cut.below) {
    const left = without(copy[step], inside, [...above, step]);
    if (left === undefined) Reflect.deleteProperty(copy, step);
    else copy[step] = left;
  }
  return copy;
}
