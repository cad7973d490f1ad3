import type { FormName } from '../http/messages.js';
import type { Account, Login, Policy } from '../language/policy.js';

/** Whether a login takes an account, by the roles that it holds. */
export function takes({ takes: roles }: Login, account: Pick<Account, 'roles'>): boolean {
  return roles === null || roles.some((role) => account.roles.has(role));
}

/** The login whose form it is; null for another form. */
export function loginOfForm({ logins }: Pick<Policy, 'logins'>, form: FormName): Login | null {
  return logins.find((each) => each.form === form) ?? null;
}
