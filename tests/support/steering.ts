import { writtenFacts, writtenFlags, type SetFacts, type SetFlag } from '../../src/core/steps/administration';
import type { Action } from '../../src/core/steps/all-steps';

/** The form fields by which the stand-in is told what to do. */
export function steeringFields(action: Action): Record<string, string> {
  const { account, roles, password, facts, flags } = action as {
    account?: string;
    roles?: readonly string[];
    password?: string;
    facts?: SetFacts['facts'];
    flags?: SetFlag['flags'];
  };
  return {
    ...(account === undefined ? {} : { account }),
    ...(roles === undefined ? {} : { roles: roles.join(',') }),
    ...(password === undefined ? {} : { password }),
    ...(facts === undefined ? {} : { facts: JSON.stringify(writtenFacts(facts)) }),
    ...(flags === undefined ? {} : { flags: JSON.stringify(writtenFlags(flags)) }),
  };
}
