'use client';

import { ImagePlus } from 'lucide-react';
import { useRouter } from '@/ui/router';
import { useEffect, useRef, useState } from 'react';
import { SelectField, TextField } from '@/ui/kit/fields';
import { Dialog } from '@/ui/dialog';
import { useToast } from '@/ui/toast';
import { postFile } from '@/ui/upload';
import { CameraShot } from './camera-shot';
import type { BoardView } from './view';

/** What became of a picture that was sent. */
export interface SentPicture {
  sideId: number;
  pictureId: number;
  /** It is the first of a side. */
  isNew: boolean;
}

interface Where {
  sideId: string;
  side: string;
  part: string;
  revision: string;
  kind: string;
  isOwn: boolean;
}

/** Sends pictures of a board; says how it went. */
function useSendPicture(board: BoardView) {
  const router = useRouter();
  const toast = useToast();
  const [share, setShare] = useState<number | null>(null);
  const send = async (file: Blob, where: Where): Promise<SentPicture | null> => {
    setShare(0);
    const query = new URLSearchParams({
      model: board.model,
      ...(where.sideId ? { sideId: where.sideId } : { side: where.side, part: where.part, revision: where.revision }),
      kind: where.kind,
      ...(where.isOwn && board.jobId !== null ? { jobId: String(board.jobId) } : {}),
    });
    const answer = await postFile<SentPicture>(`/api/boards/pictures?${query}`, file, setShare).promise;
    setShare(null);
    if (!answer.ok) {
      toast({ tone: 'problem', text: answer.message });
      return null;
    }
    router.refresh();
    return answer.value;
  };
  return { share, send };
}

/** Takes a picture of the board: by camera, from a file, dropped or pasted, and asks what it shows. */
export function AddPicture({
  board,
  sideId,
  onSent,
}: {
  board: BoardView;
  /** The side that is shown; null where there is none yet. */
  sideId: number | null;
  onSent: (sent: SentPicture) => void;
}) {
  const [file, setFile] = useState<File | null>(null);
  const isFirst = board.sides.length === 0;
  const [where, setWhere] = useState<Where>({
    sideId: sideId === null ? '' : String(sideId),
    side: 'front',
    part: '',
    revision: board.revision,
    kind: 'photo',
    isOwn: sideId !== null && board.jobId !== null,
  });
  const { share, send } = useSendPicture(board);
  const take = useRef(setFile);
  useEffect(() => {
    const onPaste = (event: ClipboardEvent): void => {
      const image = [...(event.clipboardData?.files ?? [])].find((f) => f.type.startsWith('image/'));
      if (!image) return;
      event.preventDefault();
      take.current(image);
    };
    const onDrop = (event: DragEvent): void => {
      event.preventDefault();
      const image = event.dataTransfer?.files[0];
      if (image) take.current(image);
    };
    const onDragOver = (event: DragEvent): void => event.preventDefault();
    addEventListener('paste', onPaste);
    addEventListener('drop', onDrop);
    addEventListener('dragover', onDragOver);
    return () => {
      removeEventListener('paste', onPaste);
      removeEventListener('drop', onDrop);
      removeEventListener('dragover', onDragOver);
    };
  }, []);
  const isNewSide = where.sideId === '';
  const submit = async (): Promise<void> => {
    if (!file) return;
    const sent = await send(file, where);
    setFile(null);
    if (sent) onSent(sent);
  };
  return (
    <>
      <label className={`button cursor-pointer focus-within:outline-2 ${isFirst ? 'button-main' : 'min-h-9'}`}>
        <ImagePlus size={17} aria-hidden /> {isFirst ? 'Add a picture of the board' : 'Add a picture'}
        <input
          type="file"
          className="sr-only"
          accept="image/*"
          aria-label="Picture of the board"
          onChange={(e) => {
            setFile(e.target.files?.[0] ?? null);
            e.target.value = '';
          }}
        />
      </label>
      <CameraShot onTake={setFile} />
      {file && (
        <Dialog open title="What does this picture show?" onClose={() => setFile(null)}>
          <form
            className="mt-3 grid gap-3"
            onSubmit={(e) => {
              e.preventDefault();
              void submit();
            }}
          >
            {!isFirst && (
              <SelectField
                label="Side of the board"
                value={where.sideId}
                onValue={(to) =>
                  setWhere({
                    ...where,
                    sideId: to,
                    isOwn: to !== '' && board.jobId !== null,
                    kind: to === '' ? 'photo' : where.kind,
                  })
                }
              >
                {board.sides.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
                <option value="">another side or part</option>
              </SelectField>
            )}
            {isNewSide && (
              <div className="grid gap-3 sm:grid-cols-3">
                <SelectField label="Side" value={where.side} onValue={(side) => setWhere({ ...where, side })}>
                  <option value="front">front</option>
                  <option value="back">back</option>
                </SelectField>
                <TextField
                  label="Part"
                  hint="of a board in pieces"
                  placeholder="upper half"
                  value={where.part}
                  onValue={(part) => setWhere({ ...where, part })}
                />
                <TextField
                  label="Revision"
                  hint="as printed on it"
                  value={where.revision}
                  onValue={(revision) => setWhere({ ...where, revision })}
                />
              </div>
            )}
            {!isNewSide && (
              <SelectField label="Kind" value={where.kind} onValue={(kind) => setWhere({ ...where, kind })}>
                <option value="photo">photograph</option>
                <option value="heat">heat picture</option>
              </SelectField>
            )}
            {!isNewSide && board.jobId !== null && (
              <label className="flex min-h-9 items-center gap-2">
                <input
                  type="checkbox"
                  checked={where.isOwn}
                  onChange={(e) => setWhere({ ...where, isOwn: e.target.checked })}
                />
                of this device only, not for every job of the model
              </label>
            )}
            <p className="text-sm text-muted">
              Only the pixels are kept. Place, owner and device are removed from the file.
            </p>
            <p className="flex items-center gap-3">
              <button type="submit" className="button button-main" disabled={share !== null}>
                Use this picture
              </button>
              {share !== null && <span role="status">{Math.round(100 * share)} % sent</span>}
            </p>
          </form>
        </Dialog>
      )}
    </>
  );
}
