import type { Answer } from '../transport.js';
import type { LearntWho, Looker } from './learnt.js';
import { signsOn, valueOn, type Sign } from './looked-at.js';

/** The same page as two people and a guest were given it. */
export interface ThreeViews {
  readonly one: string;
  readonly other: string;
  /** null where a guest is not shown it. */
  readonly guest: string | null;
}

/** Headers that differ between any two answers. */
const FLEETING =
  /^(?:date|set-cookie|etag|content-length|connection|keep-alive|last-modified|age|expires|vary|location|x-request-id|traceparent|report-to|nel|server-timing|content-security-policy|x-runtime|x-response-time)$/;

/** A header that says who one is: it differs between two people, and is missing or other for a guest. */
export function headerOfWho(
  one: Answer,
  other: Answer,
  guest: Answer,
  lookers: readonly [Looker, Looker],
): LearntWho | null {
  const valueIn = ({ headers }: Answer, name: string) => [headers[name] ?? []].flat()[0] ?? null;
  for (const header of Object.keys(one.headers)) {
    if (FLEETING.test(header)) continue;
    const [a, b, nobody] = [valueIn(one, header), valueIn(other, header), valueIn(guest, header)];
    if (a === null || b === null || a === b || nobody === a || nobody === b) continue;
    if (isName(a, lookers[0]) && isName(b, lookers[1])) {
      return { by: 'header', header, says: saysOf(lookers, [a, b], nobody) };
    }
  }
  return null;
}

/** An element that says who one is: it says something else to each, and nothing, or something else again, to a guest. */
export function elementOfWho(
  views: readonly ThreeViews[],
  lookers: readonly [Looker, Looker],
): LearntWho | null {
  const candidates = views.flatMap(({ one, other, guest }) =>
    signsOn(one).flatMap((sign) => {
      const b = valueOn(other, sign);
      const nobody = guest === null ? null : valueOn(guest, sign);
      const isTelling = b !== null && b !== '' && b !== sign.value && nobody !== sign.value && nobody !== b;
      return isTelling ? [{ sign, b, nobody, worth: worthOf(sign, b, lookers) }] : [];
    }),
  );
  const [best] = candidates
    .filter(({ worth }) => worth > 0)
    .sort((x, y) => y.worth - x.worth || x.sign.selector.length - y.sign.selector.length);
  if (best === undefined) return null;
  const { sign, b, nobody } = best;
  return {
    by: 'element',
    selector: sign.selector,
    attribute: sign.attribute,
    says: saysOf(lookers, [sign.value, b], nobody),
  };
}

/** How sure it is that two texts are names: that of the login, a part of it, or words that stand in the same place. */
function worthOf({ value }: Sign, other: string, [one, two]: readonly [Looker, Looker]): number {
  if (value === one.name && other === two.name) return 4;
  if (isName(value, one) && isName(other, two)) return 3;
  return /\d/.test(value) || value.split(' ').length > 4 ? 0 : 1;
}

function isName(text: string, { name, account }: Looker): boolean {
  const lower = text.toLowerCase();
  const [local = name] = name.toLowerCase().split('@');
  return lower.includes(name.toLowerCase()) || lower.includes(account.toLowerCase()) || lower.includes(local);
}

/** Only what is said otherwise than by the account's own name needs to be written. */
function saysOf(
  [one, two]: readonly [Looker, Looker],
  [a, b]: readonly [string, string],
  nobody: string | null,
): Map<string, string> {
  const all: [string, string | null][] = [
    [one.account, a],
    [two.account, b],
    ['guest', nobody],
  ];
  return new Map(
    all.flatMap(([account, text]): [string, string][] =>
      text === null || text === '' || text === account ? [] : [[account, text]],
    ),
  );
}
