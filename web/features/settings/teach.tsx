'use client';

import type { GuessedFields, Listened, Look, PlacedField } from '@umbral/instruments';
import { formatCurrent, formatVoltage } from '@umbral/core/words';
import Link from '@/ui/link';
import { useRef, useState } from 'react';
import { GatedButton } from '@/ui/kit/gated-button';
import { SelectField, TextField } from '@/ui/kit/fields';
import { useSave } from '@/ui/kit/use-save';
import { guessFieldsAt, keepInstrument, keepTaught, listenAt } from './actions';
import { FrameRows } from './frame-rows';
import { fieldsOf } from './instrument-dialog';
import { FramingForm, usualFraming, type Framing } from './framing-form';

type Quantity = 'volts' | 'amps';

/** How long a meter is listened to, and for a look at its display; seconds. */
const [listenS, lookS] = [8, 0.8];

/** What the values are, once they were looked for. */
interface Known {
  framing: Framing;
  looks: Look[];
  fields: GuessedFields;
  /** Places that were marked on the bytes by hand. */
  marked: Marked;
  chosen: Record<Quantity, number>;
}

type Marked = Record<Quantity, PlacedField['field'] | null>;
const unmarked: Marked = { volts: null, amps: null };

/** A value that was marked begins as what most meters send; the form beside it changes that. */
const usualField = (at: number, of: Quantity): PlacedField['field'] => ({
  at,
  type: 'u16',
  order: 'little',
  scale: of === 'volts' ? 0.01 : 0.001,
  offset: 0,
  mask: null,
});

/**
 * Teaches the language of a meter that sends binary frames: its bytes are heard, how they are cut is guessed, and what its
 * display shows says where the values stand. The result is a dialect file.
 */
