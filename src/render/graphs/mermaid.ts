import { inert } from '../style.js';
import { labelLines, type Graph, type GraphEdge, type NodeKind } from './graph.js';

const SHAPES: Readonly<Record<NodeKind, readonly [open: string, close: string]>> = {
  person: ['([', '])'],
  page: ['[', ']'],
  refusal: ['{{', '}}'],
  state: ['(', ')'],
};

const LINES: Readonly<Record<GraphEdge['line'], string>> = { solid: '-->', dashed: '-.->', dotted: '-.->' };

/** A graph as a Mermaid flowchart. */
export function mermaidOf({ title, nodes, edges }: Graph): string {
  const ids = new Map(nodes.map(({ name }, at) => [name, `n${at}`]));
  return [
    '---',
    `title: ${titleOf(title)}`,
    '---',
    'flowchart LR',
    ...nodes.map(({ name, kind, note }, at) => {
      const [open, close] = SHAPES[kind];
      return `  n${at}${open}"${[name, ...(note === undefined ? [] : [note])].map(escaped).join('<br>')}"${close}`;
    }),
    ...edges.map(({ from, to, labels, line }) => {
      const label = labelLines(labels).map(escaped).join('<br>');
      return `  ${ids.get(from) ?? ''} ${LINES[line]}|"${label}"| ${ids.get(to) ?? ''}`;
    }),
    '',
  ].join('\n');
}

/** A text of YAML, in which nothing looks like markup to whoever has it in a page. */
function titleOf(title: string): string {
  const code = (sign: string) => `\\u00${sign.charCodeAt(0).toString(16)}`;
  return JSON.stringify(inert(title)).replace(/[<>&]/g, code);
}

/** Mermaid reads HTML and Markdown in labels: all but letters, digits and plain signs are written by their code points. */
function escaped(text: string): string {
  return inert(text).replace(/[^\p{L}\p{N} /:.,_()-]/gu, (sign) => `#${sign.codePointAt(0) ?? 0};`);
}
