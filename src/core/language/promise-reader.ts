import type { PromiseText } from './access-schema.js';
import type { Names } from './audience-reader.js';
import { readPattern, type Scope } from './text/name-reader.js';
import type { PolicyPromise } from './policy.js';
import { problem } from './text/problems.js';
import type { Path } from './text/yaml-text.js';

const FORMS =
  'a promise is { only: roles, reach: paths }, { after: logout, copied: access, works-at-most: 5m }, ' +
  '{ after: role-removed, access-lasts-at-most: 5m } or { every: signed-in, reach: paths, within-steps: 2 }';

/** Reads what the owner promises to hold. */
export function readPromise(text: PromiseText, index: number, names: Names, scope: Scope): PolicyPromise {
  const at: Path = ['promises', index];
  const { only, reach, after, copied, every } = text;
  const withinSteps = text['within-steps'] ?? null;
  const [works, lasts] = [text['works-at-most'], text['access-lasts-at-most']];
  const aboutPages = only !== undefined && reach !== undefined;
  const aboutCopies = after !== undefined && copied !== undefined && works !== undefined;
  const aboutAccess = after !== undefined && lasts !== undefined;
  const keys = Object.values(text).filter((value) => value !== undefined).length;
  const aboutSteps = every !== undefined && reach !== undefined && withinSteps !== null;
  const wanted = aboutPages ? 2 : aboutCopies ? 3 : aboutAccess ? 2 : aboutSteps ? 3 : 0;
  if (keys !== wanted || keys === 0) {
    scope.report(problem('bad-value', { problem: FORMS }, scope.input.placeOf(at)));
  }
  return {
    at,
    only: only?.map((role) => names.roles.resolve(role, [...at, 'only'])) ?? null,
    reach: (reach ?? []).map((path) => readPattern(path, [...at, 'reach'], scope)),
    after: after ?? null,
    copied: copied ?? null,
    atMost: works ?? lasts ?? null,
    withinSteps,
  };
}
