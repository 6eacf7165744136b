import { EventEmitter } from 'node:events';
import { bareCase } from '@umbral/core';
import { assess, predictedDraws } from './think.ts';
import { answerTo, type Question } from './thought.ts';

interface Message {
  id: number;
  question: Question;
}

/** Stands in for the thread: answers when it is told to, or dies. */
class FakeWorker extends EventEmitter {
  static made: FakeWorker[] = [];
  waiting: Message[] = [];
  referenced = false;
  constructor() {
    super();
    FakeWorker.made.push(this);
  }
  postMessage(message: Message): void {
    this.waiting.push(structuredClone(message));
  }
  ref(): void {
    this.referenced = true;
  }
  unref(): void {
    this.referenced = false;
  }
  answer(k: number): void {
    const [{ id, question }] = this.waiting.splice(k, 1);
    this.emit('message', { id, thought: structuredClone(answerTo(question)) });
  }
}

jest.mock('node:worker_threads', () => ({
  get Worker() {
    return FakeWorker;
  },
}));

const value = bareCase({ class: 'phone' }, []);
const withSwollen = { ...value, intake: { ...value.intake, batterySwollen: true } };
const ask = (of = value) => assess(of, new Map(), null);
const worker = (): FakeWorker => FakeWorker.made.at(-1)!;

beforeEach(() => {
  delete process.env.UMBRAL_THINK;
  globalThis.umbralThinker = undefined;
  FakeWorker.made = [];
});

describe('the thinking thread', () => {
  test('answers reach who asked, in whatever order they come', async () => {
    const [plain, swollen] = [ask(), ask(withSwollen)];
    expect(FakeWorker.made).toHaveLength(1);
    worker().answer(1);
    worker().answer(0);
    expect((await swollen).warnings.join()).toContain('Swollen battery');
    expect((await plain).warnings).toEqual([]);
  });
  test('holds the process only while something is asked', async () => {
    const asked = ask();
    expect(worker().referenced).toBe(true);
    worker().answer(0);
    await asked;
    expect(worker().referenced).toBe(false);
  });
  test('one question that fails fails alone', async () => {
    const [bad, good] = [ask(), ask()];
    worker().emit('message', { id: worker().waiting[0].id, problem: 'it broke' });
    worker().answer(1);
    await expect(bad).rejects.toThrow('it broke');
    await expect(good).resolves.toMatchObject({ format: 'umbral-assessment/1' });
  });
  test.each(['error', 'exit'])(
    'a thread that ends by %s fails what was asked, and the next question gets a new one',
    async (how) => {
      const lost = [ask(), ask()];
      worker().emit(how, how === 'error' ? new Error('out of memory') : 1);
      for (const one of lost) await expect(one).rejects.toThrow(/out of memory|thread ended/);
      const next = ask();
      expect(FakeWorker.made).toHaveLength(2);
      worker().answer(0);
      await expect(next).resolves.toBeDefined();
    },
  );
  test('an answer to another question is refused rather than taken', async () => {
    const draws = predictedDraws(value, {} as never, {} as never, [], null);
    worker().emit('message', { id: worker().waiting[0].id, thought: { kind: 'assess', result: {} } });
    await expect(draws).rejects.toThrow('another answer');
  });
});
