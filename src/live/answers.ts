import type { StepResult } from '../core/internal.js';
import type { Deeds } from './deeds.js';
import type { Answers } from './form-filling.js';
import type { Site } from './site.js';

/** What somebody fills in in a step, with the names and passwords that the app knows; null where nothing is filled in. */
export async function answersFor(
  site: Pick<Site, 'config' | 'stage'>,
  deeds: Deeds,
  { step: { action, browser } }: StepResult,
): Promise<Answers | null> {
  const { policy } = site.stage.app;
  switch (action.verb) {
    case 'login': {
      deeds.logins.set(browser, action.account);
      const own = policy.accounts.get(action.account)?.password;
      const isOwn = action.password === own && !deeds.hasNewPassword(action.account);
      return {
        ...NOTHING,
        name: deeds.nameOf(action.account),
        password: isOwn ? deeds.passwordOf(action.account, action.password) : action.password,
        remember: action.remember,
        role: action.role,
      };
    }
    case 'sign-up':
      deeds.logins.set(browser, action.account);
      return { ...NOTHING, name: deeds.nameOf(action.account), password: action.password };
    case 'code': {
      if (action.given === 'wrong') return { ...NOTHING, code: 'wrong' };
      return { ...NOTHING, code: await deeds.codeFor(deeds.logins.get(browser) ?? '') };
    }
    case 'change-password': {
      const account = deeds.logins.get(browser) ?? '';
      const own = policy.accounts.get(account)?.password ?? '';
      const old = action.old ?? deeds.passwordOf(account, own);
      deeds.choose(account, action.password);
      return {
        ...NOTHING,
        old: policy.password?.change?.asksOld === false ? null : old,
        password: action.password,
      };
    }
    case 'ask-reset':
    case 'ask-link':
      return { ...NOTHING, name: deeds.nameOf(action.account) };
    case 'reset':
      deeds.choose(action.account, action.password);
      return { ...NOTHING, password: action.password };
    default:
      return null;
  }
}

const NOTHING: Answers = {
  name: null,
  password: null,
  remember: false,
  role: null,
  code: null,
  old: null,
};
