import { once } from 'node:events';
import { request as httpRequest } from 'node:http';
import knex from 'knex';
import { unknownInstrument, unknownSetup } from '@umbral/core';
import { CuttableWay } from '../testing/proxy.ts';
import { recorderClient } from '../testing/recorder-client.ts';
import { now, token, until, useRecorders } from '../testing/recorders.ts';
import { unpackSamples } from '../store/samples.ts';
import { Spool } from '../store/spool.ts';
import { noCalibration } from '../instrument/spec.ts';
import { DatabaseKeeper, Recorder, Recording } from './index.ts';
import policy from './policy.json';

const use = useRecorders();
const { bench, recorder, ownProcess, samplesOf, rowOf, closing } = use;
const kept = (db = use.schema.db) => ({ keeper: new DatabaseKeeper(db), spool: new Spool(use.ownFolder()) });

describe('a recording', () => {
  test('ends before its output goes off: neither what falls then nor a marker of it is in the run', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const [id, along] = [await r.record('supply'), await r.record('meter')];
    await r.switchOn();
    await until(async () => ((await r.state('supply')).volts ?? 0) > 3, 'the voltage');
    await r.moreSamples('supply', 10);
    const { value } = await r.call('/stop', { instrument: 'supply', along: ['meter'], off: ['supply'] });
    expect(value).toEqual({ recording: id, along: [along], problem: null });
    expect(await r.state('supply')).toMatchObject({ outputOn: false, recording: null });
    const row = await rowOf(id);
    expect((row?.markers as { event: string }[]).map((m) => m.event)).toEqual(['output-on']);
    const blocks = await use.schema.db('recording_chunks').where({ recording_id: id }).orderBy('seq');
    const { v } = await unpackSamples(blocks.at(-1) as { rows: number; samples: Buffer });
    expect(v.at(-1)).toBeGreaterThan(3);
  });

  test('whose output will not go off is kept all the same, and it is said', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const id = await r.record('meter');
    await r.moreSamples('meter', 5);
    const { value } = await r.call('/stop', { instrument: 'meter', off: ['nothing'] });
    expect(value).toMatchObject({ problem: 'There is no instrument "nothing".' });
    expect((await r.call('/stop', { instrument: 'meter' })).value).toMatchObject({ recording: id });
  });

  test('is written while it goes on, with its markers, and finished when everything is in', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const id = await r.record('supply');
    await r.switchOn();
    parts.simulated.act({ does: 'press' });
    await r.call('/mark', { instrument: 'supply', event: 'prompt' });
    await until(async () => (await samplesOf(id)).length > 20, 'samples in the database');
    expect((await rowOf(id))?.state).toBe('recording');
    await until(async () => ((await r.state('supply')).amps ?? 0) > 0.05, 'the start');
    expect((await r.call('/stop', { instrument: 'supply' })).value).toMatchObject({ recording: id });
    const row = await rowOf(id);
    expect(row).toMatchObject({ state: 'finished', problem: null, gaps: [] });
    expect((row?.markers as { event: string }[]).map((m) => m.event)).toEqual(['output-on', 'prompt']);
    const set = row?.set_to as { t: number; volts: number; limitA: number; on: boolean }[];
    expect(set.map((s) => s.on)).toEqual([false, true]);
    // As it says itself, from when it went on.
    expect(set[1]).toMatchObject({ volts: 3.85, limitA: 2 });
    expect(set[1].t).toBeGreaterThanOrEqual(0);
  });

  test('two instruments at once stand on one clock', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const ids = [await r.record('supply'), await r.record('meter')];
    await until(async () => (await samplesOf(ids[1])).length > 200, 'samples');
    for (const key of ['supply', 'meter']) await r.call('/stop', { instrument: key });
    const [a, b] = await Promise.all(ids.map(rowOf));
    const apart = Math.abs(Number(new Date(String(a?.started_at))) - Number(new Date(String(b?.started_at))));
    expect(apart).toBeLessThan(2000);
    const t = await samplesOf(ids[1]);
    expect((t.length - 1) / (t[t.length - 1] - t[0])).toBeCloseTo(200, -1);
  });

  test('a second one of the same instrument is refused, with the job that has it', async () => {
    const r = await recorder(await bench());
    await r.record('meter');
    await expect(r.record('meter')).rejects.toThrow(`the meter is already recording for job ${use.jobId}`);
  });

  test('a database that goes away for seconds costs no sample', async () => {
    const { hostname, port } = new URL(use.schema.url);
    const way = new CuttableWay({ host: hostname, port: Number(port) });
    const through = new URL(use.schema.url);
    through.port = String(await way.listen());
    closing.push(() => way.close());
    const parts = await bench();
    const r = await recorder(parts, through.href);
    const id = await r.record('meter');
    await until(async () => (await samplesOf(id)).length > 100, 'samples before');
    way.cut();
    await until(async () => (await r.state('meter')).recording?.problem, 'the trouble is said');
    expect((await r.state('meter')).recording?.problem).toMatch(/the database refused it:/);
    await r.moreSamples('meter', 600);
    expect((await r.state('meter')).health).toBe('measuring');
    way.giveBack();
    await until(async () => (await r.state('meter')).recording?.problem === null, 'the trouble is over');
    const { rows = 0 } = (await r.state('meter')).recording ?? {};
    await r.call('/stop', { instrument: 'meter' });
    const t = await samplesOf(id);
    expect(t.length).toBeGreaterThanOrEqual(rows);
    // 200 a second: more than twice the usual spacing would be a lost sample.
    t.slice(1).forEach((x, k) => expect(x - t[k]).toBeLessThan(0.5));
    expect(t.length).toBeGreaterThan(600);
    expect((await rowOf(id))?.state).toBe('finished');
  });

  test('a full database is said, and what came is kept until there is room', async () => {
    const db = knex({ client: 'pg', connection: use.schema.url, pool: { min: 0, max: 2 } });
    closing.push(() => db.destroy());
    const said: (string | null)[] = [];
    const of = {
      jobId: use.jobId,
      feed: 'battery' as const,
      setup: unknownSetup,
      instrument: unknownInstrument,
      after: null,
    };
    const recording = await Recording.begin(
      kept(db),
      'quota',
      of,
      { now: 0, wall: () => new Date() },
      {
        everyMs: 50,
        trouble: (problem) => said.push(problem),
      },
    );
    await use.schema.db.raw(`CREATE FUNCTION no_room() RETURNS trigger AS
      $$ BEGIN RAISE EXCEPTION 'could not extend file: No space left on device' USING ERRCODE = '53100'; END $$ LANGUAGE plpgsql`);
    await use.schema.db.raw('CREATE TRIGGER full_disk BEFORE INSERT ON recording_chunks EXECUTE FUNCTION no_room()');
    for (let k = 0; k < 500; k++) recording.add({ t: k * 0.01, v: 4, i: 0.1 });
    await until(() => said.length > 0, 'the message');
    expect(said[0]).toContain('No space left on device');
    expect(await use.schema.db('recording_chunks').where({ recording_id: recording.id })).toHaveLength(0);
    await use.schema.db.raw('DROP TRIGGER full_disk ON recording_chunks');
    expect(await recording.finish(AbortSignal.timeout(10_000))).toBe('stored');
    expect(await samplesOf(recording.id)).toHaveLength(500);
  });

  test('what comes after more than can be held ends it, and says so', async () => {
    const said: (string | null)[] = [];
    const of = {
      jobId: use.jobId,
      feed: 'battery' as const,
      setup: unknownSetup,
      instrument: unknownInstrument,
      after: null,
    };
    const recording = await Recording.begin(
      kept(),
      'flood',
      of,
      { now: 0, wall: () => new Date() },
      {
        everyMs: 60_000,
        maxHeld: 100,
        trouble: (problem) => said.push(problem),
      },
    );
    const taken = Array.from({ length: 200 }, (_, k) => recording.add({ t: k, v: 4, i: 0.1 })).filter(Boolean);
    expect(taken).toHaveLength(101);
    expect(said[0]).toMatch(/nor the disk/);
    await recording.finish();
    expect(await samplesOf(recording.id)).toHaveLength(101);
    expect((await rowOf(recording.id))?.problem).toMatch(/neither the database nor the disk/);
  });

  test('an instant that is not after the last is left out', async () => {
    const of = {
      jobId: use.jobId,
      feed: 'battery' as const,
      setup: unknownSetup,
      instrument: unknownInstrument,
      after: null,
    };
    const recording = await Recording.begin(kept(), 'order', of, { now: 5, wall: () => new Date() });
    const times = [4, 5, 6, 6, 5.5, 7];
    expect(times.map((t) => recording.add({ t, v: 1, i: 1 }))).toEqual([false, true, true, false, false, true]);
    await recording.finish();
    expect(await samplesOf(recording.id)).toEqual([0, 1, 2]);
  });
});

