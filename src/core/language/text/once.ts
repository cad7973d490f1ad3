/** Something that is made when it is first asked for, and then kept: most of what could be made is not asked for in a run. */
export function once<Made>(make: () => Made): () => Made {
  let made: { readonly it: Made } | null = null;
  return () => (made ??= { it: make() }).it;
}
