import { parentPort } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import { pdfAnswers } from './pdf-document';

if (parentPort) expose(pdfAnswers, nodeEndpoint(parentPort));
