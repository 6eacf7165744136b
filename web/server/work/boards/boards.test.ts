import sharp from 'sharp';
import { giveTestDatabase } from '../../../testing/database.ts';
import { createJob } from '../entries/job-edits.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import { layInput, markInput, pictureInput, pointInput, straightenInput } from '../../record/board-input.ts';
import {
  addPicture,
  hottestPlace,
  keepMark,
  keepPoint,
  layPicture,
  mergeNets,
  pictureBytes,
  setNet,
  setOffMap,
  setRevision,
  sidesOf,
  straighten,
} from './boards.ts';
import { causePlace, cutImage } from './cause-cut.ts';
import { causesOf, netsOf, pointMeant, sayCause } from './causes.ts';
import type { JobRow } from '../../record/rows.ts';
import { shippedProfiles } from '@umbral/core';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));
giveTestDatabase();

beforeEach(async () => {
  await db()('board_sides').delete();
});

const profile = shippedProfiles.find((p) => !p.generic)!;

async function* blocks(bytes: Buffer): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
}

/** A photograph with everything in it that a telephone writes. */
const photograph = (width = 400, height = 300): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#245' } })
    .withExif({ IFD0: { Artist: 'Somebody', Make: 'Telephone' }, IFD3: { GPSLatitudeRef: 'N' } })
    .jpeg()
    .toBuffer();

const picture = async (more: object = {}, bytes?: Buffer) =>
  addPicture(pictureInput.validateSync({ model: profile.id, ...more }), blocks(bytes ?? (await photograph())));
const point = (more: object) =>
  keepPoint(pointInput.validateSync({ x: 0.5, y: 0.3, kind: 'coil', net: profile.rails[0].name, ...more }));
const job = (): Promise<number> =>
  createJob(jobInput.validateSync({ label: 'phone', deviceClass: 'phone', model: profile.name, intake: {} }));
const side = async (jobId: number | null = null) => (await sidesOf(db(), profile.id, jobId))[0];

describe('pictures', () => {
  test('the first makes a side, the next lies on it; nothing of the file but its pixels is kept', async () => {
    const first = await picture();
    expect(first.isNew).toBe(true);
    const second = await picture({ sideId: first.sideId });
    expect(second).toMatchObject({ sideId: first.sideId, isNew: false });
    const { height, pictures } = await side();
    expect(height).toBeCloseTo(0.75, 6);
    expect(pictures).toHaveLength(2);
    const kept = await sharp(await pictureBytes(first.pictureId, 'image')).metadata();
    expect([kept.exif, kept.xmp, kept.iptc]).toEqual([undefined, undefined, undefined]);
  });

  test('twice the same side is one side; front, back and revisions are others', async () => {
    const [a, b] = [await picture(), await picture()];
    expect(b.sideId).toBe(a.sideId);
    const others = [await picture({ side: 'back' }), await picture({ revision: 'B' })];
    expect(new Set([a.sideId, ...others.map((o) => o.sideId)]).size).toBe(3);
  });

  test.each([
    ['no picture', async () => Buffer.from('not a picture at all'), 'cannot be read'],
    [
      'a drawing',
      async () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'),
      'a svg file',
    ],
    [
      'a hundred megapixels',
      () =>
        sharp({ create: { width: 10_000, height: 10_000, channels: 3, background: '#000' } })
          .png()
          .toBuffer(),
      '100 megapixels, at most 60 are taken',
    ],
    [
      'a strip',
      () =>
        sharp({ create: { width: 10, height: 600, channels: 3, background: '#000' } })
          .png()
          .toBuffer(),
      'one side is 60 times as long as the other; expected at most 8 times.',
    ],
  ])('%s is refused in words, and nothing is kept', async (_, make, message) => {
    await expect(picture({}, await make())).rejects.toThrow(message);
    expect(await side()).toBeUndefined();
  });

  test('a heat picture needs a photograph under it', async () => {
    await expect(picture({ kind: 'heat' })).rejects.toThrow('add a photograph of this side first');
  });

  test("a job's own picture is on the map of that job alone", async () => {
    const { sideId } = await picture();
    const [mine, other] = [await job(), await job()];
    await picture({ sideId, jobId: mine });
    expect([(await side(mine)).pictures.length, (await side(other)).pictures.length]).toEqual([2, 1]);
  });
});

