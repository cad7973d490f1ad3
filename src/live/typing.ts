import type { ElementHandle } from 'playwright-core';
import { Hindered } from './hindered.js';

/** How long a field may take until it can be written to, in milliseconds. */
const LONGEST_READY = 1_000;

/**
 * Types into a field, as a person would: it is clicked first, since script may make it writable then.
 *
 * @param what the field and where it is, for whoever reads why it could not be
 */
export async function typeInto(field: ElementHandle, value: string, what: string): Promise<void> {
  await field.click({ timeout: LONGEST_READY }).catch(() => field.focus().catch(() => undefined));
  // What it says of an error has the value in it.
  const isFilled = await field.fill(value, { timeout: LONGEST_READY }).then(
    () => true,
    () => false,
  );
  if (!isFilled) throw new Hindered(`${what} cannot be written to (readonly, disabled or hidden)`);
}

/** Chooses in a field, by the value. */
export async function chooseIn(field: ElementHandle, value: string, what: string): Promise<void> {
  const isChosen = await field.selectOption(value, { timeout: LONGEST_READY }).then(
    () => true,
    () => false,
  );
  if (!isChosen) throw new Hindered(`${what} has no such choice`);
}

/** Ticks a box, or takes its tick away. */
export async function tick(box: ElementHandle, isTicked: boolean, what: string): Promise<void> {
  const isSet = await box.setChecked(isTicked, { timeout: LONGEST_READY }).then(
    () => true,
    () => false,
  );
  if (!isSet) throw new Hindered(`${what} cannot be ticked`);
}
