import { cornersOf, type Framing, type GrayImage, type StyleFamily } from '@umbral/core/display';
import { drawScene, filmedImage } from './display/index.ts';
import type { Random, Trace } from '@umbral/core';
import settings from './filmed.json';

/** A video of a display while a run goes on, drawn picture by picture. */
export interface FilmedVideo {
  /** What kind of display it is. */
  kind: string;
  fps: number;
  /** As somebody frames it who knows where its points stand: volts over amperes. */
  framing: Framing;
  /** The picture of an instant, and what stands on the display then. Seconds from the beginning. */
  at: (t: number) => { picture: GrayImage; shown: readonly [volts: string, amps: string] };
}

/**
 * Films a display of V over A: of a style by chance, tilted, with glare, noise, bands, and pictures that are half changed.
 *
 * @param trace what the instrument measures
 * @param fromS where in it the video begins
 * @param rates pictures a second, one of which is taken
 */
export function filmTrace(
  family: StyleFamily,
  trace: Trace,
  fromS: number,
  random: Random,
  rates: readonly number[] = settings.fps,
): FilmedVideo {
  const scene = drawScene(family, random);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const fps = pick(rates);
  const refreshHz = settings.refreshHz[0] + random() * (settings.refreshHz[1] - settings.refreshHz[0]);
  const decimals = [pick(settings.voltDecimals), pick(settings.ampDecimals)] as const;
  const shownAt = (t: number): [string, string] => {
    const k = lastBefore(trace, fromS + Math.floor(t * refreshHz) / refreshHz);
    return [trace.v[k].toFixed(decimals[0]), Math.max(0, trace.i[k]).toFixed(decimals[1])];
  };
  const drawn = new Map<string, GrayImage>();
  const draw = (texts: [string, string]): GrayImage => {
    const key = texts.join(' ');
    const display = drawn.get(key) ?? scene.draw(...texts);
    drawn.set(key, display);
    return display;
  };
  return {
    kind: scene.style.kind,
    fps,
    framing: {
      numbers: (['volts', 'amps'] as const).map((quantity, k) => ({
        quantity,
        corners: cornersOf(scene.fields[k], scene.camera),
        unit: 1,
        decimals: decimals[k],
      })),
      isMirrored: false,
    },
    at: (t) => {
      const texts = shownAt(t);
      const was = shownAt(Math.max(0, t - settings.readoutS));
      const hasChanged = was.join() !== texts.join();
      const changesAt = hasChanged ? random() : 1;
      const both = hasChanged ? ([draw(was), draw(texts)] as const) : ([draw(texts)] as const);
      const picture = filmedImage(scene.camera, both, random, changesAt, (t * settings.bandHz) % 1);
      return { picture, shown: hasChanged && changesAt > 0.5 ? was : texts };
    },
  };
}

/** The last sample at or before an instant. */
function lastBefore({ t }: Trace, at: number): number {
  let k = 0;
  while (k < t.length - 1 && t[k + 1] <= at) k++;
  return k;
}
