import { flags as written } from './written.js';
import type { Direction } from '../vocabulary/direction.js';
import { condition } from './condition.js';

/** Comes while switches of the app stand in some way. */
export const flags = condition<ReadonlyMap<string, boolean>, Readonly<Record<string, boolean>>>({
  key: 'flags',
  schema: () => written,
  nothing: new Map(),
  isAsked: (stands) => stands.size > 0,
  read: (stands, at, reading) => reading.flags(stands, at),
  reason: 'flag',
  admits(stands, visitor) {
    for (const [flag, isOn] of stands) if (visitor.flags.has(flag) !== isOn) return false;
    return true;
  },
  changes(stands, visitor) {
    const otherwise = new Map([...stands].filter(([flag, isOn]) => visitor.flags.has(flag) !== isOn));
    if (otherwise.size === 0) return [];
    const on = new Set([...visitor.flags].filter((flag) => otherwise.get(flag) !== false));
    for (const [flag, isOn] of otherwise) if (isOn) on.add(flag);
    return [{ step: { change: 'switch', flags: otherwise }, after: { flags: on } }];
  },
  compare: ({ before, after }) =>
    [...new Set([...before.keys(), ...after.keys()])].flatMap((name): Direction[] => {
      const [was, is] = [before.get(name), after.get(name)];
      if (was === is) return [];
      return [was === undefined ? 'tightens' : is === undefined ? 'loosens' : 'changes'];
    }),
  words: (stands) =>
    stands.size === 0
      ? []
      : [`while ${[...stands].map(([name, isOn]) => `${name} is ${isOn ? 'on' : 'off'}`).join(' and ')}`],
  keyed: (stands) => [...stands].sort(([one], [other]) => (one < other ? -1 : 1)),
  isForGuests: true,
  turns: 'with-a-switch',
});
