import { pictureOf } from './picture';

const picture = { width: 4 } as ImageBitmap;
const none = (): Promise<ImageBitmap> => Promise.reject(new Error('The image source is not usable.'));
/** A video whose next picture is there at once. */
const video = () => {
  const waited = jest.fn((then: () => void) => then());
  return { waited, element: { requestVideoFrameCallback: waited } as unknown as HTMLVideoElement };
};
const make = jest.fn<Promise<ImageBitmap>, []>();
beforeEach(() => Object.assign(globalThis, { createImageBitmap: make.mockReset() }));

test('a video that shows something gives it at once', async () => {
  make.mockResolvedValue(picture);
  const { element, waited } = video();
  expect(await pictureOf(element)).toBe(picture);
  expect(waited).not.toHaveBeenCalled();
});

test('one that shows nothing at this moment gives the next picture', async () => {
  make.mockImplementationOnce(none).mockImplementationOnce(none).mockResolvedValue(picture);
  const { element, waited } = video();
  expect(await pictureOf(element)).toBe(picture);
  expect(waited).toHaveBeenCalledTimes(2);
});

test('one that never shows anything is given up', async () => {
  make.mockImplementation(none);
  await expect(pictureOf(video().element)).rejects.toThrow('not usable');
  expect(make.mock.calls.length).toBeLessThan(20);
});
