import type { Policy } from '../core/internal.js';
import type { Site } from './site.js';

/** A part of a page, and what shows that it is there: a selector, or a text that something in the page has. */
export interface PartToFind {
  readonly name: string;
  readonly selector: string | null;
  readonly text: string | null;
}

/** Whether any page has parts. */
export function hasParts({ pages }: Policy): boolean {
  return pages.some(({ parts }) => parts.length > 0);
}

/** The parts that the policy gives the page at a path, with what shows each. */
export function partsToFind({ stage, config }: Pick<Site, 'stage' | 'config'>, path: string): PartToFind[] {
  const page = stage.app.router.find('GET', path)?.page ?? null;
  const own = config.parts.get(page?.pattern.text ?? '');
  return (page?.parts ?? []).map(({ name, text }) => ({
    name,
    ...(own?.get(name) ?? { selector: null, text }),
  }));
}