export function TeachView({ at, baud, benchId }: { at: string; baud: string; benchId: number | null }) {
  const [form, setForm] = useState({ at, baud: baud || '115200', asks: '', everyMs: '200' });
  const [heard, setHeard] = useState<Listened | null>(null);
  const [known, setKnown] = useState<Known | null>(null);
  const [shown, setShown] = useState({ volts: '', amps: '' });
  const [busy, setBusy] = useState('');
  const [problem, setProblem] = useState('');
  const everyByte = useRef('');
  const place = placeOf(form, benchId);

  const listen = (seconds: number) =>
    listenAt({ ...place, seconds, asks: form.asks, everyMs: Number(form.everyMs) || undefined });
  const guess = async (bytes: string, framing: Framing, looks: Look[], marked = unmarked): Promise<void> => {
    const result = await guessFieldsAt({ benchId, taught: { bytes, framing, looks, marked } });
    if (!result.ok) return setProblem(result.message);
    setKnown({ framing, looks, fields: result.value, marked, chosen: { volts: 0, amps: 0 } });
  };
  const mark = (of: Quantity, field: Marked[Quantity]): void => {
    setProblem('');
    if (known) void guess(everyByte.current, known.framing, known.looks, { ...known.marked, [of]: field });
  };
  const during = async (what: string, work: () => Promise<void>): Promise<void> => {
    setProblem('');
    setBusy(what);
    await work();
    setBusy('');
  };
  const hear = (): Promise<void> =>
    during(`Listening for ${listenS} s …`, async () => {
      const result = await listen(listenS);
      if (!result.ok) return setProblem(result.message);
      if (result.value.bytes === '')
        return setProblem('It sends nothing. Is it switched on, is the speed right, does it have to be asked?');
      setHeard(result.value);
      everyByte.current = result.value.bytes;
      await guess(result.value.bytes, result.value.guesses[0]?.framing ?? usualFraming, []);
    });
  /** The frame that stands for the display: the last whole one that came. */
  const look = (): Promise<void> =>
    during('Listening …', async () => {
      if (!known) return;
      const result = await listen(lookS);
      if (!result.ok) return setProblem(result.message);
      const { framing, looks, marked } = known;
      const now = await guessFieldsAt({ benchId, taught: { bytes: result.value.bytes, framing, looks: [] } });
      if (!now.ok) return setProblem(now.message);
      const frame = now.value.frames.at(-1);
      if (!frame) return setProblem('No complete frame arrived. Check the start bytes and the length.');
      everyByte.current += ` ${result.value.bytes}`;
      setShown({ volts: '', amps: '' });
      await guess(everyByte.current, framing, [...looks, { frame, ...shown }], marked);
    });
  // In volts and amperes, with the digits of the display: a unit or a word would find nothing.
  const isShown = (text: string): boolean => /^-?\d+([.,]\d+)?$/.test(text.trim());
  const missing =
    isShown(shown.volts) && isShown(shown.amps) ? null : 'Type both numbers, such as 5.08 and 0.125, without units';
  return (
    <>
      <h1 className="pt-3 text-2xl">Teach a language</h1>
      <p className="max-w-[75ch] text-muted">
        For a meter that sends binary frames. Umbral listens to it, guesses where frames start and end, and finds the
        values by what its display shows. You can also mark them yourself. The result is a file that other shops can
        use.
      </p>
      <form
        aria-label="The meter"
        className="mt-3 grid max-w-[700px] grid-cols-2 gap-3 sm:grid-cols-4"
        onSubmit={(e) => {
          e.preventDefault();
          void hear();
        }}
      >
        <div className="col-span-2">
          <TextField
            label="Port or address"
            value={form.at}
            placeholder="/dev/ttyUSB0"
            onValue={(value) => setForm({ ...form, at: value })}
          />
        </div>
        <TextField
          label="Speed"
          hint="baud, of a serial port"
          inputMode="numeric"
          value={form.baud}
          onValue={(value) => setForm({ ...form, baud: value })}
        />
        <TextField
          label="Bytes to ask with"
          hint="if it must be asked"
          value={form.asks}
          placeholder="AA 01 0D"
          onValue={(value) => setForm({ ...form, asks: value })}
        />
        <div className="col-span-full flex items-center gap-3">
          <button type="submit" className="button button-main" disabled={busy !== ''}>
            Listen
          </button>
          <span role="status" className="text-sm text-muted">
            {busy}
          </span>
        </div>
      </form>
      {problem && (
        <p role="alert" className="mt-2 text-decide">
          {problem}
        </p>
      )}
      {heard && known && (
        <div className="mt-4 grid gap-4 lg:grid-cols-[minmax(0,1fr)_380px]">
          <div className="grid min-w-0 content-start gap-4">
            <FramingForm
              guesses={heard.guesses}
              framing={known.framing}
              onChange={(framing) => void guess(everyByte.current, framing, [])}
            />
            <FrameRows
              frames={known.fields.frames}
              fields={{ volts: fieldOf(known, 'volts'), amps: fieldOf(known, 'amps') }}
              onMark={(of, at) => {
                // Where a guess begins there, it is the one that was meant.
                const guessed = known.looks.length > 0 ? known.fields[of].find((p) => p.field.at === at) : undefined;
                mark(of, guessed?.field ?? usualField(at, of));
              }}
            />
          </div>
          <div className="grid content-start gap-4">
            <section aria-label="The display" className="card grid gap-2 p-3">
              <h2 className="text-lg">What the display shows</h2>
              <p className="text-sm text-muted">
                Type both numbers as they stand there, with all digits, and press Take. Do it two or three times, with
                another load each time.
              </p>
              <form
                className="grid gap-2"
                onSubmit={(e) => {
                  e.preventDefault();
                  if (missing === null && !busy) void look();
                }}
              >
                <div className="grid grid-cols-2 gap-2">
                  <TextField
                    label="Volts"
                    inputMode="decimal"
                    value={shown.volts}
                    onValue={(volts) => setShown({ ...shown, volts })}
                  />
                  <TextField
                    label="Amperes"
                    inputMode="decimal"
                    value={shown.amps}
                    onValue={(amps) => setShown({ ...shown, amps })}
                  />
                </div>
                <GatedButton type="submit" className="button" blocked={busy ? 'Wait a moment' : missing}>
                  Take
                </GatedButton>
              </form>
              {known.looks.length > 0 && (
                <ol aria-label="Looks" className="list-decimal pl-5 text-sm">
                  {known.looks.map((l, k) => (
                    <li key={k}>
                      {l.volts} V, {l.amps} A{' '}
                      <button
                        type="button"
                        className="underline"
                        aria-label={`Take out ${l.volts} V, ${l.amps} A`}
                        onClick={() =>
                          void guess(
                            everyByte.current,
                            known.framing,
                            known.looks.filter((_, n) => n !== k),
                            known.marked,
                          )
                        }
                      >
                        Take out
                      </button>
                    </li>
                  ))}
                </ol>
              )}
              {(['volts', 'amps'] as const).map((of) => {
                const marked = known.marked[of];
                return marked ? (
                  <MarkedField
                    key={`${of} ${JSON.stringify(marked)}`}
                    of={of}
                    field={marked}
                    says={known.fields[of].at(0)?.says ?? null}
                    onChange={(field) => mark(of, field)}
                  />
                ) : (
                  <Places
                    key={of}
                    of={of}
                    list={known.fields[of]}
                    hasLooks={known.looks.length > 0}
                    chosen={known.chosen[of]}
                    onChoose={(k) => setKnown({ ...known, chosen: { ...known.chosen, [of]: k } })}
                  />
                );
              })}
            </section>
            <Keep known={known} place={place} asks={form.asks} everyMs={form.everyMs} />
          </div>
        </div>
      )}
    </>
  );
}

