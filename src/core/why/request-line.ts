import { encodedReference } from '../http/address.js';
import { METHODS, type Method } from '../http/messages.js';

/** Reads `GET /ledger`, or `/ledger` for short; a sentence on what is wrong with anything else. */
export function readRequestLine(
  text: string,
): { readonly method: Method; readonly address: string } | string {
  const [, written, address] = /^(?:([A-Za-z]+)\s+)?(\/\S*)$/.exec(text.trim()) ?? [];
  if (address === undefined) return `${text} is no request`;
  if (address.includes('#')) return `${text} has a fragment, which is never sent`;
  const method = METHODS.find((each) => each === (written ?? 'GET').toUpperCase());
  return method === undefined
    ? `${written ?? ''} is no request method`
    : { method, address: encodedReference(address) };
}