describe('a recorder that dies', () => {
  test('loses at most the last second, and the next one finds the recording interrupted', async () => {
    const parts = await bench();
    const first = await ownProcess(parts);
    const id = await first.record('meter');
    await until(async () => (await first.state('meter')).recording!.seconds > 3, 'three seconds');
    first.child.kill('SIGKILL');
    await once(first.child, 'exit');
    const t = await samplesOf(id);
    expect(t[t.length - 1]).toBeGreaterThan(2);
    const second = await ownProcess(parts);
    expect((await rowOf(id))?.state).toBe('interrupted');
    expect(await second.record('meter')).toBeGreaterThan(id);
  });

  test('leaves no output on: the next one switches it off before anything else', async () => {
    const parts = await bench();
    const first = await ownProcess(parts);
    await first.switchOn();
    first.child.kill('SIGKILL');
    await once(first.child, 'exit');
    expect(parts.supply.panel.on).toBe(true);
    await ownProcess(parts);
    expect(parts.supply.panel.on).toBe(false);
  });

  test('when it is stopped, it switches off and finishes what it records', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    const id = await r.record('supply');
    await r.switchOn();
    await r.moreSamples('supply', 5);
    r.child.kill('SIGTERM');
    await once(r.child, 'exit');
    expect(parts.supply.panel.on).toBe(false);
    expect(await rowOf(id)).toMatchObject({ state: 'finished' });
    expect(((await rowOf(id))?.markers as { event: string }[]).map((m) => m.event)).toEqual([
      'output-on',
      'output-off',
    ]);
  });

  test('two of them do not work on one database', async () => {
    const parts = await bench();
    await recorder(parts);
    const folder = use.ownFolder();
    const other = new Recorder({ record: use.schema.url, token, port: 0, instruments: [], folder });
    closing.push(() => other.stop());
    await expect(other.start()).rejects.toThrow('another recorder already uses this database');
  });
});

