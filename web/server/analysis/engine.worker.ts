import { parentPort } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import { engineAnswers } from './engine-answers.ts';
import { workBehindOthers } from './behind.ts';

workBehindOthers();

if (parentPort) expose(engineAnswers, nodeEndpoint(parentPort));
