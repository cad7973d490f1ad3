import { rememberFault } from '../app/remember.js';
import { NO_LOGIN } from '../app/app.js';
import { isActive, type CredentialKind } from './credential-kind.js';

/** The cookie by which a visitor is known again. */
export const remember: CredentialKind = {
  name: 'remember',
  recorded: ({ remembered }) => remembered.length,
  ownerOf: ({ remembered }, index) => remembered[index]?.account,
  loginOf: ({ remembered }, index) => remembered[index]?.login ?? NO_LOGIN,
  getsMore: true,
  gotFor: () => null,
  recordsOf({ remembered }, index) {
    const record = remembered[index];
    return record === undefined ? [] : [`series ${record.login}`];
  },
  place: ({ remember: rules }) =>
    rules === null ? null : { by: 'cookie', names: rules.cookie, isToken: false },
  counts: (app, state, index, clock) =>
    rememberFault(app, state, index, clock) === null && isActive(state, state.remembered[index]?.account),
  faultOf: rememberFault,
  limits: [
    {
      name: 'life',
      deadline: 'remember-expiry',
      life: ({ remember: rules }) => rules?.life ?? null,
      since: (_, { remembered }, index) => remembered[index]?.issuedAt,
    },
  ],
  longest: () => null,
};
