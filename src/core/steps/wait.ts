import * as z from 'zod';
import { deadlineOf, hasDeadline } from '../credentials/deadlines.js';
import { problem } from '../language/text/problems.js';
import { choice, duration, section } from '../language/text/schema-parts.js';
import type { Path } from '../language/text/yaml-text.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import { DEADLINES, keyOfDeadline, type Deadline } from '../vocabulary/deadlines.js';
import { atRest, type TimeStep, type Until } from './step-kind.js';
import type { WalkScope } from './walk-scope.js';

/** Lets time pass. */
export interface Wait {
  readonly verb: 'wait';
  readonly until: Until;
}

type Written = Seconds | { past?: Deadline | undefined; 'short-of'?: Deadline | undefined };

export const wait: TimeStep<Wait, Written> = {
  verb: 'wait',
  row: [
    '`wait: 30m`, `{ past: … }`, `{ short-of: … }`',
    'lets time pass: a duration, or to the first second at which a deadline is over, or the last at which it is not',
  ],
  typed: {
    usage: 'wait 30m, wait past session-idle, or wait short-of session-idle',
    form: /^(?:(?<kind>past|short-of) )?(?<until>\S+)$/,
    written: ({ kind, until }) => (kind === undefined ? until : { [kind]: until }),
    places: [['=past', '=short-of'], ['deadline']],
  },
  traits: [],
  untried: 'any time may pass before each step that is tried',
  pause: ({ until }) => until,
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

/** A step that lets so much time pass. */
export function waitFor(seconds: Seconds): Wait {
  return { verb: 'wait', until: { kind: 'duration', seconds } };
}

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
