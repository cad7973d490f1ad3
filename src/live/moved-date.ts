// Loaded before a Node app (node --require): its Date tells what the file named by CAVRIN_CLOCK says, and stands still in between.
// Nothing else of the app changes; timers and performance.now() go on by the machine's own clock.
import { openSync, readSync } from 'node:fs';

const file = process.env['CAVRIN_CLOCK'];
if (file === undefined || file === '') {
  throw new Error(
    'this moves the clock of an app under test: it is loaded only where CAVRIN_CLOCK names the file with the time',
  );
}
const descriptor = openSync(file, 'r');
const digits = Buffer.alloc(16);
const RealDate = Date;

/** Milliseconds since 1970, as sixteen digits in the file. */
function now(): number {
  readSync(descriptor, digits, 0, digits.length, 0);
  return Number(digits.toString('latin1'));
}

const MovedDate: DateConstructor = new Proxy(RealDate, {
  construct: (target, parts: unknown[], newTarget) =>
    Reflect.construct(
      target,
      parts.length === 0 ? [now()] : parts,
      newTarget === MovedDate ? target : newTarget,
    ) as object,
  apply: () => new RealDate(now()).toString(),
  get: (target, name, receiver) =>
    name === 'now' ? now : (Reflect.get(target, name, receiver === MovedDate ? target : receiver) as unknown),
});
globalThis.Date = MovedDate;
RealDate.prototype.constructor = MovedDate;
