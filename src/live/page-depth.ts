/** Deeper than any page that is made for people; browsers flatten what lies deeper than some hundred elements, too. */
const DEEPEST = 1_000;

/** Elements that have no content (HTML §13.1.2). */
const VOID = new Set('area base br col embed hr img input link meta source track wbr'.split(' '));
/** Elements that the next one of their kind ends, so that pages leave their end tags out (HTML §13.1.2.4). */
const ENDED_BY_OTHERS = new Set(
  'p li dt dd option optgroup tr td th thead tbody tfoot colgroup caption rb rt rtc rp html head body'.split(
    ' ',
  ),
);
/** Elements in which a tag is text. */
const OF_TEXT = new Set('script style textarea title noscript iframe xmp noembed noframes'.split(' '));
const NAME = /(\/?)([a-z][^\s/>]{0,100})/iy;

/**
 * A page up to where it nests deeper than any that is made for people: reading such a one takes time by the square of its depth.
 *
 * @param html as it came; what is no HTML stays as it is
 */
export function cutAtDepth(html: string): string {
  const open = new Map<string, number>();
  let depth = 0;
  for (let at = html.indexOf('<'); at >= 0; at = html.indexOf('<', at)) {
    const begin = at;
    const [, slash = '', name = ''] = nameAt(html, at + 1);
    at = ended(html, at, name, slash);
    if (at < 0) return html;
    const before = open.get(name) ?? 0;
    if (slash === '/') {
      open.set(name, Math.max(0, before - 1));
      depth -= before > 0 ? 1 : 0;
    } else if (name !== '' && counts(name, html[at - 1] === '/', open)) {
      open.set(name, before + 1);
      depth += 1;
      if (depth > DEEPEST) return html.slice(0, begin);
    }
  }
  return html;
}

/** Of a tag whether it is an end tag, and its name in small letters; empty where none begins there. */
function nameAt(html: string, at: number): readonly string[] {
  NAME.lastIndex = at;
  return NAME.exec(html)?.map((each) => each.toLowerCase()) ?? [];
}

/** Where a tag ends, a comment, or what holds text alone; -1 where it never does. */
function ended(html: string, at: number, name: string, slash: string): number {
  if (html.startsWith('<!--', at)) return html.indexOf('-->', at);
  if (name === '') return at + 1;
  const end = html.indexOf('>', at);
  if (end < 0 || slash === '/' || !OF_TEXT.has(name)) return end;
  TEXT_END[name] ??= new RegExp(`</${name}`, 'gi');
  TEXT_END[name].lastIndex = end;
  return TEXT_END[name].exec(html)?.index ?? -1;
}

const TEXT_END: Record<string, RegExp> = {};

/** In drawings and formulas nothing is ended by others, and a slash ends a tag. */
function counts(name: string, hasSlash: boolean, open: ReadonlyMap<string, number>): boolean {
  const isForeign = (open.get('svg') ?? 0) + (open.get('math') ?? 0) > 0;
  return isForeign ? !hasSlash : !VOID.has(name) && !ENDED_BY_OTHERS.has(name);
}
