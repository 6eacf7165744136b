'use client';

import type { Point, Quad } from '@umbral/core/display';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';

const cornerNames = ['top left', 'top right', 'bottom right', 'bottom left'];
/** Shares of the picture that a key moves a corner by. */
const step = 0.002;
const steps: Record<string, Point> = {
  ArrowLeft: [-step, 0],
  ArrowRight: [step, 0],
  ArrowUp: [0, -step],
  ArrowDown: [0, step],
};
const coarse = 10;

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

/** Where a number stands in the picture. */
export function Outline({ corners, color }: { corners: Quad; color: string }) {
  return (
    <svg
      viewBox="0 0 1 1"
      preserveAspectRatio="none"
      className="pointer-events-none absolute inset-0 size-full"
      aria-hidden
    >
      <polygon
        points={corners.map((p) => p.join(',')).join(' ')}
        fill="none"
        stroke={color}
        strokeWidth={3}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

const within = (x: number, y: number): Point => [Math.min(1, Math.max(0, x)), Math.min(1, Math.max(0, y))];

function Handle({
  label,
  at,
  isMiddle = false,
  onMove,
  onChoose,
}: {
  label: string;
  at: Point;
  isMiddle?: boolean;
  onMove: (by: Point) => void;
  onChoose: () => void;
}) {
  const last = useRef<Point | null>(null);
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = steps[event.key];
    if (!by) return;
    event.preventDefault();
    const much = event.shiftKey ? coarse : 1;
    onMove([by[0] * much, by[1] * much]);
  };
  const onPointerDown = (event: PointerEvent<HTMLButtonElement>): void => {
    event.currentTarget.setPointerCapture(event.pointerId);
    last.current = [event.clientX, event.clientY];
    onChoose();
  };
  const onPointerMove = (event: PointerEvent<HTMLButtonElement>): void => {
    const box = event.currentTarget.parentElement?.getBoundingClientRect();
    if (!last.current || !box) return;
    onMove([(event.clientX - last.current[0]) / box.width, (event.clientY - last.current[1]) / box.height]);
    last.current = [event.clientX, event.clientY];
  };
  return (
    <button
      type="button"
      aria-label={label}
      title={`${label}: drag, or move with the arrow keys (Shift for more)`}
      className={`absolute grid size-9 -translate-x-1/2 -translate-y-1/2 touch-none place-items-center ${isMiddle ? 'cursor-move' : 'cursor-crosshair'}`}
      style={{ left: `${at[0] * 100}%`, top: `${at[1] * 100}%` }}
      onFocus={onChoose}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => (last.current = null)}
      onPointerCancel={() => (last.current = null)}
    >
      <span
        className={
          isMiddle
            ? 'size-3 rounded-full border-2 border-black/70 bg-white/80'
            : 'size-3.5 border-2 border-black/70 bg-[#ffd34d]'
        }
        aria-hidden
      />
    </button>
  );
}
