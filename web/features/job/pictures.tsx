'use client';

import { Camera, X } from 'lucide-react';
import { useRouter } from '@/ui/router';
import { useEffect, useRef, useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { useToast } from '@/ui/toast';
import { postFile } from '@/ui/upload';
import { MarkedPicture } from './marked-picture';
import { removePicture } from './actions';
import { useSave } from '@/ui/kit/use-save';
import type { PictureView } from './view';

/** Sends pictures one after the other and says how it went. */
export function useSendPictures(jobId: number) {
  const router = useRouter();
  const toast = useToast();
  const [sending, setSending] = useState(false);
  const send = async (files: readonly Blob[], of = 'job'): Promise<void> => {
    setSending(true);
    let kept = 0;
    for (const file of files) {
      const answer = await postFile<number>(`/api/jobs/${jobId}/attachments?of=${of}`, file, () => undefined).promise;
      if (answer.ok) kept++;
      else toast({ tone: 'problem', text: answer.message });
    }
    setSending(false);
    if (kept > 0) {
      toast({
        tone: 'done',
        text: kept === 1 ? 'Picture saved with the job.' : `${kept} pictures saved with the job.`,
      });
      router.refresh();
    }
  };
  return { sending, send };
}

/** A button for the camera or a file; pictures that are pasted anywhere on the page are kept as well. */
export function AddPicture({ jobId, of, what }: { jobId: number; of: string; what: string }) {
  const { sending, send } = useSendPictures(jobId);
  const latest = useRef(send);
  useEffect(() => {
    latest.current = send;
  });
  useEffect(() => {
    if (of !== 'job') return;
    const onPaste = (event: ClipboardEvent): void => {
      const images = [...(event.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
      if (images.length === 0) return;
      event.preventDefault();
      void latest.current(images);
    };
    addEventListener('paste', onPaste);
    return () => removeEventListener('paste', onPaste);
  }, [of]);
  return (
    <label
      title={`Add a picture: ${what}`}
      className="inline-grid size-9 cursor-pointer place-items-center rounded-md text-muted focus-within:outline-2 hover:text-ink"
    >
      <Camera size={16} aria-hidden />
      <input
        type="file"
        aria-label={`Add a picture: ${what}`}
        accept="image/*"
        multiple
        className="sr-only"
        disabled={sending}
        onChange={(e) => {
          void send([...(e.target.files ?? [])], of);
          e.target.value = '';
        }}
      />
    </label>
  );
}

/** Pictures, small; one is opened large by a press. */
export function Pictures({ jobId, pictures }: { jobId: number; pictures: readonly PictureView[] }) {
  const [open, setOpen] = useState<PictureView | null>(null);
  const { saving, save } = useSave();
  if (pictures.length === 0) return null;
  const remove = (picture: PictureView): void => {
    const set = (removed: boolean) => removePicture({ jobId, pictureId: picture.id, removed });
    save(() => set(true), {
      done: 'The picture was removed.',
      undo: () => save(() => set(false)),
      then: () => setOpen(null),
    });
  };
  return (
    <span className="mt-1 flex flex-wrap gap-1">
      {pictures.map((p) => (
        <button key={p.id} type="button" onClick={() => setOpen(p)} aria-label={`Picture: ${p.words}`}>
          <img
            src={`/api/attachments/${p.id}?small`}
            alt={p.words}
            width={44}
            height={44}
            loading="lazy"
            className="size-11 rounded-md border border-line object-cover"
          />
        </button>
      ))}
      {open && (
        <Dialog open wide title={open.words} onClose={() => setOpen(null)}>
          <MarkedPicture key={open.id} jobId={jobId} picture={pictures.find((p) => p.id === open.id) ?? open} />
          <p className="mt-3">
            <button type="button" className="button" disabled={saving} onClick={() => remove(open)}>
              <X size={16} aria-hidden /> Remove
            </button>
          </p>
        </Dialog>
      )}
    </span>
  );
}
