// Step 5 of docs/proof-method.md: cover and search.

import type { Zone } from '../time/zone.js';

/** The ages at which situations were met already, by the key of the situation. */
export class Met {
  private readonly zones = new Map<string, { all: Zone[]; isTogether: boolean }>();

  /**
   * @param most at so many ages each situation goes on apart; from then on they are taken together and let grow as far as they go,
   *   others included, so that an end is come to
   */
  constructor(private readonly most = Number.POSITIVE_INFINITY) {}

  /** Whether a situation was not met yet at all its ages; it has been from now on. */
  isNew(key: string, zone: Zone): boolean {
    return this.meet(key, zone) !== null;
  }

  /** The ages at which to go on from a situation; null where it was met already at all its ages. */
  meet(key: string, zone: Zone): Zone | null {
    const known = this.zones.get(key);
    if (known === undefined) {
      this.zones.set(key, { all: [zone], isTogether: false });
      return zone;
    }
    if (known.all.some((each) => each.includes(zone))) return null;
    if (!known.isTogether && known.all.length < this.most) {
      known.all.push(zone);
      return zone;
    }
    const wide = known.all.reduceRight((all, each) => each.joined(all, known.isTogether), zone);
    known.all = [wide];
    known.isTogether = true;
    return wide;
  }
}