function placeOf({ at, baud }: { at: string; baud: string }, benchId: number | null) {
  const address = /^([^/].*):(\d+)$/.exec(at.trim());
  const nowhere = { host: '', port: null, path: '', baudRate: null, unit: null, benchId };
  return address
    ? { ...nowhere, way: 'tcp' as const, host: address[1], port: Number(address[2]) }
    : { ...nowhere, way: 'serial' as const, path: at.trim(), baudRate: Number(baud) || null };
}

const fieldOf = ({ fields, looks, marked, chosen }: Known, of: Quantity): PlacedField | null =>
  looks.length === 0 && !marked[of] ? null : (fields[of][chosen[of]] ?? null);

const sayValue = (of: Quantity, x: number | null): string =>
  x === null ? '' : of === 'volts' ? formatVoltage(x) : formatCurrent(x, 0.0001);

const quantityNames = { volts: 'Volts in the frame', amps: 'Amperes in the frame' } as const;

const sayPlace = (of: Quantity, { field, says }: PlacedField): string =>
  `byte ${field.at}, ${field.type}${/8$/.test(field.type) ? '' : `, ${field.order}-endian`}, times ${field.scale}: ${sayValue(of, says)} now`;

/** Where a value may stand: the likeliest is chosen, others can be. */
function Places({
  of,
  list,
  hasLooks,
  chosen,
  onChoose,
}: {
  of: Quantity;
  list: readonly PlacedField[];
  hasLooks: boolean;
  chosen: number;
  onChoose: (k: number) => void;
}) {
  const name = quantityNames[of];
  if (!hasLooks) return null;
  if (list.length === 0)
    return (
      <p className="text-sm text-decide">
        {name}: no place fits all that the display showed. Take again while the display is steady, or check the frame
        settings.
      </p>
    );
  return (
    <SelectField label={name} value={chosen} onValue={(value) => onChoose(Number(value))}>
      {list.map((p, k) => (
        <option key={k} value={k}>
          {sayPlace(of, p)}
        </option>
      ))}
    </SelectField>
  );
}

/** A value that was marked on the bytes: how it is written, changed until the last frame says what the display shows. */
function MarkedField({
  of,
  field,
  says,
  onChange,
}: {
  of: Quantity;
  field: PlacedField['field'];
  says: number | null;
  onChange: (field: PlacedField['field'] | null) => void;
}) {
  const [scale, setScale] = useState(String(field.scale));
  return (
    <fieldset className="grid grid-cols-3 gap-2 border-t border-line pt-2">
      <legend className="sr-only">{quantityNames[of]}</legend>
      <p className="col-span-full text-sm">
        {quantityNames[of]}: marked at byte {field.at}, <strong>{sayValue(of, says) || 'no value'}</strong> now.{' '}
        <button type="button" className="underline" onClick={() => onChange(null)}>
          Remove the mark
        </button>
      </p>
      <SelectField
        label="Type"
        value={field.type}
        onValue={(type) => onChange({ ...field, type: type as typeof field.type })}
      >
        {types.map((type) => (
          <option key={type}>{type}</option>
        ))}
      </SelectField>
      <SelectField
        label="Byte order"
        value={field.order}
        onValue={(order) => onChange({ ...field, order: order as typeof field.order })}
      >
        <option value="little">low byte first</option>
        <option value="big">high byte first</option>
      </SelectField>
      <TextField
        label="Scale"
        inputMode="decimal"
        value={scale}
        onValue={setScale}
        onBlur={() => {
          const factor = Number(scale.replace(',', '.'));
          if (Number.isFinite(factor) && factor !== 0) onChange({ ...field, scale: factor });
          else setScale(String(field.scale));
        }}
      />
    </fieldset>
  );
}

