import { parentPort } from 'node:worker_threads';
import { answerTo, type Question } from './thought.ts';
import { workBehindOthers } from './behind.ts';

workBehindOthers();

parentPort?.on('message', ({ id, question }: { id: number; question: Question }) => {
  try {
    parentPort?.postMessage({ id, thought: answerTo(question) });
  } catch (error) {
    parentPort?.postMessage({ id, problem: error instanceof Error ? (error.stack ?? error.message) : String(error) });
  }
});
