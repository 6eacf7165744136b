/** A picture in grey: brightness from 0 (black) to 1 (white), row by row. */
export interface GrayImage {
  width: number;
  height: number;
  /** width x height numbers. */
  data: Float32Array;
}

/** Pixels from the left and from the top; 0.5 is the middle of the first. */
export type Point = readonly [x: number, y: number];

/** Corners of something flat in a picture: top left, top right, bottom right, bottom left, as it is read. */
export type Quad = readonly [Point, Point, Point, Point];

/** A black picture. */
export function blankImage(width: number, height: number): GrayImage {
  return { width, height, data: new Float32Array(width * height) };
}

const [red, green, blue] = [0.299, 0.587, 0.114];
const brightest = 255;

/**
 * A picture as a browser gives it, in grey.
 *
 * @param rgba four bytes a pixel
 * @throws {RangeError} where there are not as many bytes as the size needs
 * @see Recommendation ITU-R BT.601
 */
export function grayOf(rgba: ArrayLike<number>, width: number, height: number): GrayImage {
  if (rgba.length !== 4 * width * height)
    throw new RangeError(`Picture: expected ${4 * width * height} bytes for ${width} x ${height}, got ${rgba.length}.`);
  const out = blankImage(width, height);
  for (let k = 0; k < out.data.length; k++)
    out.data[k] = (red * rgba[4 * k] + green * rgba[4 * k + 1] + blue * rgba[4 * k + 2]) / brightest;
  return out;
}

/** Brightness between pixels, bilinear; outside, that of the nearest edge. */
export function brightnessAt({ width, height, data }: GrayImage, x: number, y: number): number {
  const cx = Math.min(width - 1, Math.max(0, x - 0.5));
  const cy = Math.min(height - 1, Math.max(0, y - 0.5));
  const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [cx - x0, cy - y0];
  const top = data[y0 * width + x0] * (1 - fx) + data[y0 * width + x1] * fx;
  const bottom = data[y1 * width + x0] * (1 - fx) + data[y1 * width + x1] * fx;
  return top * (1 - fy) + bottom * fy;
}

/**
 * Mean brightness around every pixel, over a square that is cut off at the edges.
 *
 * @param radius pixels to each side; 0 leaves the picture as it is
 */
export function blurredImage(image: GrayImage, radius: number): GrayImage {
  return radius <= 0 ? image : alongRows(transposed(alongRows(transposed(image), radius)), radius);
}

function transposed({ width, height, data }: GrayImage): GrayImage {
  const out = blankImage(height, width);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out.data[x * height + y] = data[y * width + x];
  return out;
}

function alongRows({ width, height, data }: GrayImage, radius: number): GrayImage {
  const out = blankImage(width, height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    let from = 0;
    let to = -1;
    for (let x = 0; x < width; x++) {
      while (to < Math.min(width - 1, x + radius)) sum += data[row + ++to];
      while (from < x - radius) sum -= data[row + from++];
      out.data[row + x] = sum / (to - from + 1);
    }
  }
  return out;
}

/** A picture made smaller: each pixel the mean of the whole pixels that it covers, one at least. */
export function reducedImage(image: GrayImage, width: number, height: number): GrayImage {
  const out = blankImage(width, height);
  const columns = edgesOf(image.width, width);
  const rows = edgesOf(image.height, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let sy = rows[y]; sy < rows[y + 1]; sy++)
        for (let sx = columns[x]; sx < columns[x + 1]; sx++) sum += image.data[sy * image.width + sx];
      out.data[y * width + x] = sum / ((rows[y + 1] - rows[y]) * (columns[x + 1] - columns[x]));
    }
  return out;
}

/** Where each of so many parts of a length begins, and the last ends; none is empty where the length is enough. */
const edgesOf = (length: number, parts: number): number[] =>
  Array.from({ length: parts + 1 }, (_, k) => Math.round((k * length) / parts));

/** A picture with left and right exchanged, as a camera that is meant for oneself gives it. */
export function mirroredImage({ width, height, data }: GrayImage): GrayImage {
  const out = blankImage(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out.data[y * width + x] = data[y * width + width - 1 - x];
  return out;
}
