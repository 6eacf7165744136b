'use client';

import type { FoundAt, FoundInstrument, PlacesHere } from '@umbral/instruments';
import { useEffect, useRef, useState } from 'react';
import Link from '@/ui/link';
import { Dialog } from '@/ui/dialog';
import { SelectField, TextField } from '@/ui/kit/fields';
import { findAt, placesAt, type InstrumentFields } from './actions';
import { sayShown } from './say-shown';
import type { SettingsViewData } from './view';

/** A place that was looked at, and what came of it. */
interface LookedAt {
  where: string;
  place: Pick<InstrumentFields, 'way' | 'host' | 'port' | 'path' | 'baudRate'>;
  at: FoundAt;
}

type Place = LookedAt['place'];

const nowhere: Place = { way: 'serial', host: '', port: null, path: '', baudRate: null };

/** Places that a typed text means: a serial port at each usual speed, or an address at each usual port. */
function placesIn(text: string, { bauds, networkPorts }: Pick<PlacesHere, 'bauds' | 'networkPorts'>): Place[] {
  const typed = text.trim();
  if (typed === '') return [];
  if (/^(\/|[A-Z]+\d+$)/i.test(typed) && !/:\d+$/.test(typed))
    return bauds.map((baudRate) => ({ ...nowhere, path: typed, baudRate }));
  const port = /^(.*):(\d+)$/.exec(typed);
  const ports = port ? [Number(port[2])] : networkPorts;
  return ports.map((p) => ({ ...nowhere, way: 'tcp', host: port ? port[1] : typed, port: p }));
}

const sayPlace = (p: Place): string => (p.way === 'tcp' ? `${p.host}:${p.port}` : `${p.path} at ${p.baudRate} baud`);

/**
 * Looks for instruments at the ports and addresses of a bench: listens, asks each language's harmless question, and shows
 * what answers, for whoever stands before the display to say whether it is so.
 */
export function FindDialog({
  benches,
  onFound,
  onClose,
}: {
  benches: SettingsViewData['benches'];
  onFound: (fields: Partial<InstrumentFields>) => void;
  onClose: () => void;
}) {
  const [benchId, setBenchId] = useState<number | null>(null);
  const [here, setHere] = useState<PlacesHere | null>(null);
  const [typed, setTyped] = useState('');
  const [looking, setLooking] = useState('');
  const [looked, setLooked] = useState<LookedAt[]>([]);
  const [problem, setProblem] = useState('');
  const stopped = useRef(false);
  useEffect(() => {
    let isCurrent = true;
    void placesAt(benchId).then((result) => {
      if (!isCurrent) return;
      if (result.ok) setHere(result.value);
      else setProblem(result.message);
    });
    return () => {
      isCurrent = false;
    };
  }, [benchId]);
  useEffect(() => {
    stopped.current = false;
    return () => {
      stopped.current = true;
    };
  }, []);

  const free = here?.ports.filter((p) => p.usedBy === '') ?? [];
  const look = async (): Promise<void> => {
    if (!here) return;
    setLooked([]);
    setProblem('');
    const groups = [placesIn(typed, here), ...free.map((p) => placesIn(p.path, here))].filter((g) => g.length > 0);
    if (groups.length === 0) return setProblem('No free serial port. Plug the instrument in, or type its address.');
    for (const places of groups)
      for (const place of places) {
        if (stopped.current) return;
        const where = sayPlace(place);
        setLooking(where);
        const result = await findAt({ ...place, benchId });
        const at = result.ok ? result.value : { found: [], why: result.message, heard: '' };
        setLooked((all) => [...all, { where, place, at }]);
        // A port that cannot be opened is no better at another speed, and one that answered needs no other.
        if (at.found.length > 0 || !result.ok || /no such port|no permission|has this port open/.test(at.why)) break;
      }
    setLooking('');
  };
  const found = looked.filter((l) => l.at.found.length > 0);
  const unknown = looked.filter((l) => l.at.heard !== '');
  return (
    <Dialog open title="Find an instrument" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void look();
        }}
      >
        {benches.length > 0 && (
          <SelectField
            label="Bench"
            value={benchId ?? ''}
            onValue={(value) => setBenchId(value === '' ? null : Number(value))}
          >
            <option value="">this computer</option>
            {benches.map((b) => (
              <option key={b.id} value={b.id}>
                {b.name}
              </option>
            ))}
          </SelectField>
        )}
        <p className="text-sm text-muted">
          Plug it in and switch it on. Umbral listens and asks what it shows. It sets nothing and switches nothing on.
        </p>
        {here && here.ports.length > 0 && (
          <ul aria-label="Serial ports" className="text-sm">
            {here.ports.map((p) => (
              <li key={p.path}>
                {p.path}
                {p.says && ` (${p.says})`}
                {p.usedBy && <span className="text-muted">, in use by {p.usedBy}</span>}
              </li>
            ))}
          </ul>
        )}
        <TextField
          label="Other port or address"
          hint="a serial port, or a name or number in the network"
          value={typed}
          placeholder="192.0.2.10"
          onValue={setTyped}
        />
        {here && here.standIns.length > 0 && (
          <details className="text-sm">
            <summary>Simulated instruments to try this with</summary>
            <ul className="grid gap-0.5 pt-1">
              {here.standIns.map(({ at, says }) => (
                <li key={at}>
                  <button type="button" className="underline" onClick={() => setTyped(at)}>
                    {at}
                  </button>
                  , {says}
                </li>
              ))}
            </ul>
          </details>
        )}
        <div className="flex items-center gap-3">
          <button type="submit" className="button button-main" disabled={looking !== '' || !here}>
            Find it
          </button>
          <span role="status" className="text-sm text-muted">
            {looking && `Looking at ${looking} …`}
          </span>
        </div>
        {problem && (
          <p role="alert" className="text-sm text-decide">
            {problem}
          </p>
        )}
        {found.map(({ where, place, at: { found: list } }) => (
          <Found
            key={where}
            where={where}
            list={list}
            teach={teachHref(place, benchId)}
            onTake={(of) => onFound({ ...place, benchId, ...fieldsFor(of) })}
          />
        ))}
        {unknown.map(({ where, place, at }) => (
          <div key={where} className="rounded-lg border border-line px-3 py-2 text-sm">
            <p>{at.why}</p>
            <Link className="underline" href={teachHref(place, benchId)}>
              Teach Umbral this language
            </Link>
          </div>
        ))}
        {looked.length > 0 && found.length === 0 && unknown.length === 0 && looking === '' && (
          <ul aria-label="What was tried" className="grid max-h-48 gap-0.5 overflow-y-auto text-sm">
            {looked.map(({ where, at }) => (
              <li key={where}>{at.why}</li>
            ))}
          </ul>
        )}
      </form>
    </Dialog>
  );
}

