import type { Landing } from '../../core/internal.js';
import { mergedEdges, type Graph, type GraphNode } from './graph.js';

const WORDS: Readonly<Record<Landing['way'], string>> = {
  login: 'login',
  'sign-up': 'sign-up',
  'the login page again': 'login page again',
  'sent on': 'sent on',
  refusal: 'refused',
  logout: 'logout',
  barrier: 'stopped',
};

/** Where everybody lands, as a graph from people to pages. */
export function landingGraph(all: readonly Landing[], app: string): Graph {
  const landings = stoppedTogether(all);
  const people = [...new Set(landings.map(({ who }) => who))];
  const targets = [...new Set(landings.map(({ to }) => to))].sort();
  const nodes = [
    ...people.map((name): GraphNode => ({ name: personName(name), kind: 'person' })),
    ...targets.map((name): GraphNode => ({ name, kind: name.startsWith('/') ? 'page' : 'refusal' })),
  ];
  const edges = landings.map(({ who, way, from, to }) => ({
    from: personName(who),
    to,
    labels: [way === 'login' && from !== null ? `login at ${from}` : WORDS[way]],
    line: way === 'refusal' || way === 'barrier' ? ('dashed' as const) : ('solid' as const),
  }));
  return {
    title: `Where each role of ${app} lands`,
    nodes,
    edges: mergedEdges(edges),
  };
}

/** Whoever a barrier stops alike is one: `guest, clerk closed-on` for `guest closed-on` and `clerk closed-on`. */
function stoppedTogether(landings: readonly Landing[]): Landing[] {
  const together: Landing[] = [];
  for (const each of landings) {
    const [name, state] = partsOf(each.who);
    const at = together.findIndex(
      ({ who, way, to }) => way === 'barrier' && to === each.to && partsOf(who)[1] === state,
    );
    const known = each.way === 'barrier' ? together[at] : undefined;
    if (known === undefined) together.push(each);
    else together[at] = { ...known, who: `${partsOf(known.who)[0]}, ${name} ${state}` };
  }
  return together;
}

/** The name of somebody and what makes a barrier stop them. */
function partsOf(who: string): readonly [string, string] {
  const end = who.lastIndexOf(' ');
  return [who.slice(0, end), who.slice(end + 1)];
}

/** A role may be called as a page is. */
function personName(who: string): string {
  return who.startsWith('/') || /^\d+$/.test(who) ? `role ${who}` : who;
}
