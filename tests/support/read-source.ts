import type { Description, Diagnostic, Recording } from '../../src/core/internal';
import { positionOf, sourceOf } from '../../src/core/language/text/source';
import { readHar } from '../../src/sources/har';
import { readOpenApi } from '../../src/sources/openapi';
import { readRoutes } from '../../src/sources/routes';
import { readSitemap } from '../../src/sources/sitemap';

/** Reads the text of a source. */
export type Reader = (text: string) => Description | Recording | Diagnostic;
/** The readers of all kinds of sources. */
export const READERS = {
  har: (text) => readHar(sourceOf('a.har', text), 'ines'),
  openapi: (text) => readOpenApi(sourceOf('a.yaml', text)),
  routes: (text) => readRoutes(sourceOf('a.txt', text)),
  sitemap: (text) => readSitemap(sourceOf('a.xml', text)),
} satisfies Record<string, Reader>;

/** A source that can be used; whatever is wrong with it fails the test. */
export function good<Found extends object>(found: Found | Diagnostic): Found {
  if ('severity' in found) throw new Error(found.message);
  return found;
}

/** What is wrong with a source: where, what, and what to do. */
export function fault(found: object): readonly [line: number | null, message: string, hint: string | null] {
  if (!('severity' in found)) throw new Error('it was taken');
  const { place, message, hint } = found as Diagnostic;
  return [place === null ? null : positionOf(place.source, place.start).line, message, hint];
}
