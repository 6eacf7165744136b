import { act, renderHook } from '@testing-library/react';
import { holdPage, releasePage, useRouter } from './router';

const push = jest.fn();
const refresh = jest.fn();
const router = { push, refresh };
jest.mock('next/navigation', () => ({ useRouter: () => router }));

beforeEach(() => jest.clearAllMocks());

test('a locked screen keeps its page, and the last move is made once it is open again', async () => {
  const { result } = renderHook(() => useRouter());
  act(() => result.current.push('/jobs/1'));
  expect(push).toHaveBeenCalledWith('/jobs/1');
  await act(holdPage);
  act(() => {
    result.current.refresh();
    result.current.push('/jobs/1?run=r2', { scroll: false });
  });
  expect(push).toHaveBeenCalledTimes(1);
  expect(refresh).not.toHaveBeenCalled();
  const otherwise = jest.fn();
  act(() => releasePage(otherwise));
  expect(push).toHaveBeenLastCalledWith('/jobs/1?run=r2', { scroll: false });
  expect(otherwise).not.toHaveBeenCalled();
  // What was made is not made again.
  await act(holdPage);
  act(() => releasePage(otherwise));
  expect(otherwise).toHaveBeenCalledTimes(1);
  act(() => result.current.refresh());
  expect(refresh).toHaveBeenCalledTimes(1);
});
