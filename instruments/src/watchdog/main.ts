import { createInterface } from 'node:readline';
import pino from 'pino';
import { deedOf, writeDeed } from './deeds.ts';
import type { GuardLine, WatchedSupply } from './guard.ts';
import policy from './policy.json';
import { switchOff } from './switch-off.ts';

/**
 * Watches a recorder through a pipe. When the pipe ends without a word, or falls silent while an output may be on, it
 * ends what is left of the recorder, so that nothing holds the supply, and switches off until each supply says that it is.
 */
const log = pino({ name: 'watchdog' }, pino.destination(2));
const recorder = Number(process.env.UMBRAL_WATCHED_PID);
const deeds = process.env.UMBRAL_WATCHDOG_DEEDS ?? '';
const now = (): number => performance.now();

let supplies: WatchedSupply[] = [];
let heardAt = now();
let silentTurns = 0;
let isActing = false;

function isThere(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** Left on disk for the recorder that starts next; a disk that refuses it keeps nobody from switching off. */
function leave(supply: WatchedSupply, why: string, isOff: boolean): void {
  try {
    writeDeed(deeds, deedOf(supply, why, isOff, new Date()));
  } catch (error) {
    log.error({ problem: String(error) }, 'what was done could not be written');
  }
}

async function offUntilItSaysSo(supply: WatchedSupply, why: string, end: number): Promise<void> {
  while (now() < end) {
    try {
      await switchOff(supply, policy.answerMs);
      leave(supply, why, true);
      return log.warn({ supply: supply.spec.name }, 'switched off after the recorder stopped');
    } catch (error) {
      log.error({ supply: supply.spec.name, problem: String(error) }, 'the output may still be on; trying again');
      await new Promise((resolve) => setTimeout(resolve, policy.tryEveryMs));
    }
  }
  leave(supply, why, false);
}

/** @param isHung the recorder is still there: its pipe is open, so its number is its own and nobody else's */
async function act(why: string, isHung: boolean): Promise<void> {
  if (isActing) return;
  isActing = true;
  if (supplies.length > 0) {
    log.warn({ why, supplies: supplies.map((s) => s.spec.name) }, 'switching off');
    if (isHung && recorder > 1 && isThere(recorder)) process.kill(recorder, 'SIGKILL');
    await Promise.all(supplies.map((s) => offUntilItSaysSo(s, why, now() + policy.giveUpMs)));
  }
  process.exit(0);
}

// Ctrl-C in the terminal is for the recorder, which says bye when its outputs are off.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => undefined);

process.stdout.on('error', () => undefined);
const lines = createInterface({ input: process.stdin });
lines.on('line', (line) => {
  heardAt = now();
  silentTurns = 0;
  // So that the recorder knows that somebody listens.
  process.stdout.write('.');
  const said = JSON.parse(line) as GuardLine;
  if (said.kind === 'on') supplies = said.supplies;
  if (said.kind === 'bye') process.exit(0);
});
lines.on('close', () => void act('the recorder stopped', false));
// A turn of this process that came late was not silence: what was said meanwhile is read before the next turn.
setInterval(() => {
  silentTurns++;
  const isSilent = silentTurns > policy.silentTurns && now() - heardAt > policy.silentMs;
  if (supplies.length > 0 && isSilent) void act('the recorder does not answer', true);
}, policy.beatMs / 2);