describe('the output', () => {
  test('is on only after arming, by the one who armed it', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    expect((await r.on('no key at all')).value.problem).toBe('the supply is not armed.');
    const { key } = (await r.arm()).value;
    expect((await r.on('another key')).value.problem).toMatch(/armed from another window/);
    expect((await r.on(undefined)).value.problem).toMatch(/armed from another window/);
    expect((await r.call('/output', { instrument: 'meter', on: true })).value.problem).toMatch(
      /is a meter and has no output/,
    );
    expect(parts.supply.panel.on).toBe(false);
    expect((await r.on(key)).status).toBe(200);
    expect(parts.supply.panel).toMatchObject({ on: true, setV: 3.85, limitA: 2 });
    expect((await r.state('supply')).outputOn).toBe(true);
    const again = await r.arm({ volts: 4 });
    expect(again.value.problem).toMatch(/is on\. Switch it off first\./);
    await r.off();
    expect(parts.supply.panel.on).toBe(false);
    expect((await r.state('supply')).armed).toBeNull();
  });

  test('armed by two windows at once is never switched on by the one that was told something else', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    parts.supply.trouble.delayMs = 3;
    const wide = { maxV: 24, maxA: 5, why: 'none' };
    for (let n = 0; n < 12; n++) {
      const asked = [
        { volts: 3.8, limitA: 0.5, bounds: wide },
        { volts: 19, limitA: 3, bounds: wide },
      ];
      if (n % 2) asked.reverse();
      const told = await Promise.all(asked.map((of) => r.arm(of)));
      const results = await Promise.all(told.map(({ value }) => r.on(value.key)));
      const won = told.filter((_, k) => results[k].status === 200);
      expect(won).toHaveLength(1);
      expect(parts.supply.panel).toMatchObject({ on: true, setV: won[0].value.volts, limitA: won[0].value.limitA });
      await r.off();
    }
  });

  test('armed by one window while another switches on: on with what the other was told, or not at all', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const wide = { maxV: 24, maxA: 5, why: 'none' };
    for (let n = 0; n < 12; n++) {
      const { key } = (await r.arm({ volts: 3.8, limitA: 0.5 })).value;
      const [on, armed] = await Promise.all([r.on(key), r.arm({ volts: 19, limitA: 3, bounds: wide })]);
      const { panel } = parts.supply;
      if (on.status === 200)
        expect({ ...panel, armed: armed.status }).toMatchObject({ on: true, setV: 3.8, armed: 409 });
      else expect(panel.on).toBe(false);
      await r.off();
    }
  });

  test('that is switched off while it is armed or switched on stays off', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    parts.supply.trouble.delayMs = 5;
    for (let n = 0; n < 10; n++) {
      const { key } = (await r.arm()).value;
      const on = r.on(key);
      const asked = now();
      await until(() => now() - asked >= 0.012 * n, 'its instant');
      await r.off();
      await on;
      expect(parts.supply.panel.on).toBe(false);
      expect((await r.state('supply')).armed).toBeNull();
    }
  });

  test('stays off where somebody turned the supply after it was armed', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const { key } = (await r.arm({ volts: 3.8, limitA: 0.5 })).value;
    parts.supply.turn({ setV: 19, limitA: 3 });
    expect((await r.on(key)).value.problem).toBe(
      'the supply is now set to 19 V, 3 A, not to the 3.8 V, 0.5 A that was armed. Arm it again.',
    );
    expect(parts.supply.panel.on).toBe(false);
    expect((await r.state('supply')).armed).toBeNull();
  });

  test('has a key that nobody is told but the window that armed', async () => {
    const r = await recorder(await bench());
    const { key, id } = (await r.arm()).value as { key: string; id: string };
    const { armed } = await r.state('supply');
    expect(armed?.id).toBe(id);
    expect(JSON.stringify(await r.states())).not.toContain(key);
    const other = (await r.arm()).value;
    expect(other.key).not.toBe(key);
    expect((await r.on(key)).value.problem).toMatch(/armed from another window/);
  });

  test('tells a supply that can to switch off by itself', async () => {
    const parts = await bench();
    const guarded = parts.specs.map((s) => (s.kind === 'supply' ? { ...s, dialect: 'scpi-guarded' } : s));
    const r = await recorder({ specs: guarded });
    expect((await r.state('supply')).canWatchItself).toBe(true);
    await r.switchOn({ volts: 4, limitA: 2 });
    expect((await r.state('supply')).armed?.watchesItself).toEqual({ overV: 4.5, overA: 2.3, silentS: 3 });
    // Somebody turns the knob.
    parts.supply.turn({ setV: 12 });
    await until(() => !parts.supply.panel.on, 'off above its limit', 3);
  });

  test('of a supply that cannot be told to watch itself is armed all the same, and the page knows', async () => {
    const r = await recorder(await bench());
    expect((await r.state('supply')).canWatchItself).toBe(false);
    expect((await r.state('meter')).canWatchItself).toBeNull();
    expect((await r.arm()).value.watchesItself).toEqual({ overV: null, overA: null, silentS: null });
  });

  test('goes off when the computer slept, and the recording says for how long', async () => {
    const parts = await bench();
    let slept = 0;
    const clocks = { steady: () => performance.now(), set: () => Date.now() + 1000 * slept, up: () => now() + slept };
    const r = await recorder(parts, use.schema.url, { clocks });
    const id = await r.record('supply');
    const key = await r.switchOn();
    await r.moreSamples('supply', 5);
    slept = 7200;
    await until(() => !parts.supply.panel.on, 'off', 5);
    // The window wakes up as well, and is too late.
    await r.alive(key);
    expect((await r.state('supply')).why).toBe('switched off: this computer was asleep for 7200 s');
    await r.moreSamples('supply', 5);
    await r.call('/stop', { instrument: 'supply' });
    const gaps = (await rowOf(id))?.gaps as { why: string }[];
    expect(gaps.map((g) => g.why)).toEqual([
      'this computer was asleep for 7200 s; everything after this point happened that much later than shown',
    ]);
  });

  test('is cut to what the device and the bench allow, with the reason', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const armed = await r.arm({ volts: 12, limitA: 9 });
    expect(armed.value).toMatchObject({ volts: 4.4, limitA: 3 });
    expect(armed.value.clamped).toContain('12 V cut to 4.4 V: this model’s battery is full at 4.4 V');
    const wide = { maxV: 60, maxA: 20, why: 'none' };
    const bench5 = await r.arm({ volts: 40, limitA: 9, bounds: wide });
    expect(bench5.value).toMatchObject({ volts: 24, limitA: 5 });
    expect(bench5.value.clamped).toContain('the bench limit');
    for (const bad of [{ volts: 0 }, { volts: -3 }, { limitA: 0 }, { volts: 'much' }, { bounds: null }])
      expect((await r.arm(bad)).status).toBe(409);
  });

  test('goes off when the window that armed it is gone for the time of a heartbeat', async () => {
    const { heartbeatS } = policy;
    Object.assign(policy, { heartbeatS: 1 });
    closing.push(() => Object.assign(policy, { heartbeatS }));
    const parts = await bench();
    const r = await recorder(parts);
    const key = await r.switchOn();
    const began = now();
    await until(async () => {
      await r.alive(key);
      return now() - began > 2;
    }, 'twice the time of a heartbeat');
    expect(parts.supply.panel.on).toBe(true);
    await until(() => !parts.supply.panel.on, 'the output goes off', 8);
    expect((await r.state('supply')).why).toMatch(/that armed it for 1 s/);
  });

  test('that does not go off at the first try is tried again until the supply says that it is off', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    await r.switchOn();
    // Every third: at every second one the same question could meet it for ever.
    parts.supply.trouble.garbageEvery = 3;
    await r.off();
    await until(async () => (await r.state('supply')).outputOn === false, 'off, as read back');
    expect(parts.supply.panel.on).toBe(false);
  });

  test('stays off where the supply does not answer sensibly to being switched on', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const { key } = (await r.arm()).value;
    parts.supply.trouble.garbageEvery = 1;
    expect((await r.on(key)).status).not.toBe(200);
    parts.supply.trouble.garbageEvery = 0;
    await until(() => !parts.supply.panel.on, 'off');
    expect((await r.state('supply')).armed).toBeNull();
  });

  test('is off and read back when lost contact returns', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    await r.switchOn();
    parts.supply.dropConnections();
    await until(async () => (await r.state('supply')).outputOn === null, 'nobody knows');
    expect((await r.state('supply')).outputUnknown).toBe(true);
    await until(async () => (await r.state('supply')).outputOn === false, 'off, as read back');
    expect(parts.supply.panel.on).toBe(false);
    expect(await r.state('supply')).toMatchObject({ armed: null, outputUnknown: false });
  });
});

