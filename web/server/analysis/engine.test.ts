import { EventEmitter } from 'node:events';
import { MessageChannel, type MessagePort, type TransferListItem } from 'node:worker_threads';
import { bareCase } from '@umbral/core';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import { assess } from './engine.ts';
import { engineAnswers } from './engine-answers.ts';

/** Stands in for the thread: the same answers over a real channel, on this thread. */
class FakeWorker extends EventEmitter {
  static made: FakeWorker[] = [];
  referenced = false;
  private readonly here: MessagePort;
  constructor() {
    super();
    const { port1, port2 } = new MessageChannel();
    this.here = port1;
    port1.on('message', (message) => this.emit('message', message));
    expose(engineAnswers, nodeEndpoint(port2));
    FakeWorker.made.push(this);
  }
  postMessage(message: unknown, transfer: TransferListItem[]): void {
    this.here.postMessage(message, transfer);
  }
  ref(): void {
    this.referenced = true;
  }
  unref(): void {
    this.referenced = false;
  }
  terminate(): void {
    this.here.close();
    this.emit('exit', 1);
  }
}

jest.mock('node:worker_threads', () => ({
  ...jest.requireActual<object>('node:worker_threads'),
  get Worker() {
    return FakeWorker;
  },
}));

const value = bareCase({ class: 'phone' }, []);
const withSwollen = { ...value, intake: { ...value.intake, batterySwollen: true } };
const ask = (of = value) => assess(of, new Map(), null);
const worker = (): FakeWorker => FakeWorker.made.at(-1)!;

beforeEach(() => {
  delete process.env.UMBRAL_ENGINE;
  globalThis.umbralEngine = undefined;
  FakeWorker.made = [];
});
afterEach(() => FakeWorker.made.forEach((w) => w.terminate()));

describe('the thread of the engine', () => {
  test('one thread answers whoever asked', async () => {
    const [plain, swollen] = await Promise.all([ask(), ask(withSwollen)]);
    expect(FakeWorker.made).toHaveLength(1);
    expect(swollen.warnings.join()).toContain('Swollen battery');
    expect(plain.warnings).toEqual([]);
  });
  test('holds the process only while something is asked', async () => {
    const asked = ask();
    expect(worker().referenced).toBe(true);
    await asked;
    expect(worker().referenced).toBe(false);
  });
  test('one question that fails fails alone, with the words of the engine', async () => {
    const bad = assess(null as never, new Map(), null);
    const good = ask();
    await expect(bad).rejects.toThrow(/Cannot read properties|undefined/);
    await expect(good).resolves.toMatchObject({ format: 'umbral-assessment/1' });
  });
  test.each(['error', 'exit'])(
    'a thread that ends by %s fails what was asked, and the next question gets a new one',
    async (how) => {
      const lost = [ask(), ask()];
      worker().emit(how, how === 'error' ? new Error('out of memory') : 1);
      for (const one of lost) await expect(one).rejects.toThrow(/out of memory|thread of the engine ended/);
      await expect(ask()).resolves.toBeDefined();
      expect(FakeWorker.made).toHaveLength(2);
    },
  );
  test('an engine of other sources gets a thread of its own', async () => {
    await ask();
    const before = worker();
    globalThis.umbralEngine!.version = 'of other sources';
    await ask();
    expect(worker()).not.toBe(before);
  });
});
