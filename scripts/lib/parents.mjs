import { readFileSync } from 'node:fs';

const lookEveryMs = 500;

/** The process that started another; null where that cannot be told. */
function parentOf(pid) {
  try {
    // The name of a program may hold anything, also brackets: what counts stands behind the last one.
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
  } catch {
    return null;
  }
}

/**
 * Calls back once whoever started this process is gone. npm starts a shell that starts us, and passes no signal on: a
 * signal to npm ends npm alone.
 *
 * @param gone called once
 */
export function watchParents(gone) {
  // Started by hand or by a service manager it may well outlive a shell.
  if (process.env.npm_lifecycle_event === undefined) return;
  const [parent, grandparent] = [process.ppid, parentOf(process.ppid)];
  const timer = setInterval(() => {
    const isThere = process.ppid === parent && (grandparent === null || parentOf(parent) === grandparent);
    if (isThere) return;
    clearInterval(timer);
    gone();
  }, lookEveryMs);
  timer.unref();
}
