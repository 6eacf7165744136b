'use strict';
// Plain JavaScript without packages: the start command needs it before anything is installed or built.
const { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } = require('node:fs');

/**
 * Writes a file beside its place and renames it: whoever reads finds the old content or the new, never half of it.
 *
 * @param {string} path
 * @param {string} text
 * @param {number} mode
 * @throws {Error} of the file system; the old file is untouched then
 */
function writeWhole(path, text, mode = 0o600) {
  const beside = `${path}.${process.pid}.new`;
  try {
    const file = openSync(beside, 'w', mode);
    try {
      writeSync(file, text);
      fsyncSync(file);
    } finally {
      closeSync(file);
    }
    renameSync(beside, path);
  } catch (error) {
    rmSync(beside, { force: true });
    throw error;
  }
}

module.exports = { writeWhole };
