import {
  drawBoard,
  drawHeat,
  gaussianNoise,
  seededRandom,
  shippedProfiles,
  type DrawnBoard,
  type Profile,
} from '@umbral/core';
import sharp from 'sharp';
import { pictureInput } from '../../record/board-input.ts';
import { keepPicture } from '../boards/boards.ts';
import { type Queries } from '../../record/db.ts';

/** Models of the sample fleet whose boards have a map, and what one job of each has of its own board. */
const mapped = [
  { profile: 'tallgate-pennywren', seed: 31, own: { serial: 'HLS-H-021', net: 'io', shows: 'heat' } },
  { profile: 'fenmoor-larkslate-10', seed: 12, own: { serial: 'HLS-T-009', net: 'main', shows: 'repair' } },
];
/** Good boards that were measured, and how far two of them are apart. */
const goodBoards = 3;
const apart = 0.04;
/** Rails whose good values somebody has taken. */
const measured = 14;

const paint = (svg: string): Promise<Buffer> => sharp(Buffer.from(svg)).png().toBuffer();

/** Drawn boards with points, good readings and a heat picture, for two models of the sample fleet. */
export async function loadSampleBoards(q: Queries): Promise<void> {
  for (const { profile: id, seed, own } of mapped) {
    const profile = shippedProfiles.find((p) => p.id === id);
    if (!profile) continue;
    const board = drawBoard(profile, seed);
    const common = { model: profile.id, side: 'front', revision: 'A' };
    const front = pictureInput.validateSync({ ...common, caption: 'drawn, front' });
    const { sideId } = await keepPicture(front, await paint(board.svg), q);
    await q('board_points').insert(board.points.map((p) => ({ ...p, side_id: sideId })));
    await keepGoodReadings(q, profile, seed);
    await keepOwnPictures(q, id, board, sideId, own);
  }
}

/** What a job of the sample fleet has of its own board: where it was warm, or its capacitor burnt and then taken off. */
async function keepOwnPictures(
  q: Queries,
  model: string,
  board: DrawnBoard,
  sideId: number,
  { serial, net, shows }: (typeof mapped)[number]['own'],
): Promise<void> {
  const job = await q('jobs').where({ serial, is_sample: true }).first('id');
  const at = board.points.find((p) => p.net === net && p.kind === 'capacitor');
  if (!job || !at) return;
  const input = { model, jobId: job.id, sideId };
  for (const { kind, caption, image } of await (shows === 'heat' ? heatOf(board, at) : repairOf(board, at)))
    await keepPicture(pictureInput.validateSync({ ...input, kind, caption }), image, q);
}

interface Shot {
  kind: 'photo' | 'heat';
  caption: string;
  image: Buffer;
}

const heatOf = async (board: DrawnBoard, at: { x: number; y: number }): Promise<Shot[]> => [
  { kind: 'heat', caption: '1 V fed, 20 s', image: await paint(drawHeat(board, at)) },
];

/** Two photographs in the shop's light. */
function repairOf(board: DrawnBoard, at: { x: number; y: number }): Promise<Shot[]> {
  const [x, y] = [at.x * board.width, at.y * board.width];
  const over = {
    'as it came': `<ellipse cx="${x}" cy="${y}" rx="34" ry="26" fill="#120c08" fill-opacity="0.85"/>`,
    'capacitor off': `<rect x="${x - 22}" y="${y - 14}" width="44" height="28" fill="#2c565b"/>`,
  };
  return Promise.all(
    Object.entries(over).map(async ([caption, shape]): Promise<Shot> => {
      const drawn = sharp(Buffer.from(board.svg.replace('</svg>', `${shape}</svg>`)));
      return {
        kind: 'photo',
        caption,
        image: await drawn.modulate({ brightness: 1.25, saturation: 0.8 }).png().toBuffer(),
      };
    }),
  );
}

async function keepGoodReadings(q: Queries, profile: Profile, seed: number): Promise<void> {
  const random = seededRandom(seed);
  const stated = profile.references.filter((r) => r.mode === 'diode').slice(0, measured);
  const rows = stated.flatMap((r) =>
    Array.from({ length: goodBoards }, () => ({
      model_key: profile.id,
      where: r.where,
      mode: r.mode,
      phase: null,
      red_probe: 'ground' as const,
      value: Number((r.value * (1 + apart * gaussianNoise(random))).toFixed(3)),
      ol: false,
      job_id: null,
    })),
  );
  await q('reference_readings').insert(rows);
}
