import type { YamlText } from '../language/text/yaml-text.js';
import type { View } from '../laws/law.js';
import type { LawName } from '../vocabulary/law-names.js';
import type { Stage } from '../play/stage.js';
import type { Step } from '../steps/walk.js';
import { playSteps } from '../walks/runner.js';
import {
  barriersMeter,
  landingsMeter,
  partsMeter,
  reasonsMeter,
  refusalsMeter,
  rulesMeter,
} from './decisions.js';
import { limitsMeter } from './limits.js';
import type { Coverable, Group, Meter } from './meter.js';
import { pagesMeter } from './pages.js';
import { waysMeter } from './ways.js';

/** What walks touch of a policy. */
export interface Coverage {
  readonly groups: readonly CoveredGroup[];
  /** How many things there are, and how many of them some walk touches. */
  readonly all: number;
  readonly touched: number;
}

export interface CoveredGroup {
  readonly group: Group;
  readonly items: readonly CoveredItem[];
}

export interface CoveredItem extends Omit<Coverable, 'key'> {
  /** How many steps touch it. */
  readonly times: number;
}

/** Steps that are played from a fresh start. */
export interface Played {
  readonly steps: readonly Step[];
  readonly expectBroken?: readonly LawName[];
}

/** What some walks touch: each is played, and every thing that a step comes to is counted. */
export function coverageOf(stage: Stage, input: YamlText, walks: readonly Played[]): Coverage {
  const meters = metersOf(stage, input);
  const times = new Map<string, number>();
  for (const { steps, expectBroken } of walks) {
    playSteps(stage, steps, expectBroken, (view) => {
      for (const key of touchedKeys(meters, view)) times.set(key, (times.get(key) ?? 0) + 1);
    });
  }
  const groups = meters
    .filter(({ coverables }) => coverables.length > 0)
    .map(({ group, coverables }) => ({
      group,
      items: coverables.map(({ key, ...item }) => ({ ...item, times: times.get(`${group} ${key}`) ?? 0 })),
    }));
  const items = groups.flatMap((each) => each.items);
  return { groups, all: items.length, touched: items.filter((each) => each.times > 0).length };
}

/** The meters of a policy, one for each group. */
export function metersOf(stage: Stage, input: YamlText): readonly Meter[] {
  const { policy } = stage.app;
  return [
    pagesMeter(stage),
    rulesMeter(policy),
    landingsMeter(policy),
    refusalsMeter(policy, input),
    reasonsMeter(policy),
    partsMeter(stage),
    barriersMeter(policy),
    limitsMeter(policy),
    waysMeter(policy),
  ];
}

/** What a step touches, each once, with its group before it. */
export function touchedKeys(meters: readonly Meter[], view: View): ReadonlySet<string> {
  return new Set(meters.flatMap((meter) => meter.touchedBy(view).map((key) => `${meter.group} ${key}`)));
}
