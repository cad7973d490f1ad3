/** JSON that keeps maps and sets, for what a page tells its script. */
export function toTaggedJson(value: unknown): string {
  return JSON.stringify(value, (_key, each: unknown) => {
    if (each instanceof Map) return { map: [...(each as Map<unknown, unknown>)] };
    return each instanceof Set ? { set: [...(each as Set<unknown>)] } : each;
  });
}

/** Reads what `toTaggedJson` wrote. The caller says what it is: nobody but the stand-in writes it. */
export function fromTaggedJson(text: string): unknown {
  return JSON.parse(text, (_key, each: unknown) => {
    if (typeof each !== 'object' || each === null || Array.isArray(each)) return each;
    const keys = Object.keys(each);
    if (keys.length !== 1) return each;
    const { map, set } = each as { map?: [unknown, unknown][]; set?: unknown[] };
    if (Array.isArray(map)) return new Map(map);
    return Array.isArray(set) ? new Set(set) : each;
  });
}