describe('how pictures lie', () => {
  const corners = [
    [0.1, 0.1],
    [0.9, 0.1],
    [0.9, 0.5],
    [0.1, 0.5],
  ];

  test('straightened by corners, points stay where they were seen; the old corners bring everything back', async () => {
    const { sideId, pictureId } = await picture();
    await point({ sideId, x: 0.5, y: 0.3 });
    const before = await straighten(straightenInput.validateSync({ pictureId, corners }));
    const straight = await side();
    expect(straight.height).toBeCloseTo(0.5, 6);
    expect([straight.points[0].x, straight.points[0].y]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.25, 6)]);
    await straighten(straightenInput.validateSync({ pictureId, corners: before }));
    const back = await side();
    expect(back.height).toBeCloseTo(0.75, 6);
    expect([back.points[0].x, back.points[0].y]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.3, 6)]);
  });

  test('corners that leave a point outside are refused by its name', async () => {
    const { sideId, pictureId } = await picture();
    await point({ sideId, x: 0.02, y: 0.02, name: 'coil at the edge' });
    const wrong = straightenInput.validateSync({ pictureId, corners });
    await expect(straighten(wrong)).rejects.toThrow('coil at the edge would lie outside the board');
    expect((await side()).height).toBeCloseTo(0.75, 6);
  });

  test('laid by shared points, told how it lay before; wrong points change nothing', async () => {
    const { sideId } = await picture();
    const { pictureId } = await picture({ sideId });
    const pairs = corners.map((from) => ({ from, to: [from[0] / 2, from[1] / 2] }));
    const before = await layPicture(layInput.validateSync({ pictureId, pairs }));
    expect(before).toHaveLength(4);
    const mirrored = pairs.map(({ from, to }) => ({ from: [1 - from[0], from[1]], to }));
    await expect(layPicture(layInput.validateSync({ pictureId, pairs: mirrored }))).rejects.toThrow('mirrored');
    expect((await side()).pictures[1].pairs).toEqual(pairs);
  });
});

describe('points', () => {
  test("a rail's name becomes its net and circuit; other names are nets of their own", async () => {
    const { sideId } = await picture();
    await point({ sideId });
    await point({ sideId, net: 'mystery pad', x: 0.2 });
    const { points } = await side();
    expect(points.map((p) => [p.net, p.circuit])).toEqual([
      [profile.rails[0].id, profile.rails[0].circuit],
      ['mystery pad', null],
    ]);
  });

  test('one outside the board is refused', async () => {
    const { sideId } = await picture();
    await expect(point({ sideId, y: 0.9 })).rejects.toThrow('outside the board');
    await expect(async () => point({ sideId, x: 1.2 })).rejects.toThrow('outside the board');
  });

  test('changed, told what it was; removed and put back', async () => {
    const { sideId } = await picture();
    const { id } = await point({ sideId });
    const { was } = await point({ id, sideId, x: 0.7, name: 'big coil' });
    expect(was).toMatchObject({ x: 0.5, name: '' });
    await setOffMap({ of: 'point', id, removed: true });
    expect((await side()).points).toEqual([]);
    await setOffMap({ of: 'point', id, removed: false });
    expect((await side()).points).toMatchObject([{ x: 0.7, name: 'big coil' }]);
  });

  test('two nets become one, and two again', async () => {
    const { sideId } = await picture();
    for (const net of ['coil row', 'coil row', 'other']) await point({ sideId, net });
    const changed = await mergeNets({ sideId, from: 'coil row', into: 'other' });
    expect((await side()).points.map((p) => p.net)).toEqual(['other', 'other', 'other']);
    await setNet(changed, 'coil row');
    expect((await side()).points.map((p) => p.net)).toEqual(['coil row', 'coil row', 'other']);
  });
});

test('the hottest place of a heat picture is where it is brightest, on the board', async () => {
  const { sideId } = await picture();
  const spot = '<svg width="400" height="300"><circle cx="300" cy="90" r="12" fill="#ffe"/></svg>';
  const warm = await sharp(await photograph())
    .composite([{ input: Buffer.from(spot) }])
    .jpeg()
    .toBuffer();
  const { pictureId } = await picture({ sideId, kind: 'heat' }, warm);
  const { x, y } = await hottestPlace(pictureId);
  expect(Math.hypot(x - 300 / 400, y - 90 / 400)).toBeLessThan(0.01);
  const half = [0, 1].map((k) => ({ from: [k, 0], to: [k / 2, 0] }));
  await layPicture(layInput.validateSync({ pictureId, pairs: half }));
  expect((await hottestPlace(pictureId)).x).toBeCloseTo(x / 2, 6);
});

test('a mark is an observation, and goes with it', async () => {
  const { sideId } = await picture();
  const jobId = await job();
  const area = [
    [0.1, 0.1],
    [0.2, 0.1],
    [0.2, 0.2],
  ];
  const common = { jobId, sideId, area };
  const id = await keepMark(
    markInput.validateSync({ ...common, kind: 'corrosion', where: 'small coil', circuit: 'rail.run' }),
  );
  await keepMark(markInput.validateSync({ ...common, kind: 'heat', where: 'capacitor', fed: 'main rail' }));
  const seen = () => db()('checks').where({ job_id: jobId }).whereNull('deleted_at').orderBy('id');
  expect(await seen()).toMatchObject([
    { check_id: 'visual', outcome: 'corrosion', where: 'small coil', circuit: 'rail.run' },
    { check_id: 'heat-view', outcome: 'one-spot', where: 'capacitor', rail: 'main rail' },
  ]);
  await setOffMap({ of: 'mark', id, removed: true });
  expect((await seen()).map((c) => c.outcome)).toEqual(['one-spot']);
  expect((await side(jobId)).marks).toHaveLength(1);
  await setOffMap({ of: 'mark', id, removed: false });
  expect(await seen()).toHaveLength(2);
});

