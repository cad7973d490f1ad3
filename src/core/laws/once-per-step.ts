import type { View } from './law.js';

/** Something that is worked out of a step once, however many laws ask for it: all are asked about one step before the next. */
export function oncePerStep<Made>(make: (view: View) => Made): (view: View) => Made {
  let last: { readonly view: View; readonly made: Made } | null = null;
  return (view) => {
    if (last?.view !== view) last = { view, made: make(view) };
    return last.made;
  };
}
