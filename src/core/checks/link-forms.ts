import type { LinkForm, Policy } from '../language/policy.js';

/** A form that has a link sent, and what sentences call the link. */
export interface NamedLinkForm {
  readonly form: LinkForm;
  readonly what: string;
  readonly kind: 'reset' | 'sign-in';
}

/** The forms of a policy that have links sent. */
export function linkFormsOf({ password, linkLogin }: Policy): NamedLinkForm[] {
  const reset = password?.reset ?? null;
  return [
    ...(reset === null ? [] : [{ form: reset, what: 'the link for a new password', kind: 'reset' } as const]),
    ...(linkLogin === null
      ? []
      : [{ form: linkLogin, what: 'the link to log in by', kind: 'sign-in' } as const]),
  ];
}
