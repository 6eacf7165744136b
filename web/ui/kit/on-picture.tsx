'use client';

import { useRef, type KeyboardEvent, type PointerEvent } from 'react';

/** Across and down. */
type Point = readonly [x: number, y: number];

/** Shares of the picture that a key moves a corner by. */
const step = 0.002;
const steps: Record<string, Point> = {
  ArrowLeft: [-step, 0],
  ArrowRight: [step, 0],
  ArrowUp: [0, -step],
  ArrowDown: [0, step],
};
const coarse = 10;

/** Something with corners in a picture. */
export function Outline({ corners, color }: { corners: readonly Point[]; color: string }) {
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

/** A place on a picture: dragged with mouse or finger, moved with the arrow keys. */
export function Handle({
  label,
  at,
  isMiddle = false,
  number = null,
  onMove,
  onChoose = () => undefined,
}: {
  label: string;
  /** Shares of the picture's width and height. */
  at: Point;
  /** It moves something as a whole. */
  isMiddle?: boolean;
  /** Stands on it; null for none. */
  number?: number | null;
  /** Shares of the picture's width and height. */
  onMove: (by: Point) => void;
  onChoose?: () => void;
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
            : number === null
              ? 'size-3.5 border-2 border-black/70 bg-[#ffd34d]'
              : 'grid size-6 place-items-center rounded-full border-2 border-black/70 bg-[#ffd34d] text-sm font-bold text-black opacity-80'
        }
        aria-hidden
      >
        {number}
      </span>
    </button>
  );
}
