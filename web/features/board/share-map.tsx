'use client';

import { useRouter } from '@/ui/router';
import { useState } from 'react';
import { countOf } from '@umbral/core/words';
import type { TakenBoard } from '@/server/work/boards/board-file';
import { useToast } from '@/ui/toast';
import { postFile } from '@/ui/upload';

/** The map as a file for another shop, and one of another shop for this model. */
export function ShareMap({ model, isEmpty = false }: { model: string; isEmpty?: boolean }) {
  const router = useRouter();
  const toast = useToast();
  const [isReading, setIsReading] = useState(false);
  const href = `/api/boards?model=${encodeURIComponent(model)}`;
  const take = async (file: File): Promise<void> => {
    setIsReading(true);
    const { promise } = postFile<TakenBoard>(href, file, () => undefined);
    const answer = await promise;
    setIsReading(false);
    if (!answer.ok) return toast({ tone: 'problem', text: `${file.name}: ${answer.message}` });
    const { sides, points, good, known } = answer.value;
    const left = known.length > 0 ? ` Already here and left as it is: ${known.join('; ')}.` : '';
    toast({
      tone: 'done',
      text: `${countOf(sides, 'side')}, ${countOf(points, 'point')} and ${countOf(good, 'known-good reading')} were added.${left}`,
    });
    router.refresh();
  };
  return (
    <p className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1">
      {!isEmpty && (
        <>
          <a className="underline" href={`${href}&pictures=yes`} download>
            Download the map
          </a>
          <a className="underline" href={href} download>
            without pictures
          </a>
        </>
      )}
      <label className="cursor-pointer underline focus-within:outline-2">
        {isReading ? 'Reading …' : 'Add a map from a file'}
        <input
          type="file"
          className="sr-only"
          accept=".json,application/json"
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) void take(file);
            e.target.value = '';
          }}
        />
      </label>
    </p>
  );
}
