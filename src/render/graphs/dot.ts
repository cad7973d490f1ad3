import { inert } from '../style.js';
import { labelLines, type Graph, type GraphEdge, type NodeKind } from './graph.js';

/** Sans serif letters that are on every system, of one width. */
export const FONT = 'Arial';

const LOOKS: Readonly<Record<NodeKind, string>> = {
  person: 'shape=box style="rounded,filled" fillcolor="#e6f1f8" color="#0072b2"',
  page: 'shape=box style="filled" fillcolor="#ffffff" color="#333333"',
  refusal: 'shape=octagon style="dashed,filled" fillcolor="#fdf1e3" color="#a04a00"',
  state: 'shape=box style="rounded,filled" fillcolor="#ffffff" color="#333333"',
};

/**
 * A graph in the DOT language of Graphviz.
 *
 * @param prefix what the ids of its parts begin with, where several pictures stand on one page
 */
export function dotOf({ title, nodes, edges }: Graph, prefix = 'g'): string {
  const lines = [
    `digraph ${quoted(title)} {`,
    `  graph [id=${quoted(prefix)} rankdir=LR bgcolor="transparent" fontname="${FONT}" nodesep=0.3 ranksep=0.45 pad=0.2]`,
    `  node [fontname="${FONT}" fontsize=12 margin="0.14,0.08" height=0.3]`,
    `  edge [fontname="${FONT}" fontsize=10 color="#555555" arrowsize=0.7]`,
    ...nodes.map(({ name, kind, note }, at) => {
      const id = quoted(`${prefix}-n${at}`);
      return `  ${quoted(name)} [label="${[name, ...(note === undefined ? [] : [note])].map(escaped).join('\\n')}" id=${id} class="${kind}" ${LOOKS[kind]}]`;
    }),
    ...edges.map(
      (edge, at) =>
        `  ${quoted(edge.from)} -> ${quoted(edge.to)} [${attributes(edge)} id=${quoted(`${prefix}-e${at}`)} class="way"]`,
    ),
    '}',
    '',
  ];
  return lines.join('\n');
}

function attributes({ labels, line }: GraphEdge): string {
  const label = labelLines(labels).map(escaped).join('\\n');
  return `label="${label}" style=${line}`;
}

function quoted(text: string): string {
  return `"${escaped(text)}"`;
}

/** Text as it is: a backslash begins nothing, a quote ends nothing, and no entity is read. */
function escaped(text: string): string {
  return inert(text).replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('&', '&amp;');
}
