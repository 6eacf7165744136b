import { giveTestDatabase } from '../../../testing/database.ts';
import { addCamera, loadCameras, saveFraming } from './cameras.ts';
import { db } from '../../record/db.ts';
import { saveInstrument } from './instruments.ts';

giveTestDatabase();
afterEach(() => db()('instruments').delete());

const corners = [
  [0.2, 0.2],
  [0.6, 0.2],
  [0.6, 0.3],
  [0.2, 0.3],
];
const framing = { numbers: [{ quantity: 'amps', corners, unit: 1, decimals: 3 }], isMirrored: false };

test('a display that a camera reads is an instrument, and how it is framed is kept with it', async () => {
  const key = await addCamera('Old supply');
  expect(await loadCameras()).toEqual([{ key: 'old-supply', name: 'Old supply', framing: null }]);
  await saveFraming(key, framing);
  expect((await loadCameras())[0].framing).toEqual(framing);
  const written = await db()('audit').where({ what: 'display framed' }).first<{ detail: object } | undefined>();
  expect(written?.detail).toEqual({ instrument: key, numbers: ['amps'] });
});

test('what cannot be is refused with its place, and nothing changes', async () => {
  const key = await addCamera('Old supply');
  await saveFraming(key, framing);
  await expect(saveFraming(key, { ...framing, numbers: [] })).rejects.toThrow('at least one number');
  await expect(saveFraming('nobody', framing)).rejects.toThrow('This camera');
  await expect(addCamera('  ')).rejects.toThrow('name');
  const other = await saveInstrument(null, 0, {
    name: 'Right supply',
    kind: 'supply',
    transport: { kind: 'tcp', host: '127.0.0.1', port: 5025 },
    dialect: 'scpi-usual',
  });
  await expect(saveFraming(other.key, framing)).rejects.toThrow('This camera');
  expect(await loadCameras()).toEqual([{ key, name: 'Old supply', framing }]);
});

test('a framing of another version that cannot be read is framed anew', async () => {
  const key = await addCamera('Old supply');
  await db()('instruments')
    .where({ key })
    .update({ framing: JSON.stringify({ fields: [] }) });
  expect((await loadCameras())[0].framing).toBeNull();
});