describe('the control channel', () => {
  test('answers nobody without the token, and refuses what it does not know', async () => {
    const r = await recorder(await bench());
    expect((await r.call('/state', undefined, 'another')).status).toBe(401);
    expect((await r.call('/output', { instrument: 'supply', on: true, key: 'whatever it is' }, '')).status).toBe(401);
    expect((await r.call('/nothing', {})).status).toBe(404);
    expect((await r.call('/constructor', {})).status).toBe(404);
    expect((await r.call('/stop', { instrument: 'lamp' })).value.problem).toBe('There is no instrument "lamp".');
    expect((await r.arm({ instrument: 'meter' })).value.problem).toMatch(/is a meter and has no output/);
    expect((await r.call('/mark', { instrument: 'meter', event: 'prompt' })).value.problem).toMatch(/recording\./);
    expect((await r.call('/mark', { instrument: 'meter', event: 'sneeze' })).status).toBe(409);
  });

  test('a reader that comes back with its last id misses nothing and gets nothing twice', async () => {
    const r = await recorder(await bench());
    const id = await r.record('meter');
    const times: number[] = [];
    let lastId = '';
    for (let visit = 0; visit < 3; visit++) {
      await new Promise<void>((resolve, reject) => {
        const headers = { authorization: `Bearer ${token}`, ...(lastId ? { 'last-event-id': lastId } : {}) };
        const asked = httpRequest({ host: '127.0.0.1', port: r.port, path: '/events', headers }, (answer) => {
          let text = '';
          let seen = 0;
          answer.setEncoding('utf8');
          answer.on('data', (piece: string) => {
            text += piece;
            const events = text.split('\n\n');
            text = events.pop() ?? '';
            for (const event of events) {
              if (seen >= 8 || !event.startsWith('event: samples')) continue;
              seen++;
              lastId = /^id: (.*)$/m.exec(event)?.[1] ?? '';
              times.push(...(JSON.parse(/^data: (.*)$/m.exec(event)?.[1] ?? '{}') as { t: number[] }).t);
            }
            if (seen >= 8) {
              asked.destroy();
              resolve();
            }
          });
        });
        asked.on('error', (error) =>
          (error as NodeJS.ErrnoException).code === 'ECONNRESET' ? resolve() : reject(error),
        );
        asked.end();
      });
      const seen = times.length;
      await until(async () => (await samplesOf(id)).length > seen + 20, 'it goes on meanwhile');
    }
    await r.call('/stop', { instrument: 'meter' });
    const stored = await samplesOf(id);
    expect(times.length).toBeGreaterThan(50);
    expect(times).toEqual(stored.slice(0, times.length));
  });

  test('a reader who comes to a long recording is given its outline, then what follows', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const id = await r.record('meter');
    await until(async () => ((await r.state('meter')).recording?.rows ?? 0) > 300, 'some samples');
    // A row that is no longer there, as after a very long absence.
    const stale = { authorization: `Bearer ${token}`, 'last-event-id': `${id}:999999999` };
    const answer = await fetch(`http://127.0.0.1:${r.port}/events`, { headers: stale });
    const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    while ((text.match(/^event: (samples|outline)/gm) ?? []).length < 3) text += (await reader.read()).value ?? '';
    await reader.cancel();
    const events = [...text.matchAll(/event: (samples|outline)\n.*\ndata: (.*)\n/g)];
    expect(events[0][1]).toBe('outline');
    const first = JSON.parse(events[0][2]) as { rows: number; outline: { counts: number[] } };
    expect(first.outline.counts.reduce((a, b) => a + b, 0)).toBe(first.rows);
    expect(events[1][1]).toBe('samples');
    expect((JSON.parse(events[1][2]) as { from: number }).from).toBe(first.rows);
  });

  test('a recording ends by its time, output off, and says that it did', async () => {
    const r = await recorder(await bench());
    await r.switchOn();
    const body = { instrument: 'supply', jobId: use.jobId, feed: 'battery', setup: unknownSetup, stopAfterS: 1.5 };
    const { recording } = (await r.call('/record', body)).value;
    const state = await until(async () => {
      const s = await r.state('supply');
      return s.recording === null && s.outputOn === false && s;
    }, 'the end');
    expect(state.ended).toEqual({ id: recording, jobId: use.jobId, why: 'by its time' });
    const t = await samplesOf(Number(recording));
    expect(t[t.length - 1]).toBeGreaterThan(1);
    expect(t[t.length - 1]).toBeLessThan(2.5);
    expect((await rowOf(Number(recording)))?.state).toBe('finished');
  });
});

