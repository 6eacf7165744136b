'use client';

import { markerEvents, markerNames, type Marker, type MarkerEvent } from '@umbral/core/words';
import { Plus } from 'lucide-react';
import { useRef, useState, type PointerEvent } from 'react';
import { ActionMenu } from '@/ui/menu';
import { axisWidth, plotMargin } from './plot';
import { nameLines } from '@/ui/ticks';
import { markerSays, useWidth } from './marker-names';
import { useMarkers } from './use-markers';
import type { RunView } from './view';

/** From this share of the picture on there is no room for a name at the right. */
const edgeShare = 0.88;

/** A line of names, pixels. */
const lineHeight = 15;

/** Given by hand, and found in the trace at another time. */
const isPlaced = ({ t, said }: Marker): boolean => said !== undefined && said !== t;

/**
 * What happened when, on a lane under the run. A marker is dragged, or moved with the arrow keys; an inferred one
 * becomes a given one when it is moved. Every change assesses the job anew.
 */
export function MarkerLane({ chosen }: { chosen: RunView }) {
  const { t0, t1 } = chosen;
  const { markers, setMarkers, store, isUnsaved } = useMarkers(chosen);
  const [dragged, setDragged] = useState<number | null>(null);
  const lane = useRef<HTMLDivElement>(null);
  const span = Math.max(t1 - t0, 1e-9);
  const width = useWidth(lane) - axisWidth - plotMargin.right;
  const lines = nameLines(
    markers.map((m) => ({ share: (m.t - t0) / span, says: markerSays(m) })),
    width,
    { edgeShare },
  );
  const left = (t: number): string => {
    const share = Math.min(1, Math.max(0, (t - t0) / span));
    return `calc(${axisWidth}px + (100% - ${axisWidth + plotMargin.right}px) * ${share})`;
  };
  const timeAt = (clientX: number): number => {
    const box = lane.current!.getBoundingClientRect();
    const share = (clientX - box.left - axisWidth) / Math.max(1, box.width - axisWidth - plotMargin.right);
    return Number((t0 + Math.min(1, Math.max(0, share)) * span).toFixed(3));
  };
  const moved = (k: number, t: number): Marker[] =>
    markers.map((m, j) => (j === k ? { ...m, t, inferred: undefined, said: undefined } : m));
  const onMove = (event: PointerEvent, k: number): void => {
    if (dragged === k) setMarkers(moved(k, timeAt(event.clientX)));
  };
  const onDrop = (event: PointerEvent, k: number): void => {
    if (dragged !== k) return;
    setDragged(null);
    const t = timeAt(event.clientX);
    if (Math.abs(t - (chosen.markers[k]?.t ?? NaN)) > span / 400) store(moved(k, t), 'Marker moved and reassessed.');
    else setMarkers(chosen.markers);
  };
  const add = (event: MarkerEvent): void =>
    store(
      [...markers, { t: Number((t0 + span / 2).toFixed(3)), event }],
      'Marker added in the middle. Drag it into place.',
    );
  return (
    <div className="relative">
      <div className="absolute top-0 left-0">
        <ActionMenu
          label="Add a marker"
          icon={<Plus size={17} aria-hidden />}
          entries={markerEvents.map((event) => ({ text: markerNames[event], act: () => add(event) }))}
          className="button button-quiet w-9 px-0"
          anchor="bottom start"
        />
      </div>
      <div
        ref={lane}
        role="group"
        aria-label="Markers"
        aria-busy={isUnsaved}
        className="relative"
        style={{ height: 40 + lineHeight * Math.max(1, ...lines.map((l) => l + 1)) }}
      >
        <div
          aria-hidden
          className="absolute top-3.5 h-px bg-line"
          style={{ left: axisWidth, right: plotMargin.right }}
        />
        {markers.map((m, k) =>
          // Outside the part that is looked at a marker is not there to be moved.
          m.t < t0 - 1e-9 || m.t > t1 + 1e-9 ? null : (
            <button
              key={`${m.event}-${k}`}
              type="button"
              role="slider"
              aria-label={`${markerNames[m.event]}${m.note ? `: ${m.note}` : ''}${m.inferred ? ', inferred' : ''}`}
              aria-valuemin={t0}
              aria-valuemax={t1}
              aria-valuenow={m.t}
              aria-valuetext={`${m.t.toFixed(1)} seconds`}
              title={`${markerNames[m.event]}${m.note ? `: ${m.note}` : ''} at ${m.t.toFixed(2)} s${m.inferred ? ' (inferred from the trace)' : ''}${isPlaced(m) ? ` (given by hand at ${m.said?.toFixed(2)} s, moved to its step)` : ''}; drag or use the arrow keys, Delete removes it`}
              className={`absolute top-0 flex h-11 touch-none flex-col px-1.5 pt-[9px] text-[0.83rem] text-muted select-none ${
                // Near the right edge the name stands to the left of its instant.
                (m.t - t0) / span > edgeShare
                  ? '-translate-x-[calc(100%-11px)] items-end'
                  : '-translate-x-[11px] items-start'
              }`}
              style={{ left: left(m.t) }}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId);
                setDragged(k);
              }}
              onPointerMove={(e) => onMove(e, k)}
              onPointerUp={(e) => onDrop(e, k)}
              onKeyDown={(e) => {
                const step = (e.shiftKey ? 10 : 1) * (span / 200);
                if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') {
                  e.preventDefault();
                  store(
                    moved(
                      k,
                      Number(Math.min(t1, Math.max(t0, m.t + (e.key === 'ArrowLeft' ? -step : step))).toFixed(3)),
                    ),
                    'Marker moved and reassessed.',
                  );
                } else if (e.key === 'Delete')
                  store(
                    markers.filter((_, j) => j !== k),
                    'Marker removed.',
                  );
              }}
            >
              <span
                className={`mt-px size-2.5 shrink-0 rounded-full border-2 border-ink ${m.inferred ? 'border-dashed bg-paper' : 'bg-raised'}`}
              />
              <span className="whitespace-nowrap" style={{ transform: `translateY(${lineHeight * lines[k] - 1}px)` }}>
                {markerSays(m)}
              </span>
            </button>
          ),
        )}
      </div>
    </div>
  );
}
