import { usualLines, type LineDialect } from './line-stream.ts';
import { guardedScpi, usualScpi, type ScpiDialect } from './scpi.ts';

export * from './scpi.ts';
export * from './line-stream.ts';

/** Every dialect that ships: a file of `data`, read. */
export const shippedDialects: readonly (ScpiDialect | LineDialect)[] = [usualScpi, guardedScpi, usualLines];
