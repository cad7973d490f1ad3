import { load } from 'cheerio';

/** Something on a page that could tell who one is. */
export interface Sign {
  readonly selector: string;
  /** The attribute that says it; null: the text. */
  readonly attribute: string | null;
  readonly value: string;
}

/** Longer texts name nobody. */
const LONGEST = 80;
const LONGEST_SELECTOR = 3;

/** All that a page says in texts and data attributes, each by a selector that finds it there first. */
export function signsOn(html: string): Sign[] {
  const $ = load(html);
  const signs: Sign[] = [];
  for (const each of $('body *').toArray()) {
    const element = $(each);
    if (element.is('script, style, option, input, template')) continue;
    const selector = selectorOf($, each);
    if (selector === null) continue;
    const text = wordsIn(element.text());
    const isLeaf = element.children().length === 0;
    if (isLeaf && text !== '' && text.length <= LONGEST) {
      signs.push({ selector, attribute: null, value: text });
    }
    for (const [name, value] of Object.entries(element.attr() ?? {})) {
      const isTelling = name.startsWith('data-') && value !== '' && value.length <= LONGEST;
      if (isTelling) signs.push({ selector, attribute: name, value });
    }
  }
  return signs;
}

/** What a sign says on another page; null where it is not there. */
export function valueOn(
  html: string,
  { selector, attribute }: Pick<Sign, 'selector' | 'attribute'>,
): string | null {
  const found = load(html)(selector).first();
  if (found.length === 0) return null;
  return attribute === null ? wordsIn(found.text()) : (found.attr(attribute) ?? null);
}

/** What logs out on a page, by its words or where it leads; null for nothing. */
export function logoutOn(
  html: string,
): { readonly by: 'form' | 'link'; readonly selector: string; readonly leads: string } | null {
  const $ = load(html);
  const words = /\b(?:log|sign)[ -_]?(?:out|off)\b/i;
  for (const each of $('form').toArray()) {
    const form = $(each);
    const action = form.attr('action') ?? '';
    if (
      !words.test(`${action} ${wordsIn(form.text())} ${form.find('input[type=submit]').attr('value') ?? ''}`)
    ) {
      continue;
    }
    if (form.find('input[type=password]').length > 0) continue;
    const selector = action === '' ? selectorOf($, each) : `form[action=${quoted(action)}]`;
    if (selector !== null) {
      return {
        by: 'form',
        selector,
        leads:
          action === ''
            ? 'a form that script sends'
            : `${(form.attr('method') ?? 'get').toUpperCase()} ${action}`,
      };
    }
  }
  for (const each of $('a[href]').toArray()) {
    const link = $(each);
    const href = link.attr('href') ?? '';
    if (words.test(`${href} ${wordsIn(link.text())}`)) {
      return { by: 'link', selector: `a[href=${quoted(href)}]`, leads: `GET ${href}` };
    }
  }
  return null;
}

type Api = ReturnType<typeof load>;
type Node = ReturnType<Api>[number];

/** A short selector that finds an element first; null where only a long one would. */
function selectorOf($: Api, node: Node): string | null {
  let selector = '';
  let found: string | null = null;
  let here = $(node);
  for (let depth = 0; depth < LONGEST_SELECTOR && here.length > 0 && !here.is('html, body'); depth++) {
    const own = ownSelector(here);
    selector = selector === '' ? own : `${own} > ${selector}`;
    if ($(selector).first().is(node)) {
      found ??= selector;
      // A bare tag may stand for something else on the next page.
      if (/[#.[]/.test(selector)) return selector;
    }
    here = here.parent();
  }
  return found;
}

function ownSelector(element: ReturnType<Api>): string {
  const id = element.attr('id');
  const tag = element.prop('tagName')?.toLowerCase() ?? '*';
  if (id !== undefined && /^[A-Za-z][\w-]*$/.test(id)) return `#${id}`;
  const classes = (element.attr('class') ?? '').split(/\s+/).filter((name) => /^[A-Za-z][\w-]*$/.test(name));
  if (classes.length > 0) {
    return (
      tag +
      classes
        .slice(0, 2)
        .map((name) => `.${name}`)
        .join('')
    );
  }
  const [data] = Object.entries(element.attr() ?? {}).filter(
    ([name, value]) => name.startsWith('data-') && /^[\w-]+$/.test(value),
  );
  return tag === 'form' && data !== undefined ? `form[${data[0]}=${quoted(data[1])}]` : tag;
}

function quoted(text: string): string {
  return `"${text.replace(/["\\]/g, '\\$&')}"`;
}

function wordsIn(text: string): string {
  return text.replace(/\s+/g, ' ').trim();
}
