'use client';

import { cssTransform } from '@umbral/core/board';
import { memo, useEffect, useImperativeHandle, useMemo, useRef, useState, type ReactNode, type Ref } from 'react';
import { TransformComponent, TransformWrapper, type ReactZoomPanPinchRef } from 'react-zoom-pan-pinch';
import { PointSign, type NetStatus } from './point-sign';
import type { MapMark, MapPicture, MapPoint, MapSide } from './view';

/** Width of a board as it is laid out, before it is zoomed. Pixels. */
export const boardPx = 1000;
/** From here on the copy that is shown at first is too coarse. */
const closeFrom = 1.4;
const [farthest, closest] = [0.2, 14];

/** How a net stands on the map. */
export interface NetState {
  status: NetStatus;
  /** What was read, and what a good board reads; empty where nothing was. */
  reading: string;
  was: string;
  good: string[];
}

export interface CanvasHandle {
  zoomIn: () => void;
  zoomOut: () => void;
  fit: () => void;
  /** Brings a place into view. */
  show: (x: number, y: number) => void;
  /** The middle of what is seen, widths of the board. */
  middle: () => { x: number; y: number };
}

interface Shown {
  side: MapSide;
  /** Nets by name, with how they stand. */
  nets: ReadonlyMap<string, NetState>;
  /** Nets in the order in which they are to be measured. */
  plan: readonly string[];
  chosen: number | null;
  /** The net that the probe is at. */
  current: string;
  hidden: ReadonlySet<number>;
  /** Opacity of the heat pictures, 0 to 1. */
  heat: number;
}

/** A side of a board: pictures, marks and points over each other, zoomed and moved together. */
export function MapCanvas({
  shown,
  ref,
  isPlacing,
  over,
  onPlace,
  onChoose,
  onPointKey,
}: {
  shown: Shown;
  ref: Ref<CanvasHandle | null>;
  /** A press puts something there rather than moving the map. */
  isPlacing: boolean;
  /** What is being drawn, over everything else. */
  over: ReactNode;
  onPlace: (x: number, y: number) => void;
  onChoose: (point: MapPoint) => void;
  onPointKey: (point: MapPoint, event: React.KeyboardEvent) => void;
}) {
  const { side } = shown;
  const [isClose, setIsClose] = useState(false);
  const frame = useRef<HTMLDivElement>(null);
  const content = useRef<HTMLDivElement>(null);
  const zoom = useRef<ReactZoomPanPinchRef>(null);
  const heightPx = boardPx * side.height;
  const placeOf = (clientX: number, clientY: number): { x: number; y: number } => {
    const box = content.current?.getBoundingClientRect();
    if (!box?.width) return { x: 0.5, y: side.height / 2 };
    return { x: (clientX - box.left) / box.width, y: ((clientY - box.top) / box.height) * side.height };
  };
  // What was in the middle stays there when a form opens beside it.
  useEffect(() => {
    const { current } = frame;
    if (!current) return;
    let [width, height] = [current.clientWidth, current.clientHeight];
    const seen = new ResizeObserver(() => {
      const [dx, dy] = [current.clientWidth - width, current.clientHeight - height];
      if (dx !== 0 || dy !== 0) zoom.current?.panBy(dx / 2, dy / 2, 0);
      [width, height] = [current.clientWidth, current.clientHeight];
    });
    seen.observe(current);
    return () => seen.disconnect();
  }, []);
  useImperativeHandle(ref, () => {
    return {
      zoomIn: () => void zoom.current?.zoomIn(),
      zoomOut: () => void zoom.current?.zoomOut(),
      fit: () => void zoom.current?.fitToView(),
      show: (x, y) => {
        const [inside, around] = [content.current?.getBoundingClientRect(), frame.current?.getBoundingClientRect()];
        if (!inside || !around) return;
        const [px, py] = [inside.left + x * inside.width, inside.top + (y / side.height) * inside.height];
        const room = 40;
        const isSeen =
          px > around.left + room && px < around.right - room && py > around.top + room && py < around.bottom - room;
        if (isSeen) return;
        zoom.current?.panBy(around.left + around.width / 2 - px, around.top + around.height / 2 - py);
      },
      middle: () => {
        const around = frame.current?.getBoundingClientRect();
        const at = around ? placeOf(around.left + around.width / 2, around.top + around.height / 2) : { x: 0.5, y: 0 };
        const within = (v: number, most: number): number => Math.min(most, Math.max(0, v));
        return { x: within(at.x, 1), y: within(at.y, side.height) };
      },
    };
  });
  return (
    <div ref={frame} className="relative min-w-0 flex-1 overflow-hidden rounded-xl border border-line bg-paper">
      <TransformWrapper
        // Another side, or another shape of it, is shown whole at first.
        key={`${side.id} ${side.height}`}
        ref={zoom}
        minScale={farthest}
        maxScale={closest}
        fitOnInit="contain"
        limitToBounds={false}
        doubleClick={{ disabled: true }}
        panning={{ excluded: ['map-fixed'], velocityDisabled: true }}
        onTransform={(_, { scale }) => {
          // Signs keep their size: a number in the style of one element, and nothing is drawn by React.
          content.current?.style.setProperty('--unzoomed', String(1 / scale));
          setIsClose(scale > closeFrom);
        }}
      >
        <TransformComponent wrapperClass="!size-full" wrapperStyle={{ position: 'absolute', inset: 0 }}>
          <div
            ref={content}
            data-board
            className={`relative ${isPlacing ? 'cursor-crosshair' : 'cursor-grab'}`}
            style={{ width: boardPx, height: heightPx }}
            onClick={(e) => {
              if (!isPlacing) return;
              const { x, y } = placeOf(e.clientX, e.clientY);
              if (x >= 0 && x <= 1 && y >= 0 && y <= side.height) onPlace(x, y);
            }}
          >
            <div className="absolute inset-0 overflow-hidden">
              {side.pictures
                .filter((p) => !shown.hidden.has(p.id))
                .sort((a, b) => Number(a.kind === 'heat') - Number(b.kind === 'heat'))
                .map((p) => (
                  <Laid key={p.id} picture={p} isClose={isClose} opacity={p.kind === 'heat' ? shown.heat : 1} />
                ))}
            </div>
            <Marks marks={side.marks} height={side.height} />
            <Points shown={shown} onChoose={onChoose} onPointKey={onPointKey} />
            {over}
          </div>
        </TransformComponent>
      </TransformWrapper>
    </div>
  );
}

