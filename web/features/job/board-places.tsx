'use client';

import { FileText, Flame, ListChecks, Waypoints } from 'lucide-react';
import Link, { useGo } from '@/ui/link';
import { useKey } from '@/ui/keys';

/** Where the work at the opened device is done, and where it is proven and told. */
export function BoardPlaces({ jobId, isChanged, isClosed }: { jobId: number; isChanged: boolean; isClosed: boolean }) {
  const go = useGo();
  useKey('g', 'measure: the ladder of rails', () => go(`/jobs/${jobId}/measure`));
  useKey('h', 'locate: injection and heat', () => go(`/jobs/${jobId}/locate`));
  useKey('w', 'verify: prove the repair', () => go(`/jobs/${jobId}/verify`));
  useKey('y', 'worth: what going on brings', () => go(`/jobs/${jobId}/worth`));
  useKey('t', 'report', () => go(`/jobs/${jobId}/report`));
  return (
    <nav aria-label="Places of the job" className="grid grid-cols-2 gap-2">
      {!isClosed && (
        <>
          <Link className="button" href={`/jobs/${jobId}/measure`}>
            <Waypoints size={17} aria-hidden /> Measure <kbd>g</kbd>
          </Link>
          <Link className="button" href={`/jobs/${jobId}/locate`}>
            <Flame size={17} aria-hidden /> Locate <kbd>h</kbd>
          </Link>
        </>
      )}
      {(isChanged || isClosed) && (
        <>
          <Link className="button" href={`/jobs/${jobId}/verify`}>
            <ListChecks size={17} aria-hidden /> Verify <kbd>w</kbd>
          </Link>
          <Link className="button" href={`/jobs/${jobId}/report`}>
            <FileText size={17} aria-hidden /> Report <kbd>t</kbd>
          </Link>
        </>
      )}
    </nav>
  );
}
