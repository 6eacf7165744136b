/** How often the next picture is waited for, and how long each time, in milliseconds. */
const attempts = 10;
const waitMs = 500;

const nextPicture = (video: HTMLVideoElement): Promise<void> =>
  new Promise((resolve) => {
    const timer = setTimeout(resolve, waitMs);
    video.requestVideoFrameCallback(() => {
      clearTimeout(timer);
      resolve();
    });
  });

/**
 * The picture that a video shows; the next one where it has none at this moment, as between two rounds of a file, or before
 * the first is decoded.
 *
 * @throws {DOMException} of the browser where none comes for seconds
 */
export async function pictureOf(video: HTMLVideoElement): Promise<ImageBitmap> {
  for (let left = attempts; ; left--) {
    try {
      return await createImageBitmap(video);
    } catch (error) {
      if (left === 1) throw error;
      await nextPicture(video);
    }
  }
}
