import type { JobNews } from '@/server/work/people/presence';

/** Whether news are of somebody else, or of the same person in another tab: then this screen is shown anew. */
export function isForMe({ last, present }: Pick<JobNews, 'last' | 'present'>, me: number, tab: string): boolean {
  if (!last) return false;
  return last.person !== me || present.some((p) => p.person === me && p.tab !== tab);
}

/** Who did what, as a sentence for whoever has the same job open; empty for one's own. */
export function wordsOf({ last }: Pick<JobNews, 'last'>, me: number): string {
  if (!last || last.person === me || last.name === '') return '';
  return `${last.name}: ${last.what}`;
}
