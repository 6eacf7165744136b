import {
  cornersOf,
  DisplayReader,
  findInPictures,
  grayOf,
  mirroredImage,
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

function find(pictures: ImageBitmap[], isMirrored: boolean): void {
  const images = pictures.map(grayIn);
  const ways = [images, images.map(mirroredImage)];
  const given = isMirrored ? 1 : 0;
  const found = findInPictures(net, ways[given]);
  // Two numbers are what a display shows: with fewer the other way round may be the right one.
  const readsMirrored = found.length < 2 && findInPictures(net, ways[1 - given].slice(0, 1)).length > found.length;
  const numbers = found.map(({ quad, reads }: FoundNumber) => ({
    corners: cornersOf(quad, images[0]),
    text: reads.text,
    decimals: reads.decimals,
  }));
  say({ kind: 'found', numbers, readsMirrored });
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
  else if (data.kind === 'find') find(data.pictures, data.isMirrored);
  else if (data.isKept) kept = data.framing;
  else {
    kept = null;
    reader = new DisplayReader(net, data.framing);
  }
});
