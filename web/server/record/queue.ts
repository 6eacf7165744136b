import type PgBoss from 'pg-boss';
import { asNobody } from './actor.ts';

declare global {
  /** Where this process does background work: see `background.ts`. */
  var umbralBackground: PgBoss | undefined;
}

/**
 * Hands work over to whichever process is free; what is asked for twice before it is begun is done once.
 *
 * @param here does it where this process has no background work
 */
export async function handOver(
  name: 'replay' | 'correct',
  data: { id?: number },
  here: () => Promise<unknown>,
): Promise<void> {
  const boss = globalThis.umbralBackground;
  if (boss) await boss.send(name, data, { singletonKey: JSON.stringify(data) });
  else await asNobody(here);
}
