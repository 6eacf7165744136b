import { fork } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { until, useRecorders } from '../testing/recorders.ts';
import { hungFile, LeftOut } from './left-out.ts';

const use = useRecorders();
const dist = join(__dirname, '../../dist/recorder');

/** A process that does something under a watch of its own. */
function watched(folder: string, does: string) {
  const script = join(folder, 'process.cjs');
  writeFileSync(
    script,
    `const { HangWatch } = require(${JSON.stringify(join(dist, 'hang-watch.js'))});
     const watch = new HangWatch(${JSON.stringify(join(dist, 'hang-worker.js'))}, ${JSON.stringify(hungFile(folder))});
     setInterval(() => undefined, 1000);
     const busy = (ms) => { for (const end = Date.now() + ms; Date.now() < end;); };
     setTimeout(() => { ${does} }, 600);`,
  );
  return fork(script, { silent: true, execArgv: [] });
}
const folderOf = (): string => {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-hang-'));
  use.closing.push(() => Promise.resolve(rmSync(folder, { recursive: true, force: true })));
  return folder;
};

test('a process that hangs on what one instrument sent is ended, and it is written down on which', async () => {
  const folder = folderOf();
  const child = watched(folder, `watch.during('port-meter', () => busy(60_000));`);
  const [, signal] = (await once(child, 'exit')) as [null, string];
  expect(signal).toBe('SIGKILL');
  expect(JSON.parse(readFileSync(hungFile(folder), 'utf8'))).toMatchObject({ key: 'port-meter' });
}, 40_000);

test('one that is only slow, or busy with something else, goes on, and nothing is written down for good', async () => {
  const folder = folderOf();
  const child = watched(
    folder,
    `watch.during('port-meter', () => busy(2500)); setTimeout(() => { busy(2500); setTimeout(() => process.exit(7), 1500); }, 600);`,
  );
  const [code] = (await once(child, 'exit')) as [number];
  expect(code).toBe(7);
  expect(existsSync(hungFile(folder))).toBe(false);
}, 40_000);

test('the recorder that starts next leaves that instrument out, says so, and tries it again once its settings change', async () => {
  const parts = await use.bench();
  const folder = use.ownFolder();
  writeFileSync(hungFile(folder), JSON.stringify({ key: 'meter', at: '2026-12-01T10:20:30.000Z' }));
  for (const _ of [1, 2]) {
    const r = await use.recorderOf(parts, { folder });
    const { problems } = (await r.call('/health')).value as { problems: string[] };
    expect(problems.join(' ')).toContain(
      'the meter is left out: on 2026-12-01 10:20 UTC the recorder stopped answering',
    );
    await until(async () => (await r.state('supply')).health === 'measuring', 'the others are measured');
    await expect(r.state('meter')).rejects.toThrow();
    await r.recorder.stop();
  }
  const left = new LeftOut(folder);
  expect(left.why('meter', 'the meter', { where: 'elsewhere' })).toBeNull();
  expect(new LeftOut(folder).why('meter', 'the meter', { where: 'elsewhere' })).toBeNull();
});
