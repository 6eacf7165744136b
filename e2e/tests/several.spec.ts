import { rmSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { freePort, Started } from '../started.ts';

/** As operations.md says: several web processes on one database, each with a port and a folder of its own. */
test('a second start on the same database shows the pages beside the recorder of the first, asked to or not', async () => {
  const folders = [Started.folder(), Started.folder(), Started.folder()];
  const started: Started[] = [];
  const start = async (env: Record<string, string> = {}, args: string[] = []): Promise<Started> => {
    const one = Started.spawn(folders[started.length], await freePort(), env, args);
    started.push(one);
    return one.up();
  };
  try {
    const first = await start();
    const second = await start(first.databaseEnv());
    const third = await start(first.databaseEnv(), ['--pages-only']);
    expect(second.said).toContain('The instruments of this database are controlled by another start of Umbral.');
    for (const one of [first, second, third]) {
      const health = await fetch(`${one.url}/api/health`);
      expect(await health.json()).toMatchObject({ ok: true, database: true });
      expect((await fetch(`${one.url}/sign-in`)).status).toBe(200);
    }
    // The first was not disturbed, and what the others lack they do not look for.
    expect(first.part('recorder')).toMatchObject({ state: 'runs', restarts: 0 });
    for (const one of [second, third]) expect(one.part('recorder')).toBeUndefined();
    // One that ends takes nothing with it.
    await second.stop();
    expect((await fetch(`${third.url}/api/health`)).status).toBe(200);
    expect(first.child.exitCode).toBeNull();
  } finally {
    for (const one of started.reverse()) await one.stop().catch(() => undefined);
    for (const folder of folders) rmSync(folder, { recursive: true, force: true });
  }
});
