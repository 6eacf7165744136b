'use strict';
// Plain JavaScript without packages: the start command needs it before anything is installed or built.
const { createConnection, createServer } = require('node:net');
const { createHash } = require('node:crypto');
const { realpathSync } = require('node:fs');

const answerTimeoutMs = 1000;

/**
 * A name in the kernel's abstract namespace: whoever listens there holds the lock, and it is free again the moment that
 * process is gone, however it ended. No file stays behind and no process number can be taken for another's.
 */
function nameOf(purpose, folder) {
  const hash = createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 32);
  return `\0umbral-${purpose}-${hash}`;
}

/** What the holder says of itself; null where nobody holds the lock. */
function askHolder(name) {
  return new Promise((resolve) => {
    const socket = createConnection({ path: name });
    let text = '';
    const timer = setTimeout(() => socket.destroy(), answerTimeoutMs);
    socket.on('data', (piece) => (text += piece));
    socket.on('error', () => undefined);
    socket.on('close', () => {
      clearTimeout(timer);
      try {
        resolve(JSON.parse(text));
      } catch {
        resolve(null);
      }
    });
  });
}

/**
 * Takes the lock of a folder for one purpose, for as long as this process lives.
 *
 * @param {string} purpose one word
 * @param {string} folder has to be there
 * @returns {Promise<{ isMine: true, tell: (more: object) => void, release: () => Promise<void> } |
 *   { isMine: false, holder: { pid: number } | null }>} the lock with a way to say more of oneself, or who holds it
 */
async function takeLock(purpose, folder) {
  const name = nameOf(purpose, folder);
  let says = { pid: process.pid };
  const server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.end(JSON.stringify(says));
  });
  const isMine = await new Promise((resolve, reject) => {
    server.once('error', (error) => (error.code === 'EADDRINUSE' ? resolve(false) : reject(error)));
    server.listen({ path: name }, () => resolve(true));
  });
  if (!isMine) return { isMine: false, holder: await askHolder(name) };
  server.unref();
  return {
    isMine: true,
    tell: (more) => {
      says = { ...says, ...more };
    },
    release: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

/** Who holds the lock of a folder for one purpose: what it says of itself, or null. */
function holderOf(purpose, folder) {
  return askHolder(nameOf(purpose, folder));
}

module.exports = { takeLock, holderOf };
