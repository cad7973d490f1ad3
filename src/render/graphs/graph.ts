/** A picture of things and what leads from one to another, whatever draws it. */
export interface Graph {
  readonly title: string;
  readonly nodes: readonly GraphNode[];
  readonly edges: readonly GraphEdge[];
}

/** People are round, pages have corners, what refuses is dashed; states are round too. */
export type NodeKind = 'person' | 'page' | 'refusal' | 'state';

export interface GraphNode {
  readonly name: string;
  readonly kind: NodeKind;
  /** A second line. */
  readonly note?: string;
}

export interface GraphEdge {
  readonly from: string;
  readonly to: string;
  /** One a line. */
  readonly labels: readonly string[];
  /** Dashed: nobody wants to go that way. Dotted: time alone leads there. */
  readonly line: 'solid' | 'dashed' | 'dotted';
}

/** Labels in few lines. */
export function labelLines(labels: readonly string[]): string[] {
  const lines: string[] = [];
  for (const label of labels) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + label.length < 24) lines[lines.length - 1] = `${last}, ${label}`;
    else lines.push(label);
  }
  return lines;
}

/** Edges between the same two things in one, with all their labels. */
export function mergedEdges(edges: readonly GraphEdge[]): GraphEdge[] {
  const merged = new Map<string, GraphEdge>();
  for (const edge of edges) {
    const key = JSON.stringify([edge.from, edge.to, edge.line]);
    const known = merged.get(key);
    const labels = [...new Set([...(known?.labels ?? []), ...edge.labels])];
    merged.set(key, { ...edge, labels });
  }
  return [...merged.values()];
}
