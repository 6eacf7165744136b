import {
  cornersOf,
  DisplayReader,
  findEitherWay,
  grayOf,
  shippedNetwork,
  type FoundNumber,
  type Framing,
  type GrayImage,
} from '@umbral/core/display';
import type { FromReader, ToReader } from './messages';

/** Reads a display off pictures, beside the page. Pictures stay here: only numbers go back. */
const net = shippedNetwork();
let reader: DisplayReader | null = null;
let kept: Framing | null = null;

const say = (message: FromReader): void => postMessage(message);

function grayIn(picture: ImageBitmap): GrayImage {
  const { width, height } = picture;
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  context?.drawImage(picture, 0, 0);
  picture.close();
  return grayOf(context?.getImageData(0, 0, width, height).data ?? [], width, height);
}

function find(picture: ImageBitmap): void {
  const image = grayIn(picture);
  const found = findEitherWay(net, image);
  const numbers = found.numbers.map(({ quad, reads }: FoundNumber) => ({
    corners: cornersOf(quad, image),
    text: reads.text,
    decimals: reads.decimals,
  }));
  say({ kind: 'found', numbers, isMirrored: found.isMirrored });
}

function read(t: number, picture: ImageBitmap): void {
  const image = grayIn(picture);
  if (kept) {
    reader = new DisplayReader(net, kept);
    say({ kind: 'again', isFound: reader.findAgain(image) });
    kept = null;
  }
  if (!reader) return;
  const reading = reader.take(t, image);
  say({ kind: 'read', t, reading, state: reader.state });
}

addEventListener('message', ({ data }: MessageEvent<ToReader>) => {
  if (data.kind === 'picture') read(data.t, data.picture);
  else if (data.kind === 'find') find(data.picture);
  else if (data.isKept) kept = data.framing;
  else {
    kept = null;
    reader = new DisplayReader(net, data.framing);
  }
});
