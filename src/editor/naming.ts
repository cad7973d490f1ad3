import { isMap, isScalar } from 'yaml';
import type { Path } from '../core/internal.js';
import { halfWritten } from './half-written.js';

/** What kind of name a value is. */
export type NameKind = 'role' | 'account' | 'page';

const ROLE_KEYS = /^(?:for|read|write|any|all|none|role|roles|only|takes|of|by|stops|given|set-roles)$/;
const PAGE_KEYS =
  /^(?:to|otherwise|lands|page|wrong|sends|lets|reach|visit|after-write|failed-refresh|follow|via|reaches|shows|hides|path)$/;
const ACCOUNT_KEYS =
  /^(?:login|as|seen-as|acted-by|suspend|delete-account|rotate-key|revoke-key|account|knows)$/;

/**
 * What kind of name is written at a path, in a policy or in walks.
 *
 * @returns null for what is no name
 */
export function nameKindAt(path: Path, isKey: boolean): NameKind | null {
  const keys = path.filter((each) => typeof each === 'string');
  const [section] = keys;
  const last = keys.at(-1) ?? '';
  if (isKey) {
    if (keys.length !== 2) return null;
    if (section === 'roles') return 'role';
    return section === 'accounts' ? 'account' : section === 'pages' ? 'page' : null;
  }
  // The list of a role has the roles that it includes; methods of a page have audiences.
  if (section === 'roles' || keys.at(-2) === 'methods') return 'role';
  if (section === 'walks' && ACCOUNT_KEYS.test(last)) return 'account';
  if (ROLE_KEYS.test(last) && !(section === 'walks' && last === 'by')) return 'role';
  return PAGE_KEYS.test(last) ? 'page' : null;
}

/** Where each name stands that a policy defines. */
export type DefinedNames = Readonly<
  Record<NameKind, ReadonlyMap<string, readonly [start: number, end: number]>>
>;

const SECTIONS = { role: 'roles', account: 'accounts', page: 'pages' } as const;

/** The names that the text of a policy defines, also while it is half written. */
export function namesIn(text: string): DefinedNames {
  const document = halfWritten(text);
  const keys = (kind: NameKind) => {
    const section = isMap(document?.contents) ? document.get(SECTIONS[kind], true) : null;
    const items = isMap(section) ? section.items : [];
    return new Map(
      items.flatMap(({ key }) => {
        if (!isScalar(key) || typeof key.value !== 'string') return [];
        const [start = 0, end = 0] = key.range ?? [];
        return [[key.value, [start, end] as const] as const];
      }),
    );
  };
  return { role: keys('role'), account: keys('account'), page: keys('page') };
}
