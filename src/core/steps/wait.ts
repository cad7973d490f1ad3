import * as z from 'zod';
import { deadlineOf, hasDeadline } from '../credentials/deadlines.js';
import { problem } from '../language/problems.js';
import { choice, duration, section } from '../language/schema-parts.js';
import type { Path } from '../language/yaml-text.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import { DEADLINES, keyOfDeadline, type Deadline } from '../vocabulary/deadlines.js';
import { atRest, type StepKind } from './step-kind.js';
import type { WalkScope } from './walk-scope.js';

/** Lets time pass. */
export interface Wait {
  readonly verb: 'wait';
  readonly until: Until;
}

/** How long a wait lasts: a duration, or up to a deadline of a credential that the browser holds. */
export type Until =
  | { readonly kind: 'duration'; readonly seconds: Seconds }
  /** past: to the first instant at which it no longer counts. short-of: to the last at which it does. */
  | { readonly kind: 'past' | 'short-of'; readonly deadline: Deadline };

type Written = Seconds | { past?: Deadline | undefined; 'short-of'?: Deadline | undefined };

export const wait: StepKind<Wait, Written> = {
  verb: 'wait',
  row: [
    '`wait: 30m`, `{ past: … }`, `{ short-of: … }`',
    'lets time pass: a duration, or to the first second at which a deadline is over, or the last at which it is not',
  ],
  schema() {
    const deadline = choice(DEADLINES).optional();
    return z.union([duration(0), section('a wait step', { past: deadline, 'short-of': deadline })], {
      error: 'a duration such as 30m, { past: session-idle } or { short-of: session-idle }',
    });
  },
  asksNothing: true,
  read: (written, at, scope) => ({ verb: 'wait', until: readUntil(written, at, scope) }),
  by: 'time',
  startsAt(stage, { state, browser }, { until }, time) {
    if (until.kind === 'duration') return time + until.seconds;
    const end = deadlineOf(stage, state, browser, until.deadline, time);
    if (end === null) return `this browser holds nothing for which ${until.deadline} could come`;
    if (until.kind === 'past') return Math.max(time, end);
    return end > time ? end - 1 : `${until.deadline} is over already`;
  },
  play: (_stage, { state, browser }) => ({ played: atRest(state, browser), given: null }),
  words: ({ until }) =>
    until.kind === 'duration'
      ? `wait ${formatDuration(until.seconds)}`
      : `wait ${until.kind} ${until.deadline}`,
  written: ({ until }) =>
    until.kind === 'duration' ? formatDuration(until.seconds) : { [until.kind]: until.deadline },
};

function readUntil(written: Written, at: Path, scope: WalkScope): Until {
  if (typeof written === 'number') return { kind: 'duration', seconds: written };
  const kind = written.past === undefined ? 'short-of' : 'past';
  const deadline = written[kind];
  if (deadline === undefined || (written.past !== undefined && written['short-of'] !== undefined)) {
    const form = 'a wait has one of past and short-of';
    scope.report(problem('bad-value', { problem: form }, scope.input.placeOf(at)));
    return { kind: 'duration', seconds: 0 };
  }
  if (scope.policy !== null && !hasDeadline(scope.policy, deadline)) {
    const key = keyOfDeadline(deadline);
    scope.report(problem('no-deadline', { deadline, key }, scope.input.placeOf([...at, kind])));
  }
  return { kind, deadline };
}
