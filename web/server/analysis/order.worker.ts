import { parentPort } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import { workBehindOthers } from './behind.ts';
import { orderAnswers } from './order.ts';

workBehindOthers();

if (parentPort) expose(orderAnswers, nodeEndpoint(parentPort));