describe('a display that a camera reads', () => {
  const spec = (key: string) => ({
    key,
    name: 'the old supply',
    kind: 'meter' as const,
    transport: { kind: 'camera' as const },
    dialect: 'camera',
    calibration: { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 },
    simulated: false,
  });
  const seen = (more: object) => ({
    instrument: 'seen',
    by: 'window-one',
    at: 10,
    samples: [],
    steps: { volts: 0.01, amps: 0.001 },
    why: '',
    ...more,
  });

  test('is recorded beside a supply that logs, on one clock, with the steps that it shows', async () => {
    const { specs } = await bench();
    const folder = use.ownFolder();
    const all = [...specs, spec('seen')];
    const made = new Recorder({ record: use.schema.url, token, port: 0, instruments: all, folder });
    const port = await made.start();
    closing.push(() => made.stop(AbortSignal.timeout(5000)));
    const r = recorderClient(port, () => use.jobId);
    expect((await r.state('seen')).why).toContain('open Camera');
    await until(async () => (await r.state('supply')).health === 'measuring', 'the supply');
    // The page's clock reads other seconds than ours.
    const page = (): number => now() + 5000;
    const tell = (amps: number) => {
      const at = page();
      return r.call('/seen', seen({ at, samples: [[at, 3.85, amps]] }));
    };
    await tell(0.1);
    expect(await r.state('seen')).toMatchObject({ health: 'measuring', isSeen: true, resolutionA: 0.001, amps: 0.1 });
    const ids = [await r.record('seen'), await r.record('supply')];
    for (let k = 0; k < 12; k++) await tell(0.1 + k / 100);
    await r.moreSamples('supply', 5);
    await tell(0.3);
    expect((await r.call('/seen', seen({ by: 'window-two', at: page() }))).value.problem).toContain('Another window');
    for (const key of ['seen', 'supply']) await r.call('/stop', { instrument: key });
    const [camera, supply] = await Promise.all(ids.map((id) => samplesOf(id)));
    expect(camera.length).toBeGreaterThanOrEqual(10);
    expect(Math.abs(camera[camera.length - 1] - supply[supply.length - 1])).toBeLessThan(1.5);
    expect(await rowOf(ids[0])).toMatchObject({ instrument: { resolutionA: 0.001, resolutionV: 0.01 }, gaps: [] });
  });

  test('refuses what is no reading, an instrument that no camera reads, and a second window', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const answers = [
      await r.call('/seen', seen({ instrument: 'meter' })),
      await r.call('/seen', seen({ instrument: 'nobody' })),
      await r.call('/seen', seen({ instrument: 'meter', samples: [[1, 'five', 0.1]] })),
      await r.call('/seen', seen({ instrument: 'meter', steps: { volts: 0, amps: null } })),
    ];
    expect(answers.map((a) => a.status)).toEqual([409, 409, 409, 409]);
    expect(answers[0].value.problem).toContain('is not read by a camera');
  });
});

