import {
  isMethod,
  METHODS,
  type DescribedRequest,
  type Description,
  type Diagnostic,
  type Method,
  type Source,
} from '../core/internal.js';
import { badSource } from './bad-source.js';
import { patternOfTemplate } from './template.js';

/** Reads a list of routes, one a line: `GET /ledger`, `GET|POST /berths/:id`, `ANY /files/*rest`; `#` starts a comment. */
export function readRoutes(source: Source): Description | Diagnostic {
  const requests: DescribedRequest[] = [];
  let at = 0;
  for (const line of source.text.split('\n')) {
    const text = line
      .replace(/^\uFEFF/, '')
      .replace(/(?:^|\s)#.*$/, '')
      .trim();
    const [, methods = '', path = ''] =
      /^(?:([A-Za-z]+(?:[|,][A-Za-z]+)*)\s+)?(\/\S*)(?:\s.*)?$/.exec(text) ?? [];
    const template = path === '' ? null : patternOfTemplate(path);
    const read = methodsIn(methods);
    if (text !== '' && (template === null || read === null)) {
      return badSource(source, at, {
        problem: `this line is no route: ${text.slice(0, 60)}`,
        remedy: 'write a method and a path, such as GET /ledger or GET|POST /berths/:id',
      });
    }
    if (template !== null && read !== null) {
      for (const method of read) requests.push(requestOf(template, method));
    }
    at += line.length + 1;
  }
  if (requests.length === 0) {
    return badSource(source, 0, {
      problem: 'it has no route',
      remedy: 'write one a line, such as GET /ledger',
    });
  }
  return { from: source.file, app: null, origin: null, requests, schemes: [], notes: [] };
}

function methodsIn(text: string): readonly Method[] | null {
  if (text === '') return ['GET'];
  if (/^(?:any|all)$/i.test(text)) return METHODS.filter((method) => !['HEAD', 'OPTIONS'].includes(method));
  const names = text.toUpperCase().split(/[|,]/);
  return names.every(isMethod) ? names.filter(isMethod) : null;
}

function requestOf(
  { pattern, guess }: { readonly pattern: string; readonly guess: string | null },
  method: Method,
): DescribedRequest {
  return {
    pattern,
    method,
    kind: /^\/(?:api|graphql|rest|v\d+)(?:\/|$)/.test(pattern) ? 'api' : 'page',
    access: null,
    status: null,
    guess: guess ?? 'the list does not say whom it is for',
    takesPassword: false,
  };
}
