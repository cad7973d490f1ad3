import type { Scope } from '../language/text/name-reader.js';
import { problem } from '../language/text/problems.js';
import { nearest } from '../language/text/suggestions.js';
import type { Path } from '../language/text/yaml-text.js';
import { parameterNames, type Pattern } from '../paths/pattern.js';

/** Reports a parameter that one of the paths does not have for which an audience stands. */
export function checkParameter(name: string, at: Path, patterns: readonly Pattern[], scope: Scope): void {
  for (const pattern of patterns) {
    const known = parameterNames(pattern);
    if (known.includes(name)) continue;
    const near = nearest(name, known);
    scope.report(problem('unknown-parameter', { name, near, path: pattern.text }, scope.input.placeOf(at)));
  }
}
