export interface Holder {
  pid: number;
  [more: string]: unknown;
}

export type Lock =
  | { isMine: true; tell: (more: object) => void; release: () => Promise<void> }
  | { isMine: false; holder: Holder | null };

/** Takes the lock of a folder for one purpose, for as long as this process lives. */
export function takeLock(purpose: string, folder: string): Promise<Lock>;

/** Who holds the lock of a folder for one purpose; null where nobody does. */
export function holderOf(purpose: string, folder: string): Promise<Holder | null>;
