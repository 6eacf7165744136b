'use client';

import { drawDisplay, type DisplayStyle, type GrayImage } from '@umbral/core/display';
import { useEffect, useRef, useState } from 'react';
import { useRecorder } from '@/ui/kit/use-recorder';
import settings from './display-faces.json';

const faceNames = Object.keys(settings.faces) as (keyof typeof settings.faces)[];

/** A simulated instrument's display, large on the screen: what a camera is tried on where there is no instrument. */
export function BenchDisplay() {
  const { states } = useRecorder();
  const simulated = (states ?? []).filter((s) => s.simulated);
  const [key, setKey] = useState('');
  const [face, setFace] = useState(faceNames[0]);
  const station = simulated.find((s) => s.key === key) ?? simulated.at(0);
  const { decimals } = settings;
  const volts = station?.shown ? station.shown.volts.toFixed(decimals.volts) : '';
  const amps = station?.shown ? Math.max(0, station.shown.amps).toFixed(decimals.amps) : '';
  if (states !== null && !station) return <p className="card mt-3">No simulated bench is running. The demo has one.</p>;
  return (
    <div className="mt-3 grid gap-3">
      <div className="flex flex-wrap gap-3">
        <select
          className="field w-auto"
          aria-label="Instrument"
          value={station?.key}
          onChange={(e) => setKey(e.target.value)}
        >
          {simulated.map((s) => (
            <option key={s.key} value={s.key}>
              {s.name}
            </option>
          ))}
        </select>
        <select
          className="field w-auto"
          aria-label="Kind of display"
          value={face}
          onChange={(e) => setFace(e.target.value as typeof face)}
        >
          {faceNames.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </div>
      <Drawn face={face} volts={volts} amps={amps} />
    </div>
  );
}

/** Volts over amperes, drawn again a few times a second, as displays do. */
function Drawn({ face, volts, amps }: { face: (typeof faceNames)[number]; volts: string; amps: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef({ volts, amps });
  useEffect(() => {
    latest.current = { volts, amps };
  });
  useEffect(() => {
    let shown = '';
    const draw = (): void => {
      const { current } = latest;
      const text = `${current.volts} ${current.amps}`;
      const context = canvas.current?.getContext('2d');
      if (!context || text === shown) return;
      shown = text;
      const { color, ...style } = settings.faces[face];
      const numbers = [current.volts, current.amps].map((t, k) => ({ text: t, ...settings.places[k] }));
      const { width, height } = settings;
      paint(context, drawDisplay(style as unknown as DisplayStyle, numbers, { width, height }), color);
    };
    draw();
    const timer = setInterval(draw, settings.changesEveryMs);
    return () => clearInterval(timer);
  }, [face]);
  return (
    <canvas
      ref={canvas}
      width={settings.width}
      height={settings.height}
      role="img"
      aria-label={`Display: ${volts} V, ${amps} A`}
      className="h-auto w-full max-w-3xl rounded-lg bg-black"
    />
  );
}

/** A grey picture in one colour. */
function paint(context: CanvasRenderingContext2D, image: GrayImage, color: readonly number[]): void {
  const pixels = context.createImageData(image.width, image.height);
  image.data.forEach((brightness, k) => {
    color.forEach((c, channel) => (pixels.data[4 * k + channel] = c * brightness));
    pixels.data[4 * k + 3] = 255;
  });
  context.putImageData(pixels, 0, 0);
}
