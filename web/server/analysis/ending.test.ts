import { Ending } from './ending.ts';

test('nobody is remembered whose work is done, and everybody who waits is told of the end', async () => {
  const ending = new Ending();
  for (let n = 0; n < 100; n++) expect(await ending.beside(Promise.resolve(n))).toBe(n);
  await expect(ending.beside(Promise.reject(new Error('no')))).rejects.toThrow('no');
  expect(ending.count).toBe(0);
  const never = new Promise<number>(() => undefined);
  const waits = [ending.beside(never), ending.beside(never)];
  expect(ending.count).toBe(2);
  ending.end(new Error('the thread ended'));
  for (const wait of waits) await expect(wait).rejects.toThrow('the thread ended');
  await expect(ending.beside(never)).rejects.toThrow('the thread ended');
});