describe('a recording that somebody else has a hand in', () => {
  const named = async (name: string): Promise<number> => {
    const [{ id }] = (await use.schema.db('people').insert({ name, role: 'technician' }).returning('id')) as {
      id: number;
    }[];
    return id;
  };
  const gapsOf = async (id: number) => ((await use.rowOf(id))?.gaps as { t0: number; t1: number; why: string }[]) ?? [];

  test('names whoever marks and stops it; whoever began it is not named again', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const [began, other] = [await named('Ottilie Fenn'), await named('Bram Hollis')];
    const { value } = await r.call('/record', {
      ...{ instrument: 'meter', jobId: use.jobId, feed: 'usb-c', setup: {}, person: began },
    });
    const id = value.recording as number;
    await until(async () => ((await r.state('meter')).recording?.rows ?? 0) > 20, 'samples');
    await r.call('/mark', { instrument: 'meter', event: 'prompt', person: began, who: 'Ottilie Fenn' });
    await r.call('/mark', { instrument: 'meter', event: 'note', note: 'x', person: other, who: 'Bram Hollis' });
    await r.call('/stop', { instrument: 'meter', person: other, who: 'Bram Hollis' });
    expect((await gapsOf(id)).map((g) => g.why)).toEqual(['marked by Bram Hollis', 'stopped by Bram Hollis']);
    const told = await until(async () => {
      const rows = (await use.schema.db('audit').where({ person_id: other }).orderBy('id')) as { what: string }[];
      return rows.length >= 2 && rows;
    }, 'it is in the trail');
    expect(told.map((row) => row.what)).toEqual([
      'the meter: recording marked by another',
      'the meter: recording stopped by another',
    ]);
  });

  test('says where another window goes on with it, after a gap, and who sits there', async () => {
    const folder = use.ownFolder();
    const spec = {
      ...{
        key: 'plugged',
        name: 'the plugged meter',
        kind: 'meter' as const,
        dialect: 'lines-usual',
        simulated: false,
      },
      transport: { kind: 'browser' as const, way: 'serial' as const, baudRate: 115_200 },
      calibration: noCalibration,
    };
    const r = await use.recorderOf({ specs: [spec as never] }, { folder });
    const [began, other] = [await named('Ottilie F.'), await named('Bram H.')];
    const page = (by: string, more: object) => r.call('/page', { instrument: 'plugged', by, ...more });
    const line = (t: number, amps: string) => [
      0,
      Buffer.from(`${t.toFixed(3)};5.000;${amps}\n`)
        .toString('hex')
        .replace(/(..)(?!$)/g, '$1 '),
    ];
    const feed = async (by: string, from: number, amps: string) => {
      for (let k = 0; k < 10; k++) {
        const { status, value } = await page(by, { does: 'pass', pieces: [line(from + k / 10, amps)] });
        if (status !== 200) throw new Error(JSON.stringify(value));
        await r.call('/state');
      }
    };
    await page('window-of-one', { does: 'open', person: began, who: 'Ottilie F.' });
    await until(async () => (await r.state('plugged')).health !== 'lost', 'it is reached');
    const { value } = await r.call('/record', {
      ...{ instrument: 'plugged', jobId: use.jobId, feed: 'usb-c', setup: {}, person: began },
    });
    const id = value.recording as number;
    await feed('window-of-one', 1, '0.500');
    await until(
      async () => (await page('window-of-two', { does: 'open', person: other, who: 'Bram H.' })).status === 200,
      'the first window is gone',
    );
    await until(async () => (await r.state('plugged')).health !== 'lost', 'it is reached again');
    await feed('window-of-two', 1, '9.000');
    await r.call('/stop', { instrument: 'plugged', person: began, who: 'Ottilie F.' });
    const gaps = await gapsOf(id);
    expect(gaps.map((g) => g.why)).toContain('what follows was read in another window, by Bram H.');
  }, 60_000);
});
