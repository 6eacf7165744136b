import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as core from '@umbral/core';

test('what the README shows of the engine from Node runs as it stands there', () => {
  const text = readFileSync(join(__dirname, '..', '..', 'README.md'), 'utf8');
  const code = /```js\n([^]*?)```/.exec(text)?.[1] ?? '';
  expect(code.split('\n').filter(Boolean).length).toBeLessThanOrEqual(15);
  const lines: string[] = [];
  const run = new Function('require', 'console', code) as (...given: unknown[]) => void;
  run((name: string) => (name === '@umbral/core' ? core : null), { log: (line: string) => lines.push(line) });
  expect(lines).toHaveLength(4);
  for (const line of lines.slice(0, 3)) expect(line).toMatch(/^[A-Z].*: \d+ %$/);
  expect(lines[3]).toMatch(/^Next: [A-Z].*, \d+ minutes\. ./);
});
