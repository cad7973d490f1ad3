import type { FormHints } from '../core/internal.js';
import type { FormInput, PageForm } from './html-page.js';

/** What somebody puts into a form. */
export interface Answers {
  readonly name: string | null;
  readonly password: string | null;
  readonly remember: boolean;
  readonly role: string | null;
  readonly code: string | null;
  /** The old password, where another is chosen in its place. */
  readonly old: string | null;
}

/** The names of the controls into which answers go; null where the form has none for it. */
export interface Slots {
  readonly name: string | null;
  /** All of them: a sign-up asks for the password twice. */
  readonly passwords: readonly string[];
  readonly remember: FormInput | null;
  readonly role: string | null;
  readonly code: string | null;
}

const NAMED = new Set(['text', 'email', 'tel', 'search', 'number']);

/** Finds the controls of a form for each answer: by their hints, else by type and order, as a person would. */
export function slotsIn({ inputs }: PageForm, hints: FormHints): Slots {
  const firstPassword = inputs.findIndex(({ type }) => type === 'password');
  const texts = inputs.filter(({ type }) => NAMED.has(type));
  const before =
    firstPassword < 0 ? texts : inputs.slice(0, firstPassword).filter(({ type }) => NAMED.has(type));
  const passwords = inputs.filter(({ type }) => type === 'password').map(({ name }) => name);
  const boxes = inputs.filter(({ type }) => type === 'checkbox');
  const remembering = boxes.find(({ name }) =>
    hints.remember === null ? /remember|keep|stay/i.test(name) : name === hints.remember,
  );
  return {
    name: hints.name ?? (before.at(-1) ?? texts[0])?.name ?? null,
    passwords: hints.password === null ? passwords : [hints.password],
    remember: remembering ?? (hints.remember === null && boxes.length === 1 ? (boxes[0] ?? null) : null),
    role:
      hints.role ??
      inputs.find(({ type, name }) => type === 'select' || (type === 'radio' && /role/i.test(name)))?.name ??
      null,
    code: hints.code ?? (firstPassword < 0 ? (texts[0]?.name ?? null) : null),
  };
}

/** The fields that a form sends once it is filled in. */
export function filledIn(form: PageForm, slots: Slots, answers: Answers): [string, string][] {
  const own = new Map<string, string>();
  const put = (name: string | null, value: string | null) => {
    if (name !== null && value !== null) own.set(name, value);
  };
  put(slots.name, answers.name);
  // The old password is asked for before the new one.
  for (const [index, password] of slots.passwords.entries()) {
    put(password, index === 0 && answers.old !== null ? answers.old : answers.password);
  }
  put(slots.role, answers.role);
  put(slots.code, answers.code);
  if (answers.remember && slots.remember !== null) put(slots.remember.name, slots.remember.value);
  const kept = form.fields.filter(([name]) => !own.has(name));
  const unticked = answers.remember ? null : (slots.remember?.name ?? null);
  const sent = [
    ...kept.filter(([name]) => name !== unticked),
    ...own,
    ...(form.button === null ? [] : [form.button]),
  ];
  return sent.map(([name, value]) => [name, value]);
}
