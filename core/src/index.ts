export * from './quantity/index.ts';
export * from './trace/index.ts';
export * from './case/index.ts';
export * from './shape/index.ts';
export * from './twin/index.ts';
export * from './formats/index.ts';
export * from './sketch/index.ts';
export * from './diagnosis/index.ts';
