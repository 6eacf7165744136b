'use client';

import { useRouter } from '@/ui/router';
import { useEffect, useRef, type RefObject } from 'react';
import { useToast } from '@/ui/toast';
import { postFile } from '@/ui/upload';
import type { WatchSnapshot } from './display-watch';
import { ProofStrip } from './proof-strip';

const caption = 'The display as filmed, with the values read from it';

/**
 * Keeps a picture a second while a job records, and sends them as one when it ends.
 *
 * @param jobId that records and wants them; null for none
 */
export function useStrip(
  video: RefObject<HTMLVideoElement | null>,
  snapshot: WatchSnapshot | null,
  jobId: number | null,
  isMirrored: boolean,
): void {
  const strip = useRef(new ProofStrip());
  const toast = useToast();
  const router = useRouter();
  useEffect(() => {
    const element = video.current;
    if (jobId === null || !element || !snapshot?.state || !snapshot.reading) return;
    strip.current.add(element, snapshot.state.corners, snapshot.reading, isMirrored, performance.now() / 1000);
  }, [video, snapshot, jobId, isMirrored]);
  useEffect(() => {
    if (jobId === null) return;
    const keep = async (kept: ProofStrip): Promise<void> => {
      const picture = await kept.whole();
      if (!picture) return;
      const url = `/api/jobs/${jobId}/attachments?of=job&caption=${encodeURIComponent(caption)}`;
      const answer = await postFile<number>(url, picture, () => undefined).promise;
      toast(
        answer.ok
          ? { tone: 'done', text: 'Pictures of the display saved with the job.' }
          : { tone: 'problem', text: answer.message },
      );
      router.refresh();
    };
    return () => {
      void keep(strip.current);
      strip.current = new ProofStrip();
    };
  }, [jobId, toast, router]);
}
