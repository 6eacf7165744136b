import { statfs } from 'node:fs/promises';
import policy from './policy.json';

/** Room on the disk that recordings are kept on. */
export interface Disk {
  freeBytes: number;
  /** 0 to 1. */
  freeShare: number;
  /** In words; empty while there is room. */
  warning: string;
}

const watchEveryMs = 10_000;

/**
 * How full a disk is, with a warning in words below a tenth.
 *
 * @param free bytes that an ordinary process can still write
 */
export function diskOf(free: number, size: number): Disk {
  const freeShare = size > 0 ? free / size : 0;
  const percent = freeShare < 0.01 ? 'less than 1' : Math.floor(100 * freeShare);
  const warning =
    freeShare < policy.warnFreeShare
      ? `The disk is almost full: ${percent} % (${Math.floor(free / 1e6)} MB) is left. Recording continues until it is full.`
      : '';
  return { freeBytes: free, freeShare, warning };
}

/** Looks now and then how much room is left. */
export class DiskWatch {
  private timer: NodeJS.Timeout | null = null;
  now: Disk | null = null;

  constructor(
    private readonly folder: string,
    private readonly changed: () => void,
  ) {}

  start(): void {
    void this.look();
    this.timer = setInterval(() => void this.look(), watchEveryMs);
    this.timer.unref();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  private async look(): Promise<void> {
    try {
      const { bavail, blocks, bsize } = await statfs(this.folder);
      this.now = diskOf(bavail * bsize, blocks * bsize);
      this.changed();
    } catch {
      this.now = null;
    }
  }
}
