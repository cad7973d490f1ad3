import { Graphviz } from '@hpcc-js/wasm-graphviz';

/**
 * Lays a graph out, by Graphviz compiled to WebAssembly.
 *
 * @param dot a graph in the DOT language
 * @returns an `svg` element
 */
export async function svgOfDot(dot: string): Promise<string> {
  const graphviz = await Graphviz.load();
  const svg = graphviz.layout(dot, 'svg', 'dot');
  // Without the declaration and the document type, it can stand in a page too.
  return svg.slice(svg.indexOf('<svg')).replace(/<!--[^]*?-->\n?/g, '');
}
