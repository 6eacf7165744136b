// What runs every night and not at every change: that the tools run to their end. The repository keeps when they last did.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './run.mjs';

const file = join(root, 'scripts', 'lib', 'nightly.json');
/** After so many days it is said that nobody looked. */
const staleDays = 14;
const dayMs = 86_400_000;

/** Writes down how the tools ran: how long each took, s, and what failed. */
export function keepNight({ taken, failures }, at = new Date()) {
  const commit = execFileSync('git', ['rev-parse', '--short', 'HEAD'], { cwd: root, encoding: 'utf8' }).trim();
  writeFileSync(file, `${JSON.stringify({ at: at.toISOString(), commit, failures, seconds: taken }, null, 2)}\n`);
}

/** How long ago the tools ran, in a sentence. */
export function sayNight(now = new Date(), kept = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null) {
  if (kept === null) return 'The tools never ran: npm run nightly.';
  const days = Math.floor((now - new Date(kept.at)) / dayMs);
  const when = days === 0 ? 'today' : days === 1 ? 'yesterday' : `${days} days ago`;
  const how = kept.failures.length === 0 ? 'all of them to their end' : `with failures in ${kept.failures.join(', ')}`;
  return `The tools ran ${when} at ${kept.commit}, ${how}.${days > staleDays ? ' That is long ago: npm run nightly.' : ''}`;
}
