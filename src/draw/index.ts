// Pictures: graphs by Graphviz, charts by Vega, PNG by resvg, each loaded by whoever draws.
export { gridSvg } from './charts/grid.js';
export { lanesSvg } from './charts/lanes.js';
export { livesSvg } from './charts/lives.js';
export { svgOfDot } from './graphviz.js';
export { pngOfSvg } from './png.js';
