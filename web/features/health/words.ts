import type { Health } from '@/server/edges/health';

/** Days after which a backup is old. */
const oldBackupDays = 7;
const lowShare = 0.1;
/** Seconds by which a bench's clock may be off. */
const wrongClockS = 2;

export function bytesWords(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let [value, k] = [bytes, 0];
  while (value >= 1000 && k < units.length - 1) {
    value /= 1000;
    k++;
  }
  return `${k === 0 || value >= 100 ? Math.round(value) : value.toFixed(1)} ${units[k]}`;
}

/** What a lead has to look at, worst first; empty where all is well. */
export function warningsOf(health: Health, now: Date): string[] {
  const { parts, recorder, disk, backup, benches, queue } = health;
  const days = backup ? (now.getTime() - Date.parse(backup.madeAt)) / 86_400_000 : Infinity;
  return [
    ...parts
      .filter(({ part }) => part.state === 'ended')
      .map(({ name, part }) => `The ${name} ended (${part.why}). It is restarting.`),
    'problem' in recorder ? recorder.problem : '',
    'problem' in recorder || recorder.database === 'ours' ? '' : `The recorder has no database: ${recorder.why}.`,
    ...('problem' in recorder ? [] : recorder.problems),
    disk && disk.freeShare < lowShare ? `The disk is almost full: ${Math.floor(100 * disk.freeShare)} % is left.` : '',
    days === Infinity
      ? 'There is no backup yet.'
      : days > oldBackupDays
        ? `The last backup is ${Math.floor(days)} days old.`
        : '',
    ...benches
      .filter((b) => Math.abs(b.clockOffS ?? 0) > wrongClockS)
      .map(
        (b) =>
          `The clock of bench ${b.name} is ${Math.abs(Math.round(b.clockOffS ?? 0))} s ${(b.clockOffS ?? 0) < 0 ? 'slow' : 'fast'}. The server’s time is used.`,
      ),
    queue.failed > 0 ? `${queue.failed} background tasks failed.` : '',
  ].filter(Boolean);
}
