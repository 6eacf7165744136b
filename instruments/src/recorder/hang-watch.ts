import { Worker } from 'node:worker_threads';

/** Where the two threads meet: beats of the main thread, pieces that it began to read, and whose piece that is. */
export interface Shared {
  numbers: Int32Array;
  key: Uint8Array;
}
export const [beats, pieces, keyLength] = [0, 1, 2];
const mostKey = 480;

export const sharedIn = (memory: SharedArrayBuffer): Shared => ({
  numbers: new Int32Array(memory, 0, 4),
  key: new Uint8Array(memory, 16, mostKey),
});

const beatMs = 200;

/**
 * Notices from a second thread that this process hangs on what one instrument sent, writes down which, and ends the process:
 * whoever started it starts it again, and that instrument is left out.
 */
export class HangWatch {
  private readonly shared: Shared;
  private readonly worker: Worker;
  private readonly timer: NodeJS.Timeout;

  /**
   * @param program the second thread's compiled entry
   * @param file in which it writes on whom the process hung
   */
  constructor(program: string, file: string) {
    const memory = new SharedArrayBuffer(16 + mostKey);
    this.shared = sharedIn(memory);
    this.worker = new Worker(program, { workerData: { memory, file } });
    this.worker.unref();
    this.timer = setInterval(() => Atomics.add(this.shared.numbers, beats, 1), beatMs);
    this.timer.unref();
  }

  /** Does work on what one instrument sent. */
  readonly during = <T>(key: string, work: () => T): T => {
    const { numbers, key: bytes } = this.shared;
    const { written } = new TextEncoder().encodeInto(key, bytes);
    Atomics.add(numbers, pieces, 1);
    Atomics.store(numbers, keyLength, written);
    try {
      return work();
    } finally {
      Atomics.store(numbers, keyLength, 0);
    }
  };
}