const types: PlacedField['field']['type'][] = ['u8', 's8', 'u16', 's16', 'u24', 's24', 'u32', 's32', 'f32'];

/** The taught language as a file: named, kept at the bench, and for sharing. */
function Keep({
  known,
  place,
  asks,
  everyMs,
}: {
  known: Known;
  place: ReturnType<typeof placeOf>;
  asks: string;
  everyMs: string;
}) {
  const [name, setName] = useState('');
  const [problem, setProblem] = useState('');
  const [kept, setKept] = useState('');
  const [isAdded, setAdded] = useState(false);
  const { saving, save } = useSave();
  const [volts, amps] = [fieldOf(known, 'volts'), fieldOf(known, 'amps')];
  if (!volts || !amps) return null;
  const id = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
  const text = JSON.stringify(
    {
      format: 'umbral-frames/1',
      id,
      name: name.trim(),
      ...(place.way === 'serial' && place.baudRate ? { bauds: [place.baudRate] } : {}),
      ...known.framing,
      fields: { volts: volts.field, amps: amps.field },
      ...(asks.trim() ? { request: { bytes: asks.trim(), everyMs: Number(everyMs) } } : {}),
      resolutionV: Math.min(1, volts.field.scale),
      resolutionA: Math.min(1, amps.field.scale),
    },
    null,
    2,
  );
  const keep = (then: (id: string) => void): void => {
    setProblem('');
    save(() => keepTaught({ benchId: place.benchId, text }), {
      done: 'Saved. Instruments can use it now.',
      then: (saved) => {
        setKept(saved.id);
        then(saved.id);
      },
      failed: setProblem,
    });
  };
  /** Where it was heard is where it is: nothing is asked again. */
  const add = (dialect: string): void =>
    save(() => keepInstrument({ ...fieldsOf(null), ...place, dialect, kind: 'meter', name: name.trim() }), {
      done: `${name.trim()} was added. Connecting …`,
      then: () => setAdded(true),
      failed: setProblem,
    });
  const blocked = saving ? 'Saving …' : id === '' ? 'Give it a name first' : null;
  return (
    <section aria-label="Save the language" className="card grid gap-2 p-3">
      <h2 className="text-lg">Save it</h2>
      <p className="text-sm">
        The last frame says {sayValue('volts', volts.says)}, {sayValue('amps', amps.says)}. Save it only if the display
        agrees.
      </p>
      <TextField label="Name" hint="what it is, not its maker" value={name} onValue={setName} />
      <div className="flex flex-wrap gap-2">
        <GatedButton className="button button-main" blocked={blocked} onClick={() => keep(add)}>
          Save and add the instrument
        </GatedButton>
        <GatedButton className="button" blocked={blocked} onClick={() => keep(() => undefined)}>
          Save the language
        </GatedButton>
        <a
          className="button"
          download={`${id || 'dialect'}.json`}
          href={`data:application/json;charset=utf-8,${encodeURIComponent(`${text}\n`)}`}
        >
          Download the file
        </a>
      </div>
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      {kept && (
        <p className="text-sm">
          Saved as <code>{kept}</code>.{' '}
          {isAdded && (
            <>
              {name.trim()} is an instrument of the bench now.{' '}
              <Link className="underline" href="/settings">
                See it in the settings
              </Link>
              . In the demo it reads 0 A at first. To see a current, plug in the simulated device on a job’s record
              page.
            </>
          )}
        </p>
      )}
    </section>
  );
}