const fieldsFor = ({ dialect, kind, unit, name }: FoundInstrument): Partial<InstrumentFields> => ({
  dialect,
  kind,
  unit,
  name,
});

/** Where a language is taught, with the place that it is heard at. */
function teachHref(place: Place, benchId: number | null): string {
  const query = new URLSearchParams({
    way: place.way,
    at: place.way === 'tcp' ? `${place.host}:${place.port}` : place.path,
    baud: String(place.baudRate ?? ''),
    bench: String(benchId ?? ''),
  });
  return `/settings/teach?${query.toString()}`;
}

/** What answered at one place, one after the other: who says no is shown the next language that fits, and can teach it at last. */
function Found({
  where,
  list,
  teach,
  onTake,
}: {
  where: string;
  list: readonly FoundInstrument[];
  /** Where a language of this place is taught. */
  teach: string;
  onTake: (of: FoundInstrument) => void;
}) {
  const units = [...new Set(list.map((f) => f.unit))];
  return units.map((unit) => (
    <FoundOne key={`${unit}`} where={where} list={list.filter((f) => f.unit === unit)} teach={teach} onTake={onTake} />
  ));
}

function FoundOne({ where, list, teach, onTake }: Parameters<typeof Found>[0]) {
  const [denied, deny] = useState(0);
  const of = list[denied];
  if (!of)
    return (
      <p role="status" className="rounded-lg border border-line px-3 py-2 text-sm">
        {where}: no other language fits.{' '}
        <Link className="underline" href={teach}>
          Teach Umbral this language
        </Link>
      </p>
    );
  return (
    <section aria-label={`Found at ${where}`} className="rounded-lg border border-good px-3 py-2">
      <p className="font-semibold">{of.says}</p>
      <p className="text-sm text-muted">
        {where} · {of.name}
      </p>
      <p className="mt-1">{sayShown(of)} Does its display show the same?</p>
      <span className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="button button-main" onClick={() => onTake(of)}>
          Yes, add it
        </button>
        <button type="button" className="button" onClick={() => deny(denied + 1)}>
          No
        </button>
      </span>
    </section>
  );
}
