import type { CircuitId, PointKind } from '../catalogue/index.ts';

import { seededRandom, type Random } from '../trace/index.ts';
import type { Profile } from '../twin/index.ts';
import look from './drawn-board.json';

/** Where a probe goes on a drawn board. Widths of the board. */
interface DrawnPoint {
  x: number;
  y: number;
  kind: PointKind;
  name: string;
  net: string;
  circuit: CircuitId | null;
}

/** A board of nobody's, as a drawing of `width` x `height` units, and where its points are. */
export interface DrawnBoard {
  svg: string;
  width: number;
  height: number;
  points: DrawnPoint[];
}

/**
 * Draws a board that a profile could have: a chip for each converter, coil and capacitors for each rail, sockets at the edge. Nothing
 * of it is a real layout.
 *
 * @param seed the same board for the same seed
 */
export function drawBoard(profile: Profile, seed: number): DrawnBoard {
  const random = seededRandom(seed);
  const { width, margin, cell } = look;
  const columns = Math.max(2, Math.floor((width - 2 * margin) / cell));
  const rows = Math.ceil(profile.rails.length / columns);
  const height = 2 * margin + rows * cell + look.edge;
  const shapes: string[] = [ground(width, height, random)];
  const points: DrawnPoint[] = [];
  profile.rails.forEach((rail, k) => {
    const x = margin + (k % columns) * cell;
    const y = margin + Math.floor(k / columns) * cell;
    const made = railAt(rail, x, y, random);
    shapes.push(...made.shapes);
    points.push(...made.points.map((p) => ({ ...p, net: rail.id, circuit: rail.circuit })));
  });
  const sockets = [
    ...profile.ports.map((p) => p.rail),
    ...(profile.battery ? [profile.battery.rail] : []),
    ...(profile.dcIn ? [profile.dcIn.rail] : []),
  ];
  sockets.forEach((net, k) => {
    const x = ((k + 1) * width) / (sockets.length + 1);
    const y = height - look.edge / 2;
    shapes.push(rounded(x, y, look.socket, look.edge * look.socketShare, look.metal, look.socketRound));
    const circuit = profile.rails.find((r) => r.id === net)?.circuit ?? null;
    points.push({ x, y, kind: 'connector', name: `socket ${k + 1}`, net, circuit });
  });
  const inWidths = points.map((p) => ({ ...p, x: p.x / width, y: p.y / width }));
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${shapes.join('')}</svg>`;
  return { svg, width, height, points: inWidths };
}

/**
 * What a thermal camera shows of a drawn board: warm where something warms, the outline of the board faint.
 *
 * @param hot the hottest place, in widths of the board
 */
export function drawHeat({ width, height }: DrawnBoard, hot: { x: number; y: number }): string {
  const [cx, cy] = [hot.x * width, hot.y * width];
  const stops = look.heat.map(([at, colour]) => `<stop offset="${at}" stop-color="${colour}"/>`).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><defs><radialGradient id="h" gradientUnits="userSpaceOnUse" cx="${cx}" cy="${cy}" r="${width * look.heatReach}">${stops}</radialGradient></defs><rect width="${width}" height="${height}" fill="url(#h)"/></svg>`;
}

function ground(width: number, height: number, random: Random): string {
  const traces = Array.from({ length: look.traces }, () => {
    const [x, y] = [random() * width, random() * height];
    const [dx, dy] = [(random() - 0.5) * width * look.traceReach, (random() - 0.5) * height * look.traceReach];
    return `<path d="M${fixed(x)} ${fixed(y)}h${fixed(dx)}v${fixed(dy)}" fill="none" stroke="${look.trace}" stroke-width="${look.traceWidth}"/>`;
  });
  const holes = [
    [look.hole, look.hole],
    [width - look.hole, look.hole],
    [look.hole, height - look.hole],
    [width - look.hole, height - look.hole],
  ].map(([x, y]) => `<circle cx="${x}" cy="${y}" r="${look.hole / 2}" fill="${look.metal}"/>`);
  return [
    `<rect width="${width}" height="${height}" rx="${look.hole / 2}" fill="${look.board}"/>`,
    ...traces,
    ...holes,
  ].join('');
}

const fixed = (x: number): string => x.toFixed(1);

function rounded(cx: number, cy: number, w: number, h: number, fill: string, round: number): string {
  return `<rect x="${fixed(cx - w / 2)}" y="${fixed(cy - h / 2)}" width="${fixed(w)}" height="${fixed(h)}" rx="${round}" fill="${fill}"/>`;
}

/** The parts of a rail in its cell: a chip, a coil in front of it, capacitors in a row, a test point. */
function railAt(rail: Profile['rails'][number], x: number, y: number, random: Random) {
  const { cell } = look;
  const shapes: string[] = [];
  const at = (u: number, v: number): [number, number] => [
    x + cell * (u + (random() - 0.5) * look.jitter),
    y + cell * (v + (random() - 0.5) * look.jitter),
  ];
  const chip = at(look.chipAt[0], look.chipAt[1]);
  shapes.push(rounded(...chip, look.chip, look.chip * (1 + random() / 4), look.black, look.partRound));
  const coil = at(look.coilAt[0], look.coilAt[1]);
  shapes.push(
    rounded(...coil, look.coil, look.coil, look.grey, look.partRound),
    `<circle cx="${fixed(coil[0])}" cy="${fixed(coil[1])}" r="${look.coil / 3}" fill="${look.black}"/>`,
  );
  const capacitors = Array.from({ length: Math.min(look.mostCapacitors, Math.max(1, rail.capacitors)) }, (_, k) => {
    const place = at(look.capacitorAt[0] + k * look.capacitorApart, look.capacitorAt[1]);
    shapes.push(
      rounded(...place, look.capacitor[0], look.capacitor[1], look.metal, 1),
      rounded(...place, look.capacitor[0] * look.bodyShare, look.capacitor[1], look.brown, 1),
    );
    return place;
  });
  const pad = at(look.padAt[0], look.padAt[1]);
  shapes.push(`<circle cx="${fixed(pad[0])}" cy="${fixed(pad[1])}" r="${look.pad}" fill="${look.gold}"/>`);
  const point = ([px, py]: [number, number], kind: PointKind, name: string) => ({ x: px, y: py, kind, name });
  return {
    shapes,
    points: [
      point(coil, 'coil', `coil of ${rail.name}`),
      point(capacitors[0], 'capacitor', `capacitor of ${rail.name}`),
      point(pad, 'test-point', `test point of ${rail.name}`),
    ],
  };
}
