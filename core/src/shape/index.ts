export * from './types.ts';
export { optimalPartition } from './partition.ts';
export { segmentTrace, type Segmentation } from './segments.ts';
export { describeRun, type DescribeOptions } from './describe.ts';
export { courseWindows } from './course.ts';
export { recognisePatterns, topPattern } from './recognise.ts';
export type { Expectation, RunContext } from './context.ts';
