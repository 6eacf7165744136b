export { asFinding, sayFinding, type Finding } from './finding.ts';
export { readWhole, type PackageFiles } from './files.ts';
export { bytesAccess, zipFiles, type RandomAccess } from './zip.ts';
export { caseFormat, parseCase } from './parse.ts';
export { pathProblem } from './path-problem.ts';
export { readJson } from './json.ts';
export {
  collectRun,
  inspectPackage,
  mergeTyped,
  readPackage,
  readRunLog,
  traceOf,
  type CasePackage,
  type RunSamples,
} from './read.ts';
export { caseJson, packageFiles, streamZip, writeZip, type PackedFile, type RunContent } from './write.ts';