/** A picture as it lies on the board. */
function Laid({ picture, isClose, opacity }: { picture: MapPicture; isClose: boolean; opacity: number }) {
  const { id, width, height, alignment, caption } = picture;
  return (
    <img
      src={`/api/boards/pictures/${id}${isClose ? '?whole' : ''}`}
      alt={caption || (picture.kind === 'heat' ? 'heat picture' : 'photograph of the board')}
      width={boardPx}
      height={(boardPx * height) / width}
      draggable={false}
      className="pointer-events-none absolute top-0 left-0 max-w-none select-none"
      style={{ transformOrigin: '0 0', transform: cssTransform(alignment, boardPx, boardPx), opacity }}
    />
  );
}

const Marks = memo(function Marks({ marks, height }: { marks: readonly MapMark[]; height: number }) {
  if (marks.length === 0) return null;
  return (
    <>
      <svg viewBox={`0 0 1 ${height}`} className="pointer-events-none absolute inset-0 size-full" aria-hidden>
        <defs>
          <pattern id="hatch" width="0.012" height="0.012" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="0.005" height="0.012" fill="var(--decide)" />
          </pattern>
        </defs>
        {marks.map((m) => (
          <polygon
            key={m.id}
            points={m.area.map((p) => p.join(',')).join(' ')}
            fill="url(#hatch)"
            fillOpacity={0.55}
            stroke="var(--decide)"
            strokeWidth={3}
            vectorEffect="non-scaling-stroke"
            strokeDasharray={m.kind === 'heat' ? '6 4' : undefined}
          />
        ))}
      </svg>
      {marks.map((m) => (
        <span
          key={m.id}
          className="pointer-events-none absolute rounded bg-raised/90 px-1 text-xs whitespace-nowrap"
          style={{
            left: `${100 * Math.min(...m.area.map((p) => p[0]))}%`,
            top: `${(100 * Math.min(...m.area.map((p) => p[1]))) / height}%`,
            transformOrigin: '0 100%',
            transform: 'translateY(-100%) scale(var(--unzoomed, 1))',
          }}
        >
          {m.kind}
          {m.where && `: ${m.where}`}
        </span>
      ))}
    </>
  );
});

/** A circle around what suspects of the job cover; under this share it says nothing. */
const tellingSuspicion = 0.05;

