import type { Method } from '../http/messages.js';
import { readAddress, type Scope } from './text/name-reader.js';
import type { Endpoint } from './policy.js';
import type { Path } from './text/yaml-text.js';

interface RequestText {
  readonly method: Method;
  readonly target: string;
}

/** Reads where a form is sent. */
export function readEndpoint(request: RequestText, at: Path, scope: Scope): Endpoint {
  return { at, method: request.method, path: readAddress(request.target, at, scope) };
}
