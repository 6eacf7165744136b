'use client';

import { Plus } from 'lucide-react';
import { useRouter } from '@/ui/router';
import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { Dialog } from '@/ui/dialog';
import { addCameraInstrument } from './actions';
import { TextField } from '@/ui/kit/fields';

/** Adds an instrument that cannot log: a camera reads its display from now on. */
export function AddCamera({ isFirst, onAdded }: { isFirst: boolean; onAdded: (key: string) => void }) {
  const [isOpen, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const router = useRouter();
  return (
    <>
      {isFirst && (
        <p className="card text-muted">
          Use a camera for a supply or meter that cannot log. The camera reads its display, and the readings are
          recorded like those of any instrument.
        </p>
      )}
      <button type="button" className={`button w-fit ${isFirst ? 'button-main' : ''}`} onClick={() => setOpen(true)}>
        <Plus size={17} aria-hidden /> Read a display with a camera
      </button>
      <Dialog open={isOpen} title="Read a display with a camera" onClose={() => setOpen(false)}>
        <form
          className="mt-3 grid gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            save(() => addCameraInstrument({ name }), {
              then: (key) => {
                setOpen(false);
                setName('');
                onAdded(key);
                router.refresh();
              },
              failed: setProblem,
            });
          }}
        >
          <TextField
            label="Instrument"
            hint="as you call it at the bench"
            autoFocus
            value={name}
            placeholder="Old supply"
            onValue={setName}
          />
          <FormFoot saving={saving} problem={problem} />
        </form>
      </Dialog>
    </>
  );
}
