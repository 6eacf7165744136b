import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import {
  loadInstruments,
  removeInstrument,
  restoreInstrument,
  saveCalibration,
  saveInstrument,
  type InstrumentInput,
} from './instruments.ts';
import { loadPolicy, policyInput, savePolicy } from '../../work/shop/policy.ts';

// No recorder runs here: what is saved has to be saved all the same.
giveTestDatabase();
afterEach(async () => {
  await db()('instruments').delete();
  // Rows of the record go only with what deletes for good.
  await db().transaction(async (q) => {
    await q.raw("SELECT set_config('umbral.erasing', 'yes', true)");
    await q('calibrations').delete();
  });
  await db()('shop_policy').delete();
});

const supply: InstrumentInput = {
  name: 'Left supply',
  kind: 'supply',
  transport: { kind: 'tcp', host: '127.0.0.1', port: 5025 },
  dialect: 'scpi-usual',
};
const by = { against: 'bench meter 2', technician: 'the one on duty' };
const points = [
  { trusted: 0, shown: 0.01, spread: 0.0005 },
  { trusted: 1, shown: 1.03, spread: 0.0005 },
];

describe('the instruments of the bench', () => {
  test('are kept without a recorder, which is said', async () => {
    const { key, problems } = await saveInstrument(null, 0, supply);
    expect(key).toBe('left-supply');
    expect(problems[0]).toMatch(/^It is saved\. No recorder is/);
    const { instruments, problems: said } = await loadInstruments();
    expect(instruments.map((i) => [i.spec.name, i.version])).toEqual([['Left supply', 1]]);
    expect(said[0]).toMatch(/No recorder is running/);
  });

  test('two of one name have keys of their own; a name without letters has one too', async () => {
    expect((await saveInstrument(null, 0, supply)).key).toBe('left-supply');
    expect((await saveInstrument(null, 0, supply)).key).toBe('left-supply-2');
    expect((await saveInstrument(null, 0, { ...supply, name: '№ 1' })).key).toMatch(/^[a-z0-9-]+$/);
    expect((await saveInstrument(null, 0, { ...supply, name: '***' })).key).toBe('instrument');
  });

  test('two people who change one are told', async () => {
    const { key } = await saveInstrument(null, 0, supply);
    await saveInstrument(key, 1, { ...supply, name: 'Right supply' });
    await expect(saveInstrument(key, 1, { ...supply, name: 'Wrong supply' })).rejects.toThrow('Someone else saved');
    await expect(removeInstrument(key, 1)).rejects.toThrow('Someone else saved');
    expect((await loadInstruments()).instruments[0]).toMatchObject({ version: 2, spec: { name: 'Right supply', key } });
  });

  test('what cannot be reached that way is refused with its place', async () => {
    const wrong = { ...supply, transport: { kind: 'tcp' as const, host: 'x', port: 90_000 } };
    await expect(saveInstrument(null, 0, wrong)).rejects.toThrow('transport.port must be less than or equal to 65535');
    await expect(saveInstrument('nobody', 1, supply)).rejects.toThrow('This instrument no');
    expect((await loadInstruments()).instruments).toEqual([]);
  });

  test('one that is taken away can be put back with its calibration', async () => {
    const { key } = await saveInstrument(null, 0, supply);
    await saveCalibration(key, 'current', points, by);
    const { spec } = await removeInstrument(key, 2);
    expect((await loadInstruments()).instruments).toEqual([]);
    await restoreInstrument(spec);
    const [back] = (await loadInstruments()).instruments;
    expect(back.spec.calibration.gainA).toBeCloseTo(1.02, 9);
    expect(back.calibrations).toHaveLength(1);
    await expect(restoreInstrument(spec)).rejects.toThrow('Someone else saved');
  });
});

describe('where an instrument may be', () => {
  const at = (host: string) => ({
    name: 'Far supply',
    kind: 'supply' as const,
    dialect: 'scpi-usual',
    transport: { kind: 'tcp' as const, host, port: 5025 },
  });
  const allow = async (networks: string[]): Promise<void> => {
    const policy = await loadPolicy(db());
    await savePolicy(policyInput.validateSync({ ...policy, success: 80, networks }));
  };

  test('elsewhere than on this computer only in networks that a lead has allowed', async () => {
    await expect(saveInstrument(null, 0, at('10.20.30.7'))).rejects.toThrow(
      'is outside the networks allowed for instruments. A lead can',
    );
    await allow(['10.20.30.0/24']);
    await saveInstrument(null, 0, at('10.20.30.7'));
    await expect(saveInstrument(null, 0, at('10.20.31.7'))).rejects.toThrow('is outside the networks');
  });

  test('never at a link-local address, whatever is asked for', async () => {
    await expect(saveInstrument(null, 0, at('169.254.169.254'))).rejects.toThrow('is outside the networks');
    await expect(allow(['169.254.0.0/16'])).rejects.toThrow('Networks: expected one per line, such as 10.20.30.0/24');
    await expect(allow(['0.0.0.0/0'])).rejects.toThrow('Networks: expected one');
  });

  test('a change of its address stands in the audit trail', async () => {
    const { key } = await saveInstrument(null, 0, at('127.0.0.1'));
    await saveInstrument(key, 1, at('127.0.0.2'));
    const rows = (await db()('audit').whereRaw("detail->>'instrument' = ?", [key]).orderBy('id')) as unknown as {
      what: string;
      detail: { from: { host: string } | null; to: { host: string } };
    }[];
    const [added, changed] = rows.slice(-2);
    expect([added.what, changed.what]).toEqual(['instrument added', 'instrument changed']);
    expect([changed.detail.from?.host, changed.detail.to.host]).toEqual(['127.0.0.1', '127.0.0.2']);
  });
});

describe('a calibration', () => {
  test('corrects one quantity, leaves the other, and stays on record', async () => {
    const { key } = await saveInstrument(null, 0, supply);
    expect((await saveCalibration(key, 'current', points, by)).offset).toBeCloseTo(0.01, 9);
    const volts = [
      { trusted: 1, shown: 1.05, spread: 0.001 },
      { trusted: 12, shown: 12.05, spread: 0.001 },
    ];
    await saveCalibration(key, 'voltage', volts, by);
    const [{ spec, calibrations, version }] = (await loadInstruments()).instruments;
    expect(spec.calibration.gainA).toBeCloseTo(1.02, 9);
    expect(spec.calibration.gainV).toBeCloseTo(1, 9);
    expect(spec.calibration.offsetV).toBeCloseTo(0.05, 9);
    expect(calibrations.map((c) => c.quantity)).toEqual(['voltage', 'current']);
    expect(calibrations[1]).toMatchObject({ against: 'bench meter 2', points });
    expect(version).toBe(3);
  });

  test('that makes no sense is refused, and nothing is kept', async () => {
    const { key } = await saveInstrument(null, 0, supply);
    await expect(saveCalibration(key, 'current', points.slice(1), by)).rejects.toThrow('Two points are needed');
    await expect(saveCalibration('nobody', 'current', points, by)).rejects.toThrow('no longer');
    expect(await db()('calibrations')).toEqual([]);
  });

  test('outlives an edit of the instrument', async () => {
    const { key } = await saveInstrument(null, 0, supply);
    await saveCalibration(key, 'current', points, by);
    await saveInstrument(key, 2, { ...supply, transport: { kind: 'serial', path: '/dev/ttyS9', baudRate: 9600 } });
    expect((await loadInstruments()).instruments[0].spec.calibration.offsetA).toBeCloseTo(0.01, 9);
  });
});
