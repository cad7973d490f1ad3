import { SaxesParser } from 'saxes';
import type { DescribedRequest, Description, Diagnostic, Source } from '../core/internal.js';
import { badSource } from './bad-source.js';
import { patternOfTemplate } from './template.js';

const REMEDY = 'name a sitemap as of https://www.sitemaps.org: a urlset of url elements, each with a loc';

/** Reads a sitemap (https://www.sitemaps.org/protocol.html): pages that are for everyone. */
export function readSitemap(source: Source): Description | Diagnostic {
  const declared = source.text.search(/<!(?:DOCTYPE|ENTITY)/i);
  if (declared >= 0) {
    return badSource(source, declared, {
      problem: 'a sitemap declares no types and no entities',
      remedy: REMEDY,
    });
  }
  const read = readXml(source.text);
  if ('fault' in read) {
    return badSource(source, read.at, { problem: `not valid XML: ${read.fault}`, remedy: REMEDY });
  }
  const { locations, root } = read;
  if (root === 'sitemapindex') {
    return badSource(source, 0, {
      problem: 'this is an index of sitemaps, and has no page itself',
      remedy: 'name the sitemaps that it lists, each with --sitemap',
    });
  }
  const urls = locations.flatMap((text) => urlOf(text) ?? []);
  const [first] = urls;
  if (first === undefined) {
    return badSource(source, 0, { problem: 'it lists no address', remedy: REMEDY });
  }
  const own = urls.filter(({ origin }) => origin === first.origin);
  const found = new Map<string, DescribedRequest>();
  let lost = locations.length - own.length;
  for (const { pathname } of own) {
    const template = patternOfTemplate(pathname);
    if (template === null) lost += 1;
    else found.set(template.pattern, requestFor(template.pattern));
  }
  const notes =
    lost === 0
      ? []
      : [`${source.file}: ${lost} addresses of other sites, or that cannot be read, are left out`];
  return {
    from: source.file,
    app: null,
    origin: first.origin,
    requests: [...found.values()],
    schemes: [],
    notes,
  };
}

function requestFor(pattern: string): DescribedRequest {
  return {
    pattern,
    method: 'GET',
    kind: 'page',
    access: 'everyone',
    status: null,
    guess: null,
    takesPassword: false,
  };
}

function urlOf(text: string): URL | null {
  try {
    const url = new URL(text.trim());
    return /^https?:$/.test(url.protocol) ? url : null;
  } catch {
    return null;
  }
}

/** The root of a text in XML, and what stands in the `loc` elements of its `url` elements. */
function readXml(
  text: string,
):
  | { readonly root: string; readonly locations: readonly string[] }
  | { readonly fault: string; readonly at: number } {
  const parser = new SaxesParser();
  const open: string[] = [];
  const locations: string[] = [];
  let root = '';
  let said = '';
  const faults: { readonly fault: string; readonly at: number }[] = [];
  parser.on('error', ({ message }) => {
    faults.push({ fault: message.replace(/^[\d:]+\s*/, ''), at: parser.position });
  });
  parser.on('opentag', ({ name }) => {
    const local = name.replace(/^.*:/, '');
    if (open.length === 0) root = local;
    open.push(local);
    said = '';
  });
  parser.on('text', (part) => (said += part));
  parser.on('cdata', (part) => (said += part));
  parser.on('closetag', () => {
    // Pictures and videos of a page have addresses of their own.
    if (open.join('/') === 'urlset/url/loc') locations.push(said);
    open.pop();
  });
  parser.write(text).close();
  return faults[0] ?? { root, locations };
}
