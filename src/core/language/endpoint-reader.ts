import { readAddress, type Scope } from './name-reader.js';
import type { Endpoint } from './policy.js';
import type { PolicyText } from './policy-schema.js';
import type { Path } from './yaml-text.js';

type RequestText = NonNullable<PolicyText['login']>['submit'];

/** Reads where a form is sent. */
export function readEndpoint(request: RequestText, at: Path, scope: Scope): Endpoint {
  return { at, method: request.method, path: readAddress(request.target, at, scope) };
}
