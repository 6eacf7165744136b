import type { DisplayReading, Quad } from '@umbral/core/display';
import { formatCurrent, formatVoltage } from '@umbral/core/words';
import settings from './proof-strip.json';

interface Kept {
  seconds: number;
  says: string;
  picture: HTMLCanvasElement;
}

/** Pictures of a display beside what was read off them, one a second, kept while somebody wants them as proof. */
export class ProofStrip {
  private readonly kept: Kept[] = [];
  private beganAt: number | null = null;

  get length(): number {
    return this.kept.length;
  }

  /** @param now seconds; pictures that come sooner than a second after the last are left out */
  add(
    video: HTMLVideoElement,
    corners: readonly Quad[],
    reading: DisplayReading,
    isMirrored: boolean,
    now: number,
  ): void {
    this.beganAt ??= now;
    const seconds = now - this.beganAt;
    const last = this.kept.at(-1)?.seconds ?? -Infinity;
    if (seconds - last < settings.everyS || this.kept.length >= settings.most || corners.length === 0) return;
    const says = [
      `${seconds.toFixed(1)} s`,
      reading.volts === null ? '–' : formatVoltage(reading.volts),
      reading.amps === null ? '–' : formatCurrent(reading.amps, 0),
    ].join('   ');
    this.kept.push({ seconds, says, picture: cutOut(video, corners, isMirrored) });
  }

  /** All of it as one picture; null where there is nothing. */
  async whole(): Promise<Blob | null> {
    if (this.kept.length === 0) return null;
    const { width, rowHeight, columns } = settings;
    const rows = Math.ceil(this.kept.length / columns);
    const canvas = document.createElement('canvas');
    canvas.width = columns * width;
    canvas.height = rows * rowHeight;
    const context = canvas.getContext('2d');
    if (!context) return null;
    context.fillStyle = '#fff';
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.fillStyle = '#000';
    context.font = settings.font;
    this.kept.forEach(({ says, picture }, k) => {
      const [x, y] = [(k % columns) * width, Math.floor(k / columns) * rowHeight];
      const { margin, textHeight } = settings;
      const share = Math.min((width - 2 * margin) / picture.width, (rowHeight - textHeight) / picture.height);
      context.fillText(says, x + margin, y + textHeight - margin);
      context.drawImage(picture, x + margin, y + textHeight, picture.width * share, picture.height * share);
    });
    return new Promise((resolve) => canvas.toBlob(resolve, 'image/png'));
  }
}

/** The part of a picture in which the framed numbers stand. */
function cutOut(video: HTMLVideoElement, corners: readonly Quad[], isMirrored: boolean): HTMLCanvasElement {
  const points = corners.flat();
  const span = (k: 0 | 1): [number, number] => [
    Math.max(0, Math.min(...points.map((p) => p[k])) - settings.around),
    Math.min(1, Math.max(...points.map((p) => p[k])) + settings.around),
  ];
  const [[left, right], [top, bottom]] = [span(0), span(1)];
  const { videoWidth: w, videoHeight: h } = video;
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round((right - left) * w));
  canvas.height = Math.max(1, Math.round((bottom - top) * h));
  const context = canvas.getContext('2d');
  if (isMirrored) context?.setTransform(-1, 0, 0, 1, canvas.width, 0);
  const from = isMirrored ? 1 - right : left;
  context?.drawImage(video, from * w, top * h, canvas.width, canvas.height, 0, 0, canvas.width, canvas.height);
  return canvas;
}
