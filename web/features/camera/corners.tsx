'use client';

import type { Point, Quad } from '@umbral/core/display';
import { Handle, Outline } from '@/ui/kit/on-picture';

const cornerNames = ['top left', 'top right', 'bottom right', 'bottom left'];
/** The corners of a framed number over the picture: dragged with mouse or finger, moved with the arrow keys; its middle moves all four. */
export function Corners({
  name,
  corners,
  isChosen,
  onChange,
  onChoose,
}: {
  name: string;
  corners: Quad;
  isChosen: boolean;
  onChange: (corners: Quad) => void;
  onChoose: () => void;
}) {
  const middle = [0, 1].map((k) => corners.reduce((sum, p) => sum + p[k], 0) / corners.length) as unknown as Point;
  const moveCorner = (k: number, [dx, dy]: Point): void =>
    onChange(corners.map((p, at) => (at === k ? within(p[0] + dx, p[1] + dy) : p)) as unknown as Quad);
  const moveAll = ([dx, dy]: Point): void =>
    onChange(corners.map(([x, y]) => within(x + dx, y + dy)) as unknown as Quad);
  return (
    <>
      <Outline corners={corners} color={isChosen ? '#ffd34d' : '#5cc3d6'} />
      <Handle label={`${name}, all corners`} at={middle} isMiddle onMove={moveAll} onChoose={onChoose} />
      {isChosen &&
        corners.map((p, k) => (
          <Handle
            key={cornerNames[k]}
            label={`${name}, ${cornerNames[k]}`}
            at={p}
            onMove={(by) => moveCorner(k, by)}
            onChoose={onChoose}
          />
        ))}
    </>
  );
}

const within = (x: number, y: number): Point => [Math.min(1, Math.max(0, x)), Math.min(1, Math.max(0, y))];
