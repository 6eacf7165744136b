import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { kept, refused } from '@/testing/show';
import { ToastProvider } from '@/ui/toast';
import { saveMarkers } from './actions';
import { useMarkers } from './use-markers';
import type { RunView } from './view';

jest.mock('./actions', () => ({ saveMarkers: jest.fn() }));
const save = saveMarkers as jest.MockedFunction<typeof saveMarkers>;

type Marker = RunView['markers'][number];
const press = (t: number, more: Partial<Marker> = {}): Marker => ({ t, event: 'prompt', ...more }) as Marker;
const run = (version: number, markers: Marker[]): RunView => ({ id: 4, version, markers }) as RunView;
const wrapper = ({ children }: { children: ReactNode }) => <ToastProvider>{children}</ToastProvider>;
const hook = (first: RunView) =>
  renderHook(({ chosen }) => useMarkers(chosen), { wrapper, initialProps: { chosen: first } });
const rest = () => act(() => jest.advanceTimersByTimeAsync(400));

beforeEach(() => {
  jest.useFakeTimers();
  save.mockReset().mockImplementation((raw) => Promise.resolve(kept((raw as { version: number }).version + 1)));
});
afterEach(() => jest.useRealTimers());

test('what is moved shows at once, and keys in quick succession are one save', async () => {
  const { result } = hook(run(1, [press(2)]));
  act(() => result.current.store([press(2.1)], 'Moved.'));
  act(() => result.current.store([press(2.2)], 'Moved.'));
  expect(result.current.markers).toEqual([press(2.2)]);
  expect(save).not.toHaveBeenCalled();
  await rest();
  expect(save).toHaveBeenCalledTimes(1);
  expect(save).toHaveBeenCalledWith({ runId: 4, version: 1, markers: [{ t: 2.2, event: 'prompt', note: undefined }] });
});

test('what was inferred is not stored as if somebody had set it', async () => {
  const { result } = hook(run(1, []));
  act(() => result.current.store([press(2), press(0, { event: 'output-on', inferred: true })], 'Set.'));
  await rest();
  expect((save.mock.calls[0][0] as { markers: Marker[] }).markers.map((m) => m.t)).toEqual([2]);
});

test('what is moved while a save is under way is saved after it, on the version that it made', async () => {
  let letGo = (): void => undefined;
  save.mockReturnValueOnce(new Promise((resolve) => (letGo = () => resolve(kept(7)))));
  const { result } = hook(run(1, []));
  act(() => result.current.store([press(2)], 'Set.'));
  await rest();
  act(() => result.current.store([press(3)], 'Moved.'));
  await rest();
  expect(save).toHaveBeenCalledTimes(1);
  await act(async () => letGo());
  expect(save).toHaveBeenLastCalledWith(
    expect.objectContaining({ version: 7, markers: [expect.objectContaining({ t: 3 })] }),
  );
});

test('what the server made of it is taken over, and never a page from before the save', async () => {
  const { result, rerender } = hook(run(1, [press(2)]));
  act(() => result.current.store([press(3)], 'Moved.'));
  // A page that was on its way while the marker was moved.
  rerender({ chosen: run(1, [press(2)]) });
  expect(result.current.markers).toEqual([press(3)]);
  await rest();
  rerender({ chosen: run(2, [press(3), press(0, { event: 'output-on', inferred: true })]) });
  expect(result.current.markers).toHaveLength(2);
});

test.each([
  ['a refusal', () => Promise.resolve(refused('Somebody else moved the markers.')), /Somebody else/],
  ['a server that is away', () => Promise.reject(new Error('away')), /could not be reached/],
])('%s puts the markers back and is said', async (_, answer, says) => {
  save.mockImplementationOnce(answer);
  const { result } = hook(run(1, [press(2)]));
  act(() => result.current.store([press(9)], 'Moved.'));
  await rest();
  expect(result.current.markers).toEqual([press(2)]);
  expect(document.body.textContent).toMatch(says);
});

test('leaving the run saves what still waits', async () => {
  const { result, unmount } = hook(run(1, []));
  act(() => result.current.store([press(5)], 'Set.'));
  unmount();
  expect(save).toHaveBeenCalledTimes(1);
});
