#!/usr/bin/env node
'use strict';
const { existsSync } = require('node:fs');
const { join } = require('node:path');

const program = join(__dirname, '..', 'dist', 'main.js');
if (!existsSync(program)) {
  process.stderr.write('umbral: not built yet; run "npm install" in the project folder first\n');
  process.exit(1);
}
require(program);
