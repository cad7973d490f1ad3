import type { Deed } from '../browser/state.js';
import type { FormName } from '../http/messages.js';

/** A form filled in, at its page or after going there. */
export function fillOf(
  form: FormName,
  fields: readonly (readonly [string, string])[],
): Extract<Deed, { deed: 'fill-in' }> {
  return { deed: 'fill-in', fill: { form, fields: new Map(fields) } };
}
