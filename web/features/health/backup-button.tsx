'use client';

import { useEffect, useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { useRouter } from '@/ui/router';
import { askBackup, backUp } from './actions';

const everyMs = 1500;

/** Makes a backup now, and says what became of it. */
export function BackupButton() {
  const { saving, save } = useSave();
  const [now, setNow] = useState<{ state: string; says: string }>({ state: 'none', says: '' });
  const router = useRouter();
  const isRunning = now.state === 'runs';
  useEffect(() => {
    if (!isRunning) return;
    const timer = setInterval(() => {
      void askBackup({}).then((answer) => {
        if (!answer.ok) return;
        setNow(answer.value);
        if (answer.value.state === 'done') router.refresh();
      });
    }, everyMs);
    return () => clearInterval(timer);
  }, [isRunning, router]);
  return (
    <>
      <button
        type="button"
        className="button button-main justify-self-start"
        disabled={saving || isRunning}
        onClick={() => save(() => backUp({}), { then: () => setNow({ state: 'runs', says: '' }) })}
      >
        {isRunning ? 'Backing up …' : 'Back up now'}
      </button>
      <p role="status" className={`text-sm break-words ${now.state === 'failed' ? 'text-decide' : 'text-muted'}`}>
        {now.state === 'failed'
          ? `No backup was made. ${now.says}`
          : now.state === 'done'
            ? `Backed up. ${now.says}`
            : 'Everything keeps running meanwhile. Copy the file to another computer.'}
      </p>
    </>
  );
}
