import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { addAudit } from '../../record/audit.ts';
import { ExpectedError } from '../../record/errors.ts';
import { transaction } from '../../record/db.ts';

/** A backup that was asked for at a page. */
interface BackupState {
  state: 'none' | 'runs' | 'done' | 'failed';
  /** What the command said at its end. */
  says: string;
}

declare global {
  var umbralBackup: BackupState | undefined;
}

const none: BackupState = { state: 'none', says: '' };
const mostSaid = 600;

/** How the backup stands that was asked for last, since this process began. */
export const backupState = (): BackupState => globalThis.umbralBackup ?? none;

/** The command that a terminal would run: it reads the database as its owner, which the pages are not. */
function begin(folder: string): void {
  const { DATABASE_URL: _pages, DATABASE_OWNER_URL: owner, ...env } = process.env;
  const script = join(process.cwd(), '..', 'scripts', 'backup.mjs');
  const child = spawn(process.execPath, [script, '--data', folder], {
    env: { ...env, ...(owner ? { DATABASE_OWNER_URL: owner } : {}) } as NodeJS.ProcessEnv,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  const hear = (bytes: Buffer): void => {
    said = `${said}${bytes.toString()}`.slice(-mostSaid);
  };
  child.stdout.on('data', hear);
  child.stderr.on('data', hear);
  const end = (state: 'done' | 'failed', says: string): void => {
    globalThis.umbralBackup = { state, says: says.trim() };
  };
  child.once('error', (error) => end('failed', error.message));
  child.once('close', (code) => end(code === 0 ? 'done' : 'failed', said));
}

/**
 * Begins a backup while everything runs on; one at a time.
 *
 * @throws {ExpectedError} where one runs, or where nothing keeps the data of this process in a folder
 */
export async function backUpNow(): Promise<void> {
  const folder = process.env.UMBRAL_DATA_FOLDER;
  if (!folder)
    throw new ExpectedError('input', 'Only Umbral’s own start command can back up. Use the tools of your database.');
  if (backupState().state === 'runs') throw new ExpectedError('busy', 'A backup is already running.');
  globalThis.umbralBackup = { state: 'runs', says: '' };
  try {
    await transaction((q) => addAudit(q, null, 'backup asked for'));
    begin(folder);
  } catch (error) {
    globalThis.umbralBackup = { state: 'failed', says: (error as Error).message };
    throw error;
  }
}
