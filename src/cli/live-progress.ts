import type { RunProgress } from '../live/index.js';
import { count } from '../render/style.js';
import type { OutputOptions } from './output.js';
import type { Terminal } from './terminal.js';

/** How often the line is written anew, in milliseconds. */
const EVERY = 100;

/** Shows on a terminal how far a run is, on one line that is gone afterwards. */
export function liveProgress(
  { err }: Terminal,
  { quiet }: OutputOptions,
): { readonly progress: (state: RunProgress) => void; readonly end: () => void } {
  if (!err.isTTY || quiet === true) return { progress: () => undefined, end: () => undefined };
  let last = 0;
  return {
    progress({ walks, all, steps, differing }) {
      if (Date.now() - last < EVERY) return;
      last = Date.now();
      const line = `${walks} of ${count(all, 'walk')} done, ${count(steps, 'step')}, ${differing} differ; Ctrl-C ends`;
      err.write(`\r\u001b[K${line.slice(0, Math.max(20, err.columns - 1))}`);
    },
    end() {
      err.write('\r\u001b[K');
    },
  };
}
