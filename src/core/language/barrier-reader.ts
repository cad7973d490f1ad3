import type * as z from 'zod';
import type { barrier } from './access-schema.js';
import type { Names } from './audience-reader.js';
import { checkName, readAddress, readPattern, type Scope } from './text/name-reader.js';
import type { Barrier } from './policy.js';
import { problem } from './text/problems.js';
import type { Path } from './text/yaml-text.js';

type BarrierText = z.output<typeof barrier>;

/** Reads what comes before everything else. */
export function readBarriers(texts: readonly BarrierText[], names: Names, scope: Scope): Barrier[] {
  const known = new Set<string>();
  return texts.map((text, index) => {
    const at: Path = ['barriers', index];
    checkName(text.name, 'barrier', scope.input.placeOf([...at, 'name']), scope.report);
    if (known.has(text.name)) {
      const says = `two barriers are called ${text.name}; reports tell them apart by their names`;
      scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'name'])));
    }
    known.add(text.name);
    return readBarrier(text, at, names, scope);
  });
}

function readBarrier(text: BarrierText, at: Path, names: Names, scope: Scope): Barrier {
  const { answers, sends, returns = false } = text;
  if ((answers === undefined) === (sends === undefined)) {
    const says = 'a barrier has one of answers, a status, and sends, a path';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  if (returns && sends === undefined) {
    const says = 'only from a page that people are sent to can they come back: returns goes with sends';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'returns'])));
  }
  return {
    at,
    name: text.name,
    stops: { audience: names.audience(text.stops, [...at, 'stops'], []), at: [...at, 'stops'] },
    answers: answers ?? null,
    sends: sends === undefined ? null : readAddress(sends, [...at, 'sends'], scope),
    api: text.api ?? answers ?? null,
    lets: (text.lets ?? []).map((path, index) => readPattern(path, [...at, 'lets', index], scope)),
    also: new Set(text.also ?? []),
    returns,
  };
}