/** What a point is, how it stands and what is to be done there, for whoever does not see it. */
function sayPoint(point: MapPoint, state: NetState | undefined, turn: number): string {
  const { name, netName, suspicion, causes } = point;
  return [
    name || netName,
    name && name !== netName ? netName : '',
    state?.reading || 'not measured',
    state && state.status !== 'unknown' ? state.status : '',
    state?.was ? `before the last change ${state.was}` : '',
    ...(state?.good.map((g) => `good: ${g}`) ?? []),
    turn >= 0 ? `next probe ${turn + 1}` : '',
    suspicion >= tellingSuspicion ? `suspects here ${Math.round(100 * suspicion)} %` : '',
    ...causes,
  ]
    .filter(Boolean)
    .join(', ');
}

const Points = memo(function Points({
  shown,
  onChoose,
  onPointKey,
}: {
  shown: Shown;
  onChoose: (point: MapPoint) => void;
  onPointKey: (point: MapPoint, event: React.KeyboardEvent) => void;
}) {
  const { side, nets, plan, chosen, current } = shown;
  const turns = useMemo(() => new Map(plan.map((net, k) => [net, k])), [plan]);
  // Of a net that is to be measured one point bears the number: the one that is easiest to touch.
  const numbered = useMemo(() => {
    const first = new Map<string, number>();
    for (const p of [...side.points].sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind)))
      if (!first.has(p.net)) first.set(p.net, p.id);
    return first;
  }, [side.points]);
  const chosenNet = side.points.find((p) => p.id === chosen)?.net;
  const reachable = chosen ?? side.points.find((p) => p.net === current)?.id ?? side.points[0]?.id;
  return (
    <>
      {side.points.map((p) => {
        const state = nets.get(p.net);
        const turn = numbered.get(p.net) === p.id ? (turns.get(p.net) ?? -1) : -1;
        const isCurrent = p.net === current;
        // Of a net one point bears its name, unless another was chosen.
        const isNamed = p.id === chosen || (isCurrent && chosenNet !== current && numbered.get(p.net) === p.id);
        return (
          <button
            key={p.id}
            type="button"
            data-point={p.id}
            tabIndex={p.id === reachable ? 0 : -1}
            aria-label={sayPoint(p, state, turn)}
            aria-pressed={p.id === chosen || (chosen === null && isCurrent)}
            title={sayPoint(p, state, turn)}
            className={`map-fixed absolute size-9 -translate-x-1/2 -translate-y-1/2 ${isNamed ? 'z-10' : ''}`}
            style={{ left: `${100 * p.x}%`, top: `${(100 * p.y) / side.height}%`, scale: 'var(--unzoomed, 1)' }}
            onClick={(e) => {
              e.stopPropagation();
              onChoose(p);
            }}
            onKeyDown={(e) => onPointKey(p, e)}
          >
            <span
              className={`absolute inset-0 m-auto grid place-items-center rounded-full ${
                p.suspicion >= tellingSuspicion ? 'bg-penumbra/70 outline-2 outline-edge outline-dashed' : ''
              } ${isCurrent ? 'ring-4 ring-decide' : ''}`}
              style={{ width: suspectSize(p.suspicion), height: suspectSize(p.suspicion) }}
            >
              <PointSign status={state?.status ?? 'unknown'} className="size-5" />
            </span>
            {turn >= 0 && (
              <span className="absolute -top-0.5 -right-0.5 grid size-5 place-items-center rounded-full bg-decide text-xs font-bold text-raised">
                {turn + 1}
              </span>
            )}
            {p.causes.length > 0 && (
              <span className="absolute top-7 left-1/2 -translate-x-1/2 rounded whitespace-nowrap bg-umbra px-1 text-xs text-raised">
                was here
              </span>
            )}
            {isNamed && (
              <span
                className={`pointer-events-none absolute top-full mt-0.5 rounded bg-raised px-1.5 text-sm whitespace-nowrap shadow ${labelAt(p.x)}`}
              >
                {p.name || p.netName}
                {state?.was && <s className="ml-1 text-muted">{state.was}</s>}
                {state?.reading && `: ${state.reading}`}
                {state?.good.map((g) => (
                  <span key={g} className="block text-muted">
                    good: {g}
                  </span>
                ))}
              </span>
            )}
          </button>
        );
      })}
    </>
  );
});

/** A label stays on the board. */
const labelAt = (x: number): string =>
  x < edgeShare ? 'left-0' : x > 1 - edgeShare ? 'right-0' : 'left-1/2 -translate-x-1/2';
const edgeShare = 0.3;

/** What is easiest to put a probe on comes first. */
const order: readonly MapPoint['kind'][] = ['test-point', 'coil', 'capacitor', 'connector', 'pad', 'pin'];

const suspectSize = (p: number): string => `${24 + 14 * Math.min(1, p)}px`;
