import type { RecorderHealth } from '@umbral/instruments';
import { Hazard } from '@/ui/parts';
import { notesOf } from './recorder-words';

/** What is wrong with the recorder itself, where whoever measures looks. */
export function RecorderNotes({ health }: { health: RecorderHealth | null }) {
  const notes = health ? notesOf(health) : [];
  if (notes.length === 0) return null;
  return (
    <div className="grid gap-1.5" role="status">
      {notes.map((note) => (
        <Hazard key={note}>{note}</Hazard>
      ))}
    </div>
  );
}
