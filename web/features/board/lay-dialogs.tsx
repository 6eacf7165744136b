'use client';

import { alignmentThrough, cssTransform, heightOf, type Pair, type Point, type Quad } from '@umbral/core/board';
import { startTransition, useLayoutEffect, useRef, useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { GatedButton } from '@/ui/kit/gated-button';
import { Handle, Outline } from '@/ui/kit/on-picture';
import { useSave } from '@/ui/kit/use-save';
import { laySaved, straightenSide } from './actions';
import type { Result } from '@/server/record/errors';
import type { MapPicture, MapSide } from './view';

const cornerNames = ['top left', 'top right', 'bottom right', 'bottom left'];

/** A sentence for what is wrong with places; null where nothing is. */
function problemOf(work: () => unknown): string | null {
  try {
    work();
    return null;
  } catch (error) {
    if (error instanceof RangeError) return error.message;
    throw error;
  }
}

const source = (picture: MapPicture): string => `/api/boards/pictures/${picture.id}`;
const heightIn = ({ width, height }: MapPicture): number => height / width;
const within = (v: number, most: number): number => Math.min(most, Math.max(0, v));

interface Ending {
  /** It was saved, and this takes it back. */
  onDone: (back: () => void) => void;
  onClose: () => void;
}

/** Saves how a picture lies; how it lay before takes that back. */
function SaveLaid<Lies>({
  problem,
  says,
  now,
  keep,
  onDone,
  onClose,
}: Ending & {
  problem: string | null;
  says: string;
  now: Lies;
  keep: (lies: Lies) => Promise<Result<Lies>>;
}) {
  const { saving, save } = useSave();
  return (
    <GatedButton
      className="button button-main"
      blocked={saving ? 'Saving …' : problem}
      onClick={() =>
        save(() => keep(now), {
          done: says,
          undo: (before) => save(() => keep(before)),
          then: (before) => {
            onDone(() => save(() => keep(before), { done: 'Undone.' }));
            // It stays until the map shows the picture as it lies now: a point put on it before would be somewhere else.
            startTransition(onClose);
          },
        })
      }
    >
      Save
    </GatedButton>
  );
}

/** Says where the corners of the board are in a picture, so that it is seen from the front. */
export function StraightenDialog({ picture, onDone, onClose }: Ending & { picture: MapPicture }) {
  const height = heightIn(picture);
  const [corners, setCorners] = useState<Quad>(() => picture.pairs.map((p) => p.from) as unknown as Quad);
  const problem = problemOf(() => heightOf(corners));
  const shares = corners.map(([x, y]): Point => [x, y / height]);
  const keep = (quad: Quad): ReturnType<typeof straightenSide> =>
    straightenSide({ pictureId: picture.id, corners: quad });
  return (
    <Dialog open wide title="Straighten the picture" onClose={onClose}>
      <p className="mt-1 text-sm text-muted">
        Drag the four corners onto the corners of the board, or focus one and use the arrow keys. Where the board is
        seen straight already, leave them.
      </p>
      <div className="relative mx-auto mt-3 w-fit">
        <img src={source(picture)} alt="picture to be straightened" className="max-h-[60dvh] w-auto max-w-full" />
        <Outline corners={shares} color="#ffd34d" />
        {shares.map((at, k) => (
          <Handle
            key={cornerNames[k]}
            label={`Corner ${cornerNames[k]}`}
            at={at}
            onMove={([dx, dy]) =>
              setCorners(
                (all) =>
                  all.map(([x, y], n): Point =>
                    n === k ? [within(x + dx, 1), within(y + dy * height, height)] : [x, y],
                  ) as unknown as Quad,
              )
            }
          />
        ))}
      </div>
      {problem && (
        <p role="alert" className="mt-2 text-sm text-decide">
          {problem}
        </p>
      )}
      <p className="mt-3">
        <SaveLaid
          problem={problem}
          says="The board is straight now."
          now={corners}
          keep={keep}
          onDone={onDone}
          onClose={onClose}
        />
      </p>
    </Dialog>
  );
}

const most = 4;

/** Lays a picture on the map by two to four places that are seen in both. */
export function LayDialog({ side, picture, onDone, onClose }: Ending & { side: MapSide; picture: MapPicture }) {
  const under = side.pictures.find((p) => p.id !== picture.id && p.kind === 'photo') ?? null;
  const [from, setFrom] = useState<Point[]>([]);
  const [to, setTo] = useState<Point[]>([]);
  const count = Math.min(from.length, to.length);
  const pairs: Pair[] = from.slice(0, count).map((place, k) => ({ from: place, to: to[k] }));
  const problem =
    from.length !== to.length
      ? `Point ${count + 1}: show the same place in the other picture as well.`
      : count < 2
        ? `Choose ${2 - count} more ${count === 1 ? 'place' : 'places'} in both pictures.`
        : problemOf(() => alignmentThrough(pairs));
  const keep = (all: Pair[]) => laySaved({ pictureId: picture.id, pairs: all });
  return (
    <Dialog
      open
      wide
      title={picture.kind === 'heat' ? 'Align the heat picture with the board' : 'Align the picture with the board'}
      onClose={onClose}
    >
      <p className="mt-1 text-sm text-muted">
        Click the same place in both pictures, two to four times: corners, holes, sockets. Far apart is best. Four also
        correct a picture that was taken at an angle.
      </p>
      <div className="mt-3 grid gap-3 sm:grid-cols-2">
        <Places name="This picture" height={heightIn(picture)} places={from} onChange={setFrom}>
          <img src={source(picture)} alt="picture to be aligned" className="block w-full" />
        </Places>
        <Places name="The board" height={side.height} places={to} onChange={setTo}>
          <Flat
            height={side.height}
            points={side.points}
            layers={[
              ...(under ? [{ id: under.id, picture: under, opacity: 1 }] : []),
              ...(problem === null
                ? [{ id: picture.id, picture: { ...picture, alignment: alignmentThrough(pairs) }, opacity: 0.5 }]
                : []),
            ]}
          />
        </Places>
      </div>
      <p role={problem && count > 1 ? 'alert' : 'status'} className="mt-2 text-sm">
        {problem ?? 'This is how the picture will lie. Save it, or move the points.'}
      </p>
      <p className="mt-3 flex flex-wrap gap-2">
        <SaveLaid
          problem={problem}
          says="The picture is aligned."
          now={pairs}
          keep={keep}
          onDone={onDone}
          onClose={onClose}
        />
        <GatedButton
          className="button"
          blocked={from.length + to.length === 0 ? 'There is no point yet' : null}
          onClick={() => {
            setFrom(from.slice(0, Math.max(from.length, to.length) - 1));
            setTo(to.slice(0, Math.max(from.length, to.length) - 1));
          }}
        >
          Take back a point
        </GatedButton>
        <button type="button" className="button" onClick={onClose}>
          Leave it as it is
        </button>
      </p>
    </Dialog>
  );
}

/** Pictures as they lie on a board that fills its frame; its points show the way where there is no picture yet. */
function Flat({
  height,
  layers,
  points,
}: {
  height: number;
  layers: readonly { id: number; picture: MapPicture; opacity: number }[];
  points: MapSide['points'];
}) {
  const frame = useRef<HTMLDivElement>(null);
  const [px, setPx] = useState(0);
  useLayoutEffect(() => {
    const { current } = frame;
    if (!current) return;
    const seen = new ResizeObserver(() => setPx(current.clientWidth));
    seen.observe(current);
    return () => seen.disconnect();
  }, []);
  return (
    <div ref={frame} className="relative w-full overflow-hidden bg-paper" style={{ aspectRatio: `1 / ${height}` }}>
      {layers.map(({ id, picture, opacity }) => (
        <img
          key={id}
          src={source(picture)}
          alt=""
          className="pointer-events-none absolute top-0 left-0 max-w-none"
          style={{
            width: px,
            opacity,
            transformOrigin: '0 0',
            transform: px > 0 ? cssTransform(picture.alignment, px, px) : undefined,
          }}
        />
      ))}
      {points.map((p) => (
        <span
          key={p.id}
          title={p.name || p.netName}
          className="absolute size-1.5 -translate-x-1/2 -translate-y-1/2 rounded-full bg-raised ring-1 ring-umbra"
          style={{ left: `${100 * p.x}%`, top: `${(100 * p.y) / height}%` }}
        />
      ))}
    </div>
  );
}

/** A picture that places are chosen in, by a click, or by the button and the arrow keys. */
function Places({
  name,
  height,
  places,
  onChange,
  children,
}: {
  name: string;
  /** In widths. */
  height: number;
  places: readonly Point[];
  onChange: (places: Point[]) => void;
  children: React.ReactNode;
}) {
  return (
    <section aria-label={name}>
      <h3 className="flex items-center justify-between font-semibold">
        {name}
        <GatedButton
          className="button min-h-9"
          blocked={places.length >= most ? 'Four points are the most' : null}
          onClick={() => onChange([...places, [0.5, height / 2]])}
        >
          Add a point
        </GatedButton>
      </h3>
      <div
        className="relative mt-1 cursor-crosshair"
        onClick={(e) => {
          if (places.length >= most || (e.target as Element).closest('button')) return;
          const box = e.currentTarget.getBoundingClientRect();
          onChange([...places, [(e.clientX - box.left) / box.width, ((e.clientY - box.top) / box.height) * height]]);
        }}
      >
        {children}
        {places.map(([x, y], k) => (
          <Handle
            key={k}
            label={`${name}, point ${k + 1}`}
            at={[x, y / height]}
            number={k + 1}
            onMove={([dx, dy]) =>
              onChange(
                places.map((p, n): Point => (n === k ? [within(p[0] + dx, 1), within(p[1] + dy * height, height)] : p)),
              )
            }
          />
        ))}
      </div>
    </section>
  );
}
