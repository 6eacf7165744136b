'use client';

import dynamic from 'next/dynamic';
import { useSearchParams } from 'next/navigation';
import { createContext, useContext, useState, type ReactNode } from 'react';
import { useSendPictures } from '@/features/job/pictures';
import type { JobView } from '@/features/job/view';

const AddRun = dynamic(() => import('./add-run').then((m) => m.AddRun), { ssr: false });

const Context = createContext<() => void>(() => undefined);

/** Makes the whole job page a place to drop logs and pictures on. */
export function DropRuns({ view, children }: { view: JobView; children: ReactNode }) {
  // A proof that wants a run leads here with the dialog open.
  const wanted = useSearchParams().get('add') === 'run';
  const [dialog, setDialog] = useState<{ files: File[]; count: number } | null>(
    wanted ? { files: [], count: 0 } : null,
  );
  const [count, setCount] = useState(wanted ? 1 : 0);
  const [over, setOver] = useState(false);
  const { send } = useSendPictures(view.job.id);
  const show = (files: File[]): void => {
    setCount(count + 1);
    setDialog({ files, count });
  };
  const carriesFiles = (types: readonly string[]): boolean => types.includes('Files');
  return (
    <Context.Provider value={() => show([])}>
      <div
        onDragOver={(e) => {
          if (!carriesFiles(e.dataTransfer.types)) return;
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={(e) => {
          if (e.currentTarget === e.target) setOver(false);
        }}
        onDrop={(e) => {
          if (!carriesFiles(e.dataTransfer.types)) return;
          e.preventDefault();
          setOver(false);
          const files = [...e.dataTransfer.files];
          const pictures = files.filter((f) => f.type.startsWith('image/'));
          const logs = files.filter((f) => !pictures.includes(f));
          if (pictures.length > 0) void send(pictures);
          if (logs.length > 0) show(logs);
        }}
        className={over ? 'outline-4 -outline-offset-4 outline-edge outline-dashed' : ''}
      >
        {children}
      </div>
      {dialog && <AddRun key={dialog.count} view={view} open files={dialog.files} onClose={() => setDialog(null)} />}
    </Context.Provider>
  );
}

export function useAddRun(): () => void {
  return useContext(Context);
}
