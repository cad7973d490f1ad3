import type { ElementHandle } from 'playwright-core';
import type { FormHints, FormName } from '../core/internal.js';
import { CHOOSES } from './form-at.js';
import type { Answers } from './form-filling.js';
import { Hindered } from './hindered.js';
import * as inPage from './in-page.js';
import type { Person } from './person.js';
import { chooseIn, tick, typeInto } from './typing.js';

/**
 * Fills in a form of the page that a person has in front.
 *
 * @throws Hindered where a field is missing, or cannot be written to
 */
export async function fillIn(
  person: Person,
  form: ElementHandle,
  hints: FormHints,
  name: FormName,
  answers: Answers,
): Promise<void> {
  const control = (what: inPage.Wanted['what'], named: string | null) =>
    person.inside(form, inPage.findControl, { what, named });
  const put = async (what: inPage.Wanted['what'], named: string | null, value: string | null) => {
    if (value === null) return;
    const found = await control(what, named);
    if (found === null) throw new Hindered(`the form for a ${name} has no field for the ${what}`);
    const field = `the field for the ${what} on ${person.lands() ?? 'the page'}`;
    if (what === 'role') await chooseIn(found, value, field);
    else await typeInto(found, value, field);
  };
  await put('name', hints.name, answers.name);
  await put('password', hints.password, answers.old ?? answers.password);
  if (answers.old !== null) await put('again', null, answers.password);
  // Whoever chooses a password is often asked for it twice.
  const again = answers.old !== null ? 'repeat' : CHOOSES.has(name) ? 'again' : null;
  const second = again === null ? null : await control(again, null);
  if (second !== null) await typeInto(second, answers.password ?? '', 'the field for the password again');
  await put('role', hints.role, answers.role);
  await put('code', hints.code, answers.code);
  const box = await control('remember', hints.remember);
  if (box !== null && answers.name !== null && name !== 'sign-up') {
    await tick(box, answers.remember, 'the box to be remembered');
  } else if (answers.remember) throw new Hindered('the form has nothing to be remembered by');
}
