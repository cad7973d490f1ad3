import type { Zone } from './zone.js';

/** The ages at which situations were met already, by the key of the situation. */
export class Met {
  private readonly zones = new Map<string, Zone[]>();

  /** Whether a situation was not met yet at all its ages; it has been from now on. */
  isNew(key: string, zone: Zone): boolean {
    const known = this.zones.get(key);
    if (known === undefined) this.zones.set(key, [zone]);
    else if (known.some((each) => each.includes(zone))) return false;
    else known.push(zone);
    return true;
  }
}

/**
 * The same, but the ages of a situation that was met at many are taken together and let grow as far as they go, others
 * included, so that an end is come to.
 */
export class MetTogether {
  private readonly zones = new Map<string, { all: Zone[]; isTogether: boolean }>();

  /** @param most at so many ages each situation goes on apart */
  constructor(private readonly most: number) {}

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
