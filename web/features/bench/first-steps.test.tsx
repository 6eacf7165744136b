import { screen } from '@testing-library/react';
import { show } from '@/testing/show';
import { FirstSteps } from './first-steps';

const none = { measures: false, hasReference: false, hasJob: false };
const all = { measures: true, hasReference: true, hasJob: true };
const panel = () => screen.queryByRole('region', { name: 'First steps' });

test('say how each of them stands', () => {
  show(<FirstSteps steps={{ ...none, hasJob: true }} />);
  expect(panel()?.textContent).toContain('1 of 3 done');
  expect(screen.getByRole('heading', { name: /Create the first job · done/ })).toBeTruthy();
  expect(screen.getByRole('heading', { name: /Connect a supply or meter · 2 min/ })).toBeTruthy();
});

test('whoever reads a display by eye has what measures', async () => {
  const { person } = show(<FirstSteps steps={none} />);
  await person.click(screen.getByRole('button', { name: 'I read the display myself' }));
  expect(screen.getByRole('heading', { name: /Connect a supply or meter · done/ })).toBeTruthy();
});

test('go away when they are done or hidden, and are there again for whoever asks', async () => {
  const done = show(<FirstSteps steps={all} />);
  expect(panel()).toBeNull();
  done.unmount();
  localStorage.setItem('umbral-first-steps', 'always');
  const { person, unmount } = show(<FirstSteps steps={all} />);
  expect(panel()).not.toBeNull();
  await person.click(screen.getByRole('button', { name: 'Hide' }));
  expect(panel()).toBeNull();
  unmount();
  show(<FirstSteps steps={none} />);
  expect(panel()).toBeNull();
});
