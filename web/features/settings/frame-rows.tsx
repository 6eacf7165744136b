import type { PlacedField } from '@umbral/instruments';

/** The last frames, byte by byte, with the bytes of the values marked by a letter above and a frame around. */
export function FrameRows({
  frames,
  fields,
}: {
  frames: readonly string[];
  fields: Record<'volts' | 'amps', PlacedField | null>;
}) {
  const rows = frames.map((frame) => frame.split(' '));
  const longest = Math.max(0, ...rows.map((r) => r.length));
  const of = (k: number): 'V' | 'A' | '' => {
    const isIn = (p: PlacedField | null): boolean => p !== null && k >= p.field.at && k < p.field.at + p.bytes;
    return isIn(fields.volts) ? 'V' : isIn(fields.amps) ? 'A' : '';
  };
  if (rows.length === 0) return <p className="text-sm text-decide">No complete frame fits these settings.</p>;
  return (
    <section aria-label="Frames" className="min-w-0">
      <h2 className="text-lg">The last frames</h2>
      <div className="overflow-x-auto" tabIndex={0}>
        <table className="mt-1 border-separate border-spacing-0 font-mono text-sm">
          <thead>
            <tr className="text-muted">
              {Array.from({ length: longest }, (_, k) => (
                <th key={k} scope="col" className="px-1.5 font-normal">
                  {of(k) || k}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <tr key={n}>
                {row.map((byte, k) => (
                  <td
                    key={k}
                    className={`px-1.5 ${of(k) === 'V' ? 'bg-decide-soft font-bold' : of(k) === 'A' ? 'bg-raised font-bold underline' : ''}`}
                  >
                    {byte}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