test('the revision of a job is kept, and can be corrected', async () => {
  const jobId = await job();
  for (const revision of ['A', 'B']) await setRevision(jobId, revision);
  expect(await db()('job_boards').where({ job_id: jobId })).toMatchObject([{ revision: 'B' }]);
});

describe('where earlier causes were', () => {
  test('closed repairs of the model are counted by what was at fault', async () => {
    for (const target of ['Big Coil', 'big coil', 'port'])
      await db()('jobs')
        .where({ id: await job() })
        .update({
          profile: profile.id,
          outcome_grade: 'measured',
          outcome_circuit: 'rail.run',
          outcome_target: target,
          closed_at: new Date(),
        });
    const causes = await causesOf(db(), profile.id);
    expect(causes.map((c) => [c.target.toLowerCase(), c.times])).toEqual([
      ['big coil', 2],
      ['port', 1],
    ]);
    expect(causes.map(sayCause)).toEqual([expect.stringMatching(/^here twice: big coil/i), 'here once: port']);
  });

  test('of a net the point on the part that was named is meant, else any', () => {
    const [rail] = profile.rails;
    const points = (['coil', 'capacitor', 'test-point'] as const).map((kind) => ({ kind, name: '', net: rail.id }));
    const kindOf = (target: string) => pointMeant(points, target, profile)?.kind ?? null;
    expect(kindOf(`capacitor on the ${rail.name}`)).toBe('capacitor');
    expect(kindOf(`test point of ${rail.name}`)).toBe('test-point');
    expect(kindOf(rail.name)).toBe('coil');
    expect([kindOf(''), kindOf('something else')]).toEqual([null, null]);
    const named = [...points, { kind: 'pad' as const, name: 'Big Coil', net: 'x' }];
    expect(pointMeant(named, 'big coil', profile)?.kind).toBe('pad');
  });

  test('a converter stands for what it makes, a load for what it hangs on', () => {
    const [converter] = profile.converters;
    expect(netsOf(profile, converter.name)).toEqual(expect.arrayContaining(converter.to));
    const part = profile.parts.find((p) => p.rail !== null)!;
    expect(netsOf(profile, part.id)).toContain(part.rail);
    expect(netsOf(profile, profile.rails[2].name)).toContain(profile.rails[2].id);
    expect(netsOf(profile, `capacitor on the ${profile.rails[2].name}`)).toContain(profile.rails[2].id);
    expect(netsOf(profile, 'nothing of this name')).toEqual([]);
    expect(netsOf(null, ' big coil ')).toEqual(['big coil']);
  });
});

describe('the cut of the map for a report', () => {
  const closed = (id: number, more: Partial<JobRow> = {}) =>
    ({ id, profile: profile.id, model: '', outcome_circuit: 'rail.run', outcome_target: '', ...more }) as JobRow;

  test("is around the point of what was closed, on this device's own pictures where there are any", async () => {
    const { sideId, pictureId } = await picture();
    const jobId = await job();
    await point({ sideId, x: 0.2, y: 0.2, name: 'big coil' });
    const named = closed(jobId, { outcome_target: 'Big Coil' });
    expect(await causePlace(db(), named, profile)).toMatchObject({ x: 0.2, y: 0.2, pictures: [{ id: pictureId }] });
    const rail = closed(jobId, { outcome_target: profile.rails[0].name });
    expect(await causePlace(db(), rail, profile)).toMatchObject({ x: 0.2, net: profile.rails[0].id });
    const own = await picture({ sideId, jobId });
    expect((await causePlace(db(), named, profile))?.pictures.map((p) => p.id)).toEqual([own.pictureId]);
  });

  test('is where its circuit was marked, where no point is known; nowhere where nothing is', async () => {
    const { sideId } = await picture();
    const jobId = await job();
    expect(await causePlace(db(), closed(jobId), profile)).toBeNull();
    const area = [
      [0.1, 0.1],
      [0.3, 0.1],
      [0.3, 0.3],
      [0.1, 0.3],
    ];
    await keepMark(markInput.validateSync({ jobId, sideId, area, kind: 'burnt', circuit: 'rail.run' }));
    expect(await causePlace(db(), closed(jobId), profile)).toMatchObject({ x: expect.closeTo(0.2, 9), net: '' });
    expect(await causePlace(db(), closed(jobId, { outcome_circuit: null }), profile)).toBeNull();
  });

  test('shows the place from the front, with a ring around it', async () => {
    const dot = '<svg width="400" height="300"><rect x="196" y="146" width="8" height="8" fill="#fff"/></svg>';
    const board = await sharp(await photograph())
      .composite([{ input: Buffer.from(dot) }])
      .png()
      .toBuffer();
    const { pictureId } = await picture({}, board);
    const { data, info } = await sharp(await cutImage(pictureId, [0.5, 0.375]))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([480, 360]);
    const at = (x: number, y: number): number => data[(180 + y) * 480 + 240 + x];
    expect(at(0, 0)).toBeGreaterThan(200);
    expect(at(100, 0)).toBeLessThan(120);
    expect(at(0, -30)).not.toBe(at(0, -60));
  });
});
