import { mirroredImage } from '@umbral/core/display';
import type { FilmedVideo } from './filmed-video.ts';
import settings from './film-file.json';

/**
 * A filmed display as a file that a browser takes for a camera, piece by piece: uncompressed grey pictures.
 *
 * @param seconds of the video
 * @param isMirrored as a camera that is meant for oneself gives it
 * @see YUV4MPEG2, as mjpegtools document it
 */
export function* filmFile(video: FilmedVideo, seconds: number, isMirrored = false): Generator<Uint8Array> {
  const { brightest, noColor } = settings;
  const encoder = new TextEncoder();
  for (let n = 0; n < Math.round(seconds * video.fps); n++) {
    const seen = video.at(n / video.fps).picture;
    const { width, height, data } = isMirrored ? mirroredImage(seen) : seen;
    if (n === 0) yield encoder.encode(`YUV4MPEG2 W${width} H${height} F${video.fps}:1 Ip A1:1 C420jpeg\n`);
    yield encoder.encode('FRAME\n');
    // Brightness in full, colours at half the size each way.
    const bytes = new Uint8Array((width * height * 3) / 2).fill(noColor);
    for (let k = 0; k < data.length; k++) bytes[k] = Math.round(brightest * data[k]);
    yield bytes;
  }
}
