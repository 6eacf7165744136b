import { Pauses } from './pauses.ts';

test('pauses double up to the longest, however often it is asked, and begin anew once it was answered', () => {
  const pauses = new Pauses({ min: 300, max: 4000 });
  expect(Array.from({ length: 6 }, () => pauses.next())).toEqual([300, 600, 1200, 2400, 4000, 4000]);
  for (let k = 0; k < 2000; k++) expect(pauses.next()).toBe(4000);
  pauses.reset();
  expect(pauses.next()).toBe(300);
});
