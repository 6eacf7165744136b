// Which of the engine's numbers move a figure: each is bent, and the evidence assessed anew.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from './run.mjs';

const require = createRequire(import.meta.url);

/** By how much a number is bent either way. */
export const bends = [0.7, 1.4];

/** Puts other numbers in the place of some, before the core is loaded in this process. */
export const bend = (list) => list.forEach(bendOne);

function bendOne({ file, way, factor }) {
  const keys = way.split('.');
  const last = keys.pop();
  const place = keys.reduce((x, key) => x[key], require(join(root, 'core', 'dist', file)));
  place[last] *= factor;
}

/** Figures of the evidence that a bent number moves by more than a point, in words. */
export function movedFigures(usual, bent) {
  const percent = ({ held, of }) => (100 * held) / Math.max(1, of);
  return Object.keys(usual)
    .map((name) => ({ name, points: percent(bent[name]) - percent(usual[name]) }))
    .filter(({ points }) => Math.abs(points) > 1)
    .map(({ name, points }) => `${name} ${points > 0 ? '+' : ''}${points.toFixed(1)}`);
}
