import dagre from '@dagrejs/dagre';
import type { Profile } from '@umbral/core';

export interface TreeNode {
  id: string;
  kind: 'feed' | 'rail';
  name: string;
  volts: string;
  state: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

interface TreeEdge {
  id: string;
  name: string;
  path: string;
  /** Ids of the rails or feeds that it joins. */
  ends: string[];
}

export interface PowerTree {
  nodes: TreeNode[];
  edges: TreeEdge[];
  width: number;
  height: number;
}

const box = { width: 132, height: 42 };

/** The rails of a profile from the feeds to the loads, laid out in layers (dagre, after Gansner et al. 1993). */
export function layOutTree(profile: Profile): PowerTree {
  const graph = new dagre.graphlib.Graph({ multigraph: true });
  graph.setGraph({ rankdir: 'LR', nodesep: 9, ranksep: 46, marginx: 6, marginy: 6 });
  graph.setDefaultEdgeLabel(() => ({}));
  const feeds = feedsOf(profile);
  for (const feed of feeds) graph.setNode(feed.id, { ...box });
  for (const rail of profile.rails) graph.setNode(rail.id, { ...box });
  for (const feed of feeds) graph.setEdge(feed.id, feed.rail, {}, feed.id);
  for (const c of profile.converters) for (const to of c.to) graph.setEdge(c.from, to, {}, `${c.id} ${to}`);
  dagre.layout(graph);
  const place = (id: string) => {
    const { x, y, width, height } = graph.node(id) as { x: number; y: number; width: number; height: number };
    return { x: Math.round(x - width / 2), y: Math.round(y - height / 2), width, height };
  };
  const size = graph.graph();
  return {
    nodes: [
      ...feeds.map((f): TreeNode => ({
        id: f.id,
        kind: 'feed',
        name: f.name,
        volts: f.volts,
        state: '',
        ...place(f.id),
      })),
      ...profile.rails.map((r): TreeNode => ({
        id: r.id,
        kind: 'rail',
        name: r.name,
        volts: `${plain(r.nominalV)} V`,
        state: r.state,
        ...place(r.id),
      })),
    ],
    edges: graph.edges().map((e) => {
      const points = (graph.edge(e) as { points: { x: number; y: number }[] }).points;
      const converter = profile.converters.find((c) => e.name?.startsWith(`${c.id} `));
      return {
        id: `${e.v}-${e.w}-${e.name ?? ''}`,
        name: converter ? `${converter.name} (${converter.kind})` : '',
        ends: [e.v, e.w],
        path: points.map((p, k) => `${k === 0 ? 'M' : 'L'}${Math.round(p.x)} ${Math.round(p.y)}`).join(''),
      };
    }),
    width: Math.ceil(size.width ?? 0),
    height: Math.ceil(size.height ?? 0),
  };
}

function plain(volts: number): string {
  return String(Number(volts.toPrecision(3)));
}

function feedsOf(profile: Profile) {
  return [
    ...profile.ports.map((p, k) => ({
      id: `feed ${p.id}`,
      rail: p.rail,
      name: `USB-C port ${k + 1}`,
      volts: p.contracts.map((v) => plain(v)).join(', ') + ' V',
    })),
    ...(profile.dcIn
      ? [
          {
            id: `feed ${profile.dcIn.id}`,
            rail: profile.dcIn.rail,
            name: 'DC input',
            volts: `${plain(profile.dcIn.volts)} V`,
          },
        ]
      : []),
    ...(profile.battery
      ? [
          {
            id: 'feed battery',
            rail: profile.battery.rail,
            name: 'Battery',
            volts: `${plain(profile.battery.nominalV)} V`,
          },
        ]
      : []),
  ];
}
