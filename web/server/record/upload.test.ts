import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { asActor, type Actor } from './actor.ts';
import { withUpload, type Upload } from './upload.ts';

const person = (id: number): Actor => ({
  person: { id, name: String(id), role: 'technician' },
  token: null,
  tokenId: null,
});
const textOf = async (file: Upload): Promise<string> => {
  let text = '';
  for await (const piece of file.read()) text += Buffer.from(piece).toString();
  return text;
};
async function* sent(...pieces: string[]): AsyncGenerator<Uint8Array> {
  for (const piece of pieces) yield await Promise.resolve(Buffer.from(piece));
}
/** A sender that goes silent, until it is let go on. */
function silent() {
  let go = (): void => undefined;
  const wait = new Promise<void>((resolve) => (go = resolve));
  async function* source(): AsyncGenerator<Uint8Array> {
    yield Buffer.from('a');
    await wait;
  }
  return { source: source(), go };
}
const names = (): string[] => readdirSync(tmpdir()).filter((name) => name.startsWith('umbral-upload-'));

test('a file is read as often as it is asked, in pieces too, and has no name meanwhile', async () => {
  await withUpload(sent('one ', 'two'), 'f', async (file) => {
    expect(names()).toEqual([]);
    expect([await textOf(file), await textOf(file), file.size]).toEqual(['one two', 'one two', 7]);
    expect(Buffer.from(await file.access.read(4, 99)).toString()).toBe('two');
  });
});

test('whoever sends many files and no end keeps nobody else from sending, and is told', async () => {
  const held = Array.from({ length: 6 }, silent);
  const running = held.map(({ source }) =>
    asActor(person(1), () => withUpload(source, 'f', () => Promise.resolve('done'))),
  );
  await expect(asActor(person(1), () => withUpload(sent('x'), 'f', textOf))).rejects.toThrow(
    'You are already uploading 6 files.',
  );
  for (let k = 0; k < 12; k++)
    expect(await asActor(person(2), () => withUpload(sent('mine'), 'f', textOf))).toBe('mine');
  held.forEach(({ go }) => go());
  expect(await Promise.all(running)).toEqual(held.map(() => 'done'));
  expect(await asActor(person(1), () => withUpload(sent('again'), 'f', textOf))).toBe('again');
});

test('many at once are worked with in turn, and one that fails holds up no other', async () => {
  let [now, most] = [0, 0];
  const work = async (): Promise<void> => {
    most = Math.max(most, ++now);
    await new Promise((resolve) => setImmediate(resolve));
    now--;
    throw new Error('no');
  };
  const all = Array.from({ length: 20 }, (_, k) => asActor(person(k), () => withUpload(sent('x'), 'f', work)));
  const settled = await Promise.allSettled(all);
  expect(settled.every((s) => s.status === 'rejected')).toBe(true);
  expect(most).toBeLessThanOrEqual(4);
});
