import type { Files } from '../store/files.ts';

interface Kept {
  /** What would be there after a power cut, and what has been written since. */
  synced: string;
  fresh: string;
}

/** The power went out: nothing that was asked for after that happens. */
export class PowerCut extends Error {}

/**
 * A disk in memory that forgets what was not synced. At a given step of writing the power goes out: of what was under way
 * some is there, in a piece of any length, or nothing; removals and renames that were not synced may be undone.
 */
export class ForgetfulFiles implements Files {
  private steps = 0;

  /**
   * @param cutAt at which step; each write is several
   * @param share of what is under way then that is there afterwards, 0 to 1
   */
  constructor(
    private kept = new Map<string, Kept>(),
    private readonly cutAt = Infinity,
    private readonly share = 0,
  ) {}

  /** The same disk when the power is back, until it goes out again. */
  after(cutAt = Infinity, share = 0): ForgetfulFiles {
    const left = [...this.kept].map(([path, { synced, fresh }]): [string, Kept] => {
      const stays = fresh.slice(0, Math.floor(this.share * fresh.length));
      return [path, { synced: synced + stays, fresh: '' }];
    });
    return new ForgetfulFiles(new Map(left.filter(([, k]) => k.synced !== '')), cutAt, share);
  }

  private step(): void {
    if (++this.steps > this.cutAt) throw new PowerCut('the power is out');
  }

  private of(path: string): Kept {
    const found = this.kept.get(path) ?? { synced: '', fresh: '' };
    this.kept.set(path, found);
    return found;
  }

  async append(path: string, text: string): Promise<void> {
    this.step();
    const file = this.of(path);
    const half = Math.floor(text.length / 2);
    file.fresh += text.slice(0, half);
    this.step();
    file.fresh += text.slice(half);
    this.step();
    [file.synced, file.fresh] = [file.synced + file.fresh, ''];
    await Promise.resolve();
  }

  async *lines(path: string): AsyncGenerator<string> {
    this.step();
    const { synced, fresh } = this.kept.get(path) ?? { synced: '', fresh: '' };
    await Promise.resolve();
    yield* (synced + fresh).split('\n');
  }

  names(folder: string): Promise<string[]> {
    this.step();
    const inside = [...this.kept.keys()].filter((path) => path.startsWith(`${folder}/`));
    return Promise.resolve(inside.map((path) => path.slice(folder.length + 1)));
  }

  async empty(path: string): Promise<void> {
    this.step();
    // Not synced: where the power goes out now, half of the time the old content is there again.
    if (this.kept.has(path) && (this.steps < this.cutAt || this.share > 0.5))
      this.kept.set(path, { synced: '', fresh: '' });
    await Promise.resolve();
  }

  async remove(path: string): Promise<void> {
    this.step();
    if (this.steps < this.cutAt || this.share > 0.5) this.kept.delete(path);
    await Promise.resolve();
  }

  async rename(from: string, to: string): Promise<void> {
    this.step();
    const file = this.kept.get(from);
    if (!file) return;
    this.kept.delete(from);
    this.kept.set(to, file);
    await Promise.resolve();
  }
}
