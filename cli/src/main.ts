import { umbral } from './command.ts';

void umbral(process.argv.slice(2)).then((code) => {
  process.exitCode = code;
});
