import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import type { StepResult } from '../walks/runner.js';
import type { Observed } from './observation.js';

/** What the menu of a page has otherwise than the policy says. */
export function menuWords({ outcome }: StepResult, seen: Observed): string {
  return words('the menu', outcome.menu, seen.menu);
}

/** What parts a page has otherwise than the policy says. */
export function partsWords({ outcome }: StepResult, seen: Observed): string {
  const [path = 'the page'] = outcome.lands?.split('?', 1) ?? [];
  return words(path, outcome.parts, seen.parts);
}

function words(what: string, wanted: readonly string[], found: readonly string[]): string {
  const more = found.filter((each) => !wanted.includes(each));
  const less = wanted.filter((each) => !found.includes(each));
  const said = [
    more.length === 0 ? '' : `${what} shows ${more.join(', ')}`,
    less.length === 0 ? '' : `${what} hides ${less.join(', ')}`,
  ];
  return said.filter((each) => each !== '').join(', ');
}

/** The place of the first part that only one of the two sides shows. */
export function partAt({ pages }: Policy, { outcome }: StepResult, seen: Observed): Path {
  const differing = [...outcome.parts, ...seen.parts].find(
    (part) => !(outcome.parts.includes(part) && seen.parts.includes(part)),
  );
  const part = pages.flatMap(({ parts }) => parts).find(({ name }) => name === differing);
  return part?.at ?? ['pages'];
}
