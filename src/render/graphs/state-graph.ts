import type { StateMap } from '../../core/internal.js';
import { mergedEdges, type Graph } from './graph.js';

/** What somebody can be, and by what they pass from one to the other. */
export function stateGraph({ states, passages }: StateMap, app: string): Graph {
  return {
    title: `The login states of ${app}`,
    nodes: states.map(({ name, isAsGuest }) => ({
      name,
      kind: 'state',
      ...(isAsGuest ? { note: '(a guest to the app)' } : {}),
    })),
    edges: mergedEdges(
      passages.map(({ from, to, by, isTime }) => ({
        from,
        to,
        labels: [by],
        line: isTime ? ('dotted' as const) : ('solid' as const),
      })),
    ),
  };
}
