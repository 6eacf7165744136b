'use client';

import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import { useRef, useState, type PointerEvent } from 'react';
import { axisWidth, chartHeight, plotMargin, xAxisHeight } from './plot';
import type { useZoom } from './use-zoom';

/** Closer, further, whole. */
export function ZoomButtons({ zoom }: { zoom: ReturnType<typeof useZoom> }) {
  const quiet = 'button button-quiet w-9 px-0';
  return (
    <>
      {zoom.isClose && (
        <button
          type="button"
          className={quiet}
          aria-label="The whole run"
          title="The whole run (0)"
          onClick={zoom.whole}
        >
          <Maximize2 size={16} aria-hidden />
        </button>
      )}
      <button
        type="button"
        className={quiet}
        aria-label="Zoom out"
        title="Zoom out (-)"
        disabled={!zoom.isClose}
        onClick={zoom.further}
      >
        <ZoomOut size={17} aria-hidden />
      </button>
      <button
        type="button"
        className={quiet}
        aria-label="Zoom in"
        title="Zoom in (+), or drag across a range"
        onClick={zoom.closer}
      >
        <ZoomIn size={17} aria-hidden />
      </button>
    </>
  );
}

const minPx = 6;

/** Lies over the picture: what is drawn over is looked at closely. */
export function ZoomArea({ zoom }: { zoom: ReturnType<typeof useZoom> }) {
  const area = useRef<HTMLDivElement>(null);
  const [drawn, setDrawn] = useState<{ from: number; to: number } | null>(null);
  const at = (event: PointerEvent): number => {
    const box = area.current!.getBoundingClientRect();
    return Math.min(1, Math.max(0, (event.clientX - box.left) / Math.max(1, box.width)));
  };
  const done = (): void => {
    setDrawn(null);
    if (!drawn) return;
    const [a, b] = [Math.min(drawn.from, drawn.to), Math.max(drawn.from, drawn.to)];
    if ((b - a) * area.current!.clientWidth < minPx) return;
    const { t0, t1 } = zoom.shown;
    zoom.select({ t0: t0 + a * (t1 - t0), t1: t0 + b * (t1 - t0) });
  };
  return (
    <div
      ref={area}
      aria-hidden
      className="absolute cursor-crosshair touch-pan-y select-none"
      style={{
        left: axisWidth,
        right: plotMargin.right,
        top: plotMargin.top,
        height: chartHeight - plotMargin.top - xAxisHeight,
      }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawn({ from: at(e), to: at(e) });
      }}
      onPointerMove={(e) => drawn && setDrawn({ ...drawn, to: at(e) })}
      onPointerUp={done}
      onPointerCancel={() => setDrawn(null)}
      onDoubleClick={zoom.whole}
    >
      {drawn && (
        <span
          className="absolute inset-y-0 border-x border-decide bg-decide/15"
          style={{
            left: `${100 * Math.min(drawn.from, drawn.to)}%`,
            width: `${100 * Math.abs(drawn.to - drawn.from)}%`,
          }}
        />
      )}
    </div>
  );
}
