import type { Credential } from '../vocabulary/credentials.js';
import { access } from './access.js';
import type { CredentialKind } from './credential-kind.js';
import { refresh } from './refresh.js';
import { remember } from './remember.js';
import { session } from './session.js';

/** Every kind of credential; the compiler names one that is missing. */
export const CREDENTIAL_KINDS: Readonly<Record<Credential, CredentialKind>> = {
  session,
  access,
  refresh,
  remember,
};
