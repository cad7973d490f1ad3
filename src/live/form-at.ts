import type { FormName, StepResult } from '../core/internal.js';

/** A form, and the address at which it stands where that is not always the same. */
export interface FormAt {
  readonly form: FormName;
  readonly at: string | null;
}

/** The forms in which somebody chooses a password. */
export const CHOOSES: ReadonlySet<FormName> = new Set<FormName>(['sign-up', 'reset', 'change-password']);

/** The form of the login that was tried in a step. */
export function loginFormIn({ played }: StepResult): FormName {
  const tried = played.exchanges.find(({ route }) => route?.task === 'login');
  return tried?.route?.login?.form ?? 'login';
}
