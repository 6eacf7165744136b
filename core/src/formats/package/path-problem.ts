import { clipText } from '../../quantity/index.ts';

/** Why a path must not be followed; null where it stays inside. */
export function pathProblem(path: string): string | null {
  if (path.trim() === '') return 'is empty; expected a path inside the package';
  if (/^[/\\]|^[a-zA-Z]:/.test(path)) return `"${clipText(path)}" is absolute; expected a path inside the package`;
  if (path.includes('\\') || path.includes('\0'))
    return `"${clipText(path)}" contains a character that is not allowed; expected forward slashes`;
  if (path.split('/').some((step) => step === '..'))
    return `"${clipText(path)}" leaves the package; expected a path inside it`;
  return null;
}
