import { load } from 'cheerio';
import type { LiveConfig, Path } from '../core/internal.js';

/** The selectors of a live.yaml that cannot be read, with where they stand. */
export function badSelectors(config: LiveConfig): { readonly selector: string; readonly at: Path }[] {
  const { who, menu, shownWhen, parts, logout, forms } = config;
  const all: [string | null, Path][] = [
    ...(who?.by === 'element'
      ? ([
          [who.selector, ['who', 'element']],
          [who.signedInWhere, ['who', 'signed-in-where']],
        ] as [string | null, Path][])
      : []),
    [menu, ['menu']],
    ...[...shownWhen].map(([page, { selector }]): [string, Path] => [
      selector,
      ['pages', page, 'shown-when'],
    ]),
    ...[...parts].flatMap(([page, own]) =>
      [...own].map(([name, { selector }]): [string, Path] => [selector, ['pages', page, 'parts', name]]),
    ),
    ...(logout === null || logout.by === 'request'
      ? []
      : [[logout.selector, ['logout', logout.by]] as [string, Path]]),
    ...Object.entries(forms).map(([name, { form }]): [string | null, Path] => [form, [name, 'form']]),
  ];
  const page = load('<html></html>');
  return all.flatMap(([selector, at]) =>
    selector === null || isSelector(page, selector) ? [] : [{ selector, at }],
  );
}

function isSelector(page: ReturnType<typeof load>, selector: string): boolean {
  try {
    page(selector);
    return !/^\s*</.test(selector);
  } catch {
    return false;
  }
}
