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
