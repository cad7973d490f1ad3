import type { PathRules } from './path-rules.js';

/**
 * Other spellings of a path that an app of some routing takes for another address than a careful one would, or takes at all: with a
 * slash at the end or twice, with an escape, with an encoded slash. None for an app that reads paths carefully throughout.
 */
export function variantsOf(path: string, routing: PathRules): string[] {
  const variants: string[] = [];
  if (path !== '/' && routing.trailingSlash !== 'same') variants.push(`${path}/`);
  const inner = path.indexOf('/', 1);
  if (routing.emptySegments === 'kept') {
    variants.push(inner < 0 ? `${path}//` : `${path.slice(0, inner)}/${path.slice(inner)}`);
  }
  if (!routing.decodes) variants.push(path.replace(/[A-Za-z0-9]/, escapeOf));
  if (routing.encodedSlash === 'kept') variants.push(`${path === '/' ? '' : path}%2Fx`);
  return variants.filter((each) => each !== path);
}

function escapeOf(letter: string): string {
  return `%${letter.charCodeAt(0).toString(16).toUpperCase()}`;
}
