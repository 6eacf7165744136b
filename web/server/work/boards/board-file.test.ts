import sharp from 'sharp';
import { giveTestDatabase } from '../../../testing/database.ts';
import { exportLibrary, importLibrary, type Imported } from '../exchange/exchange.ts';
import { db } from '../../record/db.ts';
import { boardFileOf, takeBoardText } from './board-file.ts';
import type { BoardFile } from '../../analysis/board-format.ts';
import { pictureInput, pointInput } from '../../record/board-input.ts';
import { keepPicture, keepPoint, sidesOf } from './boards.ts';

// Threads are bundled by the web build; here the same work runs on the spot.
process.env.UMBRAL_ENGINE = 'here';

giveTestDatabase();

const model = 'wren of the shelf';
const erase = async (): Promise<void> => {
  await db()('board_sides').delete();
  await db()('reference_readings').delete();
};
beforeEach(async () => {
  await erase();
  const bytes = await sharp({ create: { width: 800, height: 500, channels: 3, background: '#345' } })
    .withExif({ IFD0: { Artist: 'Somebody' } })
    .jpeg()
    .toBuffer();
  const { sideId } = await keepPicture(pictureInput.validateSync({ model, revision: 'B' }), bytes);
  await keepPoint(pointInput.validateSync({ sideId, x: 0.4, y: 0.2, kind: 'coil', name: 'big coil', net: 'run rail' }));
  const reading = { model_key: model, where: 'run rail', mode: 'diode', red_probe: 'ground', ol: false } as const;
  await db()('reference_readings').insert([0.41, 0.41, 0.43].map((value) => ({ ...reading, value })));
});

/** The map as another shop would get it, in a shop that has none. */
async function travelled(withPictures: boolean): Promise<string> {
  const text = JSON.stringify(await boardFileOf(db(), model, withPictures));
  await erase();
  return text;
}

test('a map comes to another shop with its points, good readings and pictures, and with nothing of a job', async () => {
  const text = await travelled(true);
  expect(text).not.toContain('job');
  expect(await takeBoardText(text, model)).toEqual({ model, sides: 1, points: 1, good: 3, known: [] });
  const [side] = await sidesOf(db(), model, null);
  expect(side).toMatchObject({ revision: 'B', points: [{ net: 'run rail', name: 'big coil', x: 0.4, y: 0.2 }] });
  expect(side.pictures).toMatchObject([{ width: 800, height: 500, job_id: null }]);
  expect(JSON.stringify(await boardFileOf(db(), model, false))).toBe(
    JSON.stringify({
      ...(JSON.parse(text) as BoardFile),
      sides: [{ ...(JSON.parse(text) as BoardFile).sides[0], pictures: [] }],
    }),
  );
});

test('what is here already is left as it is, and nothing is counted twice', async () => {
  const text = JSON.stringify(await boardFileOf(db(), model, true));
  expect(await takeBoardText(text, null)).toEqual({
    model,
    sides: 0,
    points: 0,
    good: 0,
    known: ['front, revision B'],
  });
  expect(await db()('reference_readings').where({ model_key: model })).toHaveLength(3);
});

test.each<[string, (file: BoardFile) => unknown, RegExp]>([
  ['no JSON', () => 'x', /format/],
  ['another format', (f) => ({ ...f, format: 'umbral-board/2' }), /format: expected umbral-board\/1/],
  ['another model', (f) => ({ ...f, model: 'other' }), /This map is of other/],
  ['a point outside', (f) => withPoint(f, { y: 3 }), /outside the board/],
  ['a kind that there is not', (f) => withPoint(f, { kind: 'magic' }), /sides\[0\]\.points\[0\]\.kind/],
  ['a picture that is none', (f) => withPicture(f, { jpeg: 'AAAA' }), /cannot be read/],
  ['points on one another', (f) => withPicture(f, { pairs: [] }), /expected 2 to 4 shared points/],
  [
    'a reading that says nothing of its probes',
    (f) => ({ ...f, good: [{ ...f.good[0], redProbe: null }] }),
    /how it was taken/,
  ],
])('%s is refused with its place, and nothing is kept', async (_, change, message) => {
  const file = JSON.parse(await travelled(true)) as BoardFile;
  await expect(takeBoardText(JSON.stringify(change(file)), model)).rejects.toThrow(message);
  expect(await sidesOf(db(), model, null)).toEqual([]);
});

const withPoint = (f: BoardFile, more: object): unknown => ({
  ...f,
  sides: [{ ...f.sides[0], points: [{ ...f.sides[0].points[0], ...more }] }],
});
const withPicture = (f: BoardFile, more: object): unknown => ({
  ...f,
  sides: [{ ...f.sides[0], pictures: [{ ...f.sides[0].pictures[0], ...more }] }],
});

test('maps travel in a library of the shop', async () => {
  const library = await exportLibrary('Hill library', 'for your own bench', true);
  await erase();
  async function* blocks(): AsyncGenerator<Uint8Array> {
    yield await Promise.resolve(Buffer.from(library));
  }
  const asked = await importLibrary(blocks(), 'hill.ndjson', '');
  const { fingerprint } = asked as Extract<Imported, { state: 'unknown' }>;
  expect(await importLibrary(blocks(), 'hill.ndjson', fingerprint)).toMatchObject({ state: 'taken', boards: 1 });
  expect(await sidesOf(db(), model, null)).toMatchObject([{ pictures: [{}], points: [{ net: 'run rail' }] }]);
});
