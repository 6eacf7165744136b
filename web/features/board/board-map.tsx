'use client';

import { Maximize, Minus, Plus } from 'lucide-react';
import { useCallback, useEffect, useRef, useState, type ReactNode, type RefObject } from 'react';
import { SelectField } from '@/ui/kit/fields';
import { GatedButton } from '@/ui/kit/gated-button';
import { useSave } from '@/ui/kit/use-save';
import { useKey } from '@/ui/keys';
import { AddPicture, type SentPicture } from './add-picture';
import { chooseRevision, findHottest, mergeTwoNets, saveMark, savePoint, setOff, undoMerge } from './actions';
import { LayDialog, StraightenDialog } from './lay-dialogs';
import { MapCanvas, type CanvasHandle, type NetState } from './map-canvas';
import { MarkForm, newMark, type MarkDraft } from './mark-form';
import { isWay, movedBy, nextTowards } from './near';
import { draftOf, PointForm, type PointDraft } from './point-form';
import { SignKey } from './point-sign';
import { ShareMap } from './share-map';
import type { BoardView, MapPicture, MapPoint, MapSide } from './view';

const noNets: ReadonlyMap<string, NetState> = new Map();
const noPlan: readonly string[] = [];

/**
 * The board as a map: pictures, points, marks; the next probe has a number, and what was read stands on its point. Without nets it is
 * the model's own map, to be drawn.
 */
export function BoardMap({
  lead = null,
  board,
  nets = noNets,
  plan = noPlan,
  current = '',
  onMeasure,
}: {
  /** Stands before the tools. */
  lead?: ReactNode;
  board: BoardView;
  /** How nets stand in this job, by name. */
  nets?: ReadonlyMap<string, NetState>;
  /** Nets to be measured, in order. */
  plan?: readonly string[];
  /** The net that the probe is at; empty for none. */
  current?: string;
  /** Somebody puts the probe on a point. Left out where nothing is measured. */
  onMeasure?: (point: MapPoint) => void;
}) {
  const [sideId, setSideId] = useState<number | null>(null);
  const side = board.sides.find((s) => s.id === sideId) ?? sideWith(board, current) ?? board.sides.at(0) ?? null;
  const [laying, setLaying] = useState<{ picture: number; how: 'straighten' | 'lay' } | null>(null);
  const sent = ({ sideId: to, pictureId, isNew }: SentPicture): void => {
    setSideId(to);
    setLaying({ picture: pictureId, how: isNew ? 'straighten' : 'lay' });
  };
  const picture = side?.pictures.find((p) => p.id === laying?.picture) ?? null;
  const undoRef = useRef<(() => void) | null>(null);
  useKey('Backspace', 'undo the last change on the map', () => {
    undoRef.current?.();
    undoRef.current = null;
  });
  const onDone = (back: () => void): void => void (undoRef.current = back);
  if (!side)
    return (
      <>
        {lead && <div className="mb-2">{lead}</div>}
        <div className="grid flex-1 place-content-center gap-3 rounded-xl border border-dashed border-edge p-6 text-center">
          {board.model === '' ? (
            <p>Enter the model in the intake first. Then its board can have a map that later jobs use.</p>
          ) : (
            <>
              <p className="max-w-md">
                There is no picture of this board yet. Take one with a phone, or drop or paste one here. Every job of
                this model uses it.
              </p>
              <p>
                <AddPicture board={board} sideId={null} onSent={sent} />
              </p>
              <ShareMap model={board.model} isEmpty />
            </>
          )}
        </div>
      </>
    );
  return (
    <>
      <SideMap
        key={side.id}
        lead={lead}
        undoRef={undoRef}
        board={board}
        side={side}
        nets={nets}
        plan={plan}
        current={current}
        onMeasure={onMeasure}
        onSide={setSideId}
        onSent={sent}
        onLay={(p, how) => setLaying({ picture: p.id, how })}
      />
      {laying?.how === 'straighten' && picture && (
        <StraightenDialog key={picture.id} picture={picture} onDone={onDone} onClose={() => setLaying(null)} />
      )}
      {laying?.how === 'lay' && picture && (
        <LayDialog key={picture.id} side={side} picture={picture} onDone={onDone} onClose={() => setLaying(null)} />
      )}
    </>
  );
}

/** The side that a net has a point on. */
const sideWith = (board: BoardView, net: string): MapSide | undefined =>
  net === '' ? undefined : board.sides.find((s) => s.points.some((p) => p.net === net));

type Drawing = { kind: 'point'; draft: PointDraft } | { kind: 'mark'; draft: MarkDraft; x: number; y: number };

function SideMap({
  lead,
  undoRef,
  board,
  side,
  nets,
  plan,
  current,
  onMeasure,
  onSide,
  onSent,
  onLay,
}: {
  lead: ReactNode;
  /** What takes the last change back. */
  undoRef: RefObject<(() => void) | null>;
  board: BoardView;
  side: MapSide;
  nets: ReadonlyMap<string, NetState>;
  plan: readonly string[];
  current: string;
  onMeasure?: (point: MapPoint) => void;
  onSide: (id: number) => void;
  onSent: (sent: SentPicture) => void;
  onLay: (picture: MapPicture, how: 'straighten' | 'lay') => void;
}) {
  const canvas = useRef<CanvasHandle>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [drawing, setDrawing] = useState<Drawing | null>(null);
  const [hidden, setHidden] = useState<ReadonlySet<number>>(new Set());
  const [heat, setHeat] = useState(0.6);
  const { saving, save } = useSave();
  const done = (says: string, back: () => void) => {
    undoRef.current = back;
    return { done: says, undo: back };
  };
  // Where the probe goes next is brought into view.
  const next = side.points.find((p) => p.net === current);
  const [nextX, nextY] = [next?.x, next?.y];
  useEffect(() => {
    if (nextX !== undefined && nextY !== undefined) canvas.current?.show(nextX, nextY);
  }, [nextX, nextY]);

  const begin = (kind: 'point' | 'mark'): void => {
    const { x, y } = canvas.current?.middle() ?? { x: 0.5, y: side.height / 2 };
    setChosen(null);
    setDrawing(
      kind === 'mark'
        ? { kind, draft: newMark(), x, y }
        : { kind, draft: { id: null, x, y, kind: 'coil', name: '', net: '', circuit: '' } },
    );
  };
  useKey('n', 'put a point on the map', () => begin('point'));
  useKey('+', 'zoom in on the map', () => canvas.current?.zoomIn());
  useKey('-', 'zoom out of the map', () => canvas.current?.zoomOut());
  useKey('0', 'show the whole board', () => canvas.current?.fit());

  const put = useCallback((x: number, y: number): void => {
    setDrawing((now) =>
      now?.kind === 'point'
        ? { ...now, draft: { ...now.draft, x, y } }
        : now && { ...now, x, y, draft: { ...now.draft, area: [...now.draft.area, [x, y] as const] } },
    );
  }, []);
  const choose = useCallback(
    (point: MapPoint): void => {
      setChosen(point.id);
      if (onMeasure) onMeasure(point);
      else setDrawing({ kind: 'point', draft: draftOf(point) });
    },
    [onMeasure],
  );
  const onPointKey = useCallback(
    (point: MapPoint, event: React.KeyboardEvent): void => {
      if (!isWay(event.key)) return;
      event.preventDefault();
      const to = nextTowards(side.points, point, event.key);
      if (!to) return;
      canvas.current?.show(to.x, to.y);
      document.querySelector<HTMLElement>(`[data-point="${to.id}"]`)?.focus();
    },
    [side.points],
  );
  const setRemoved = (of: 'point' | 'mark' | 'picture' | 'side', id: number, removed: boolean) =>
    setOff({ of, id, removed });
  const remove = (of: 'point' | 'mark' | 'picture' | 'side', id: number, says: string): void =>
    save(() => setRemoved(of, id, true), {
      ...done(says, () => save(() => setRemoved(of, id, false))),
      then: () => setDrawing(null),
    });
  const keepPoint = (draft: PointDraft, isMore: boolean): void => {
    save(() => savePoint({ ...draft, sideId: side.id }), {
      ...done(draft.id === null ? 'Point added.' : 'Point saved.', () => undefined),
      undo: undefined,
      then: ({ id, was }) => {
        undoRef.current = was
          ? () => save(() => savePoint({ ...was, sideId: side.id }), { done: 'Undone.' })
          : () => save(() => setRemoved('point', id, true), { done: 'Undone.' });
        setChosen(id);
        // The next end of the same net is put beside it.
        setDrawing(isMore ? { kind: 'point', draft: { ...draft, name: '' } } : null);
        if (isMore) return;
        // A new point is there to be measured.
        if (draft.id === null && onMeasure) onMeasure(asPoint(board, draft, id));
      },
    });
  };
  const merge = (draft: PointDraft, into: string): void => {
    const point = side.points.find((p) => p.id === draft.id);
    if (!point) return;
    save(() => mergeTwoNets({ sideId: side.id, from: point.net, into }), {
      done: 'One net now: its points share readings.',
      undo: (points) => save(() => undoMerge({ points, net: point.net })),
      then: (points) => {
        undoRef.current = () => save(() => undoMerge({ points, net: point.net }), { done: 'Undone.' });
        setDrawing(null);
      },
    });
  };
  const keepMark = (draft: MarkDraft): void =>
    save(() => saveMark({ ...draft, jobId: board.jobId, sideId: side.id }), {
      done: 'Mark saved. It counts as an observation.',
      then: (id) => {
        undoRef.current = () => remove('mark', id, 'Undone.');
        setDrawing(null);
      },
    });
  /** A mark around the brightest place of a heat picture, to be looked at and saved. */
  const proposeHot = (picture: MapPicture): void =>
    save(() => findHottest({ pictureId: picture.id }), {
      then: ({ x, y }) => {
        const near = nearestTo(side.points, x, y);
        const draft = { ...newMark('heat'), area: around(x, y, side.height), where: near?.name || near?.netName || '' };
        setDrawing({ kind: 'mark', x, y, draft: { ...draft, circuit: near?.circuit ?? '' } });
      },
    });
  const setRevision = (revision: string): void => {
    if (board.jobId !== null)
      save(() => chooseRevision({ jobId: board.jobId, revision }), {
        done: `The board is revision ${revision || 'not named'}.`,
      });
  };
  const otherNets = [...new Map(side.points.map((p) => [p.net, p.netName]))].map(([net, name]) => ({ net, name }));
  // Once the probe has gone on, what was chosen before it is not any more.
  const chosenPoint = side.points.find((p) => p.id === chosen && (!onMeasure || p.net === current)) ?? null;
  const editable = chosenPoint ?? next ?? null;
  const shown = { side, nets, plan, chosen: chosenPoint?.id ?? null, current, hidden, heat };

  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      {board.isRevisionOpen && (
        <div role="alert" className="flex flex-wrap items-center gap-2 rounded-lg bg-decide-soft px-3 py-1.5">
          Boards of this model differ. Which revision is printed on this one?
          {board.revisions.map((r) => (
            <button key={r} type="button" className="button min-h-9" onClick={() => setRevision(r)}>
              {r || 'none is named'}
            </button>
          ))}
        </div>
      )}
      <div className="flex flex-wrap items-center gap-1.5">
        {lead}
        {board.sides.length > 1 && (
          <div role="group" aria-label="Side" className="flex flex-wrap gap-1">
            {board.sides.map((s) => (
              <button
                key={s.id}
                type="button"
                aria-pressed={s.id === side.id}
                className={`button min-h-9 ${s.id === side.id ? 'border-edge bg-penumbra' : ''}`}
                onClick={() => onSide(s.id)}
              >
                {s.name}
              </button>
            ))}
          </div>
        )}
        <button type="button" className="button min-h-9" onClick={() => begin('point')}>
          Add a point <kbd>n</kbd>
        </button>
        {board.jobId !== null && (
          <button type="button" className="button min-h-9" onClick={() => begin('mark')}>
            Mark an area
          </button>
        )}
        {editable && !drawing && (
          <button
            type="button"
            className="button min-h-9"
            onClick={() => setDrawing({ kind: 'point', draft: draftOf(editable) })}
          >
            Edit point
          </button>
        )}
        <AddPicture board={board} sideId={side.id} onSent={onSent} />
      </div>
      <div className="flex min-h-0 flex-1 flex-col gap-2 lg:flex-row">
        <div className="relative flex min-h-96 min-w-0 flex-1">
          <MapCanvas
            ref={canvas}
            shown={shown}
            isPlacing={drawing !== null}
            over={<Cross drawing={drawing} height={side.height} onPut={put} onMove={setDrawing} />}
            onPlace={put}
            onChoose={choose}
            onPointKey={onPointKey}
          />
          <span className="absolute top-2 right-2 flex flex-col gap-1 rounded-lg bg-surface/85">
            <button
              type="button"
              className="button button-quiet min-h-9"
              aria-label="Zoom in"
              onClick={() => canvas.current?.zoomIn()}
            >
              <Plus size={17} aria-hidden />
            </button>
            <button
              type="button"
              className="button button-quiet min-h-9"
              aria-label="Zoom out"
              onClick={() => canvas.current?.zoomOut()}
            >
              <Minus size={17} aria-hidden />
            </button>
            <button
              type="button"
              className="button button-quiet min-h-9"
              aria-label="Whole board"
              onClick={() => canvas.current?.fit()}
            >
              <Maximize size={17} aria-hidden />
            </button>
          </span>
        </div>
        {drawing?.kind === 'point' && (
          <PointForm
            key={drawing.draft.id ?? 'new'}
            board={board}
            draft={drawing.draft}
            otherNets={otherNets.filter((n) => n.name !== drawing.draft.net)}
            saving={saving}
            onChange={(draft) => setDrawing({ kind: 'point', draft })}
            onSave={(isMore) => keepPoint(drawing.draft, isMore)}
            onRemove={() => drawing.draft.id !== null && remove('point', drawing.draft.id, 'The point was removed.')}
            onMerge={(into) => merge(drawing.draft, into)}
            onClose={() => setDrawing(null)}
          />
        )}
        {drawing?.kind === 'mark' && (
          <MarkForm
            draft={drawing.draft}
            saving={saving}
            onChange={(draft) => setDrawing({ ...drawing, draft })}
            onSave={() => keepMark(drawing.draft)}
            onClose={() => setDrawing(null)}
          />
        )}
      </div>
      <Foot
        board={board}
        side={side}
        hidden={hidden}
        heat={heat}
        onHide={setHidden}
        onHeat={setHeat}
        onLay={onLay}
        onHot={proposeHot}
        onRemove={remove}
        onRevision={setRevision}
      />
    </div>
  );
}

/** Corners and width of a mark that is proposed. */
const [hotCorners, hotReach, nearReach] = [8, 0.025, 0.06];

/** An area around a place, within the board. */
const around = (x: number, y: number, height: number): (readonly [number, number])[] =>
  Array.from({ length: hotCorners }, (_, k) => {
    const angle = (2 * Math.PI * k) / hotCorners;
    const within = (v: number, most: number): number => Math.min(most, Math.max(0, v));
    return [within(x + hotReach * Math.cos(angle), 1), within(y + hotReach * Math.sin(angle), height)] as const;
  });

/** The point that a place is at; null where none is near. */
function nearestTo(points: readonly MapPoint[], x: number, y: number): MapPoint | null {
  const far = (p: MapPoint): number => Math.hypot(p.x - x, p.y - y);
  const best = points.reduce<MapPoint | null>((b, p) => (b === null || far(p) < far(b) ? p : b), null);
  return best && far(best) <= nearReach ? best : null;
}

/** A point that was just kept, as the map will have it. */
const asPoint = (board: BoardView, draft: PointDraft, id: number): MapPoint => {
  const rail = board.nets.find((n) => n.name.toLowerCase() === draft.net.trim().toLowerCase());
  return {
    ...draft,
    id,
    net: rail?.id ?? draft.net.trim(),
    netName: rail?.name ?? draft.net.trim(),
    circuit: (draft.circuit || null) as MapPoint['circuit'],
    suspicion: 0,
    causes: [],
  };
};

/** What is being put on the map: a cross that follows clicks and arrow keys, and the corners of an area. */
function Cross({
  drawing,
  height,
  onPut,
  onMove,
}: {
  drawing: Drawing | null;
  height: number;
  onPut: (x: number, y: number) => void;
  onMove: (drawing: Drawing) => void;
}) {
  if (!drawing) return null;
  const { x, y } = drawing.kind === 'point' ? drawing.draft : drawing;
  const area = drawing.kind === 'mark' ? drawing.draft.area : [];
  return (
    <>
      {area.length > 0 && (
        <svg viewBox={`0 0 1 ${height}`} className="pointer-events-none absolute inset-0 size-full" aria-hidden>
          <polygon
            points={area.map((p) => p.join(',')).join(' ')}
            fill="var(--decide)"
            fillOpacity={0.25}
            stroke="var(--decide)"
            strokeWidth={3}
            vectorEffect="non-scaling-stroke"
          />
        </svg>
      )}
      <button
        type="button"
        aria-label={
          drawing.kind === 'point'
            ? 'Place of the point. Arrow keys move it'
            : 'Next corner. Arrow keys move it, Enter sets it'
        }
        className="map-fixed absolute size-9 -translate-x-1/2 -translate-y-1/2 text-decide"
        style={{ left: `${100 * x}%`, top: `${(100 * y) / height}%`, scale: 'var(--unzoomed, 1)' }}
        onClick={(e) => {
          e.stopPropagation();
          if (drawing.kind === 'mark') onPut(x, y);
        }}
        onKeyDown={(e) => {
          if (!isWay(e.key)) return;
          e.preventDefault();
          const to = movedBy({ x, y }, e.key, e.shiftKey, height);
          onMove(drawing.kind === 'point' ? { ...drawing, draft: { ...drawing.draft, ...to } } : { ...drawing, ...to });
        }}
      >
        <svg viewBox="0 0 24 24" aria-hidden className="size-full">
          <path d="M12 1v8m0 6v8M1 12h8m6 0h8" stroke="var(--raised)" strokeWidth="4" />
          <path d="M12 1v8m0 6v8M1 12h8m6 0h8" stroke="currentColor" strokeWidth="2" />
        </svg>
      </button>
    </>
  );
}

/** Layers of this side, which revision it is, and what the signs mean. */
function Foot({
  board,
  side,
  hidden,
  heat,
  onHide,
  onHeat,
  onLay,
  onHot,
  onRemove,
  onRevision,
}: {
  board: BoardView;
  side: MapSide;
  hidden: ReadonlySet<number>;
  heat: number;
  onHide: (hidden: ReadonlySet<number>) => void;
  onHeat: (opacity: number) => void;
  onLay: (picture: MapPicture, how: 'straighten' | 'lay') => void;
  onHot: (picture: MapPicture) => void;
  onRemove: (of: 'mark' | 'picture' | 'side', id: number, says: string) => void;
  onRevision: (revision: string) => void;
}) {
  const heatPicture = side.pictures.findLast((p) => p.kind === 'heat');
  return (
    <div className="grid gap-1.5 text-sm">
      <SignKey />
      {heatPicture && (
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <label className="flex max-w-sm min-w-0 flex-1 items-center gap-2">
            Heat picture
            <input
              type="range"
              className="min-w-0 flex-1"
              min={0}
              max={100}
              value={Math.round(100 * heat)}
              aria-valuetext={`${Math.round(100 * heat)} % visible`}
              onChange={(e) => onHeat(Number(e.target.value) / 100)}
            />
          </label>
          {board.jobId !== null && (
            <button type="button" className="button min-h-9" onClick={() => onHot(heatPicture)}>
              Mark the hottest place
            </button>
          )}
        </div>
      )}
      {board.revisions.length > 1 && (
        <div className="max-w-sm">
          <SelectField
            label="Revision of this board"
            hint="as printed on it; another revision may be laid out differently"
            value={board.revision}
            onValue={onRevision}
          >
            {board.revisions.map((r) => (
              <option key={r} value={r}>
                {r || 'not named'}
              </option>
            ))}
          </SelectField>
        </div>
      )}
      <details>
        <summary className="min-h-9 py-1.5">
          Pictures and marks ({side.pictures.length + side.marks.length})
          {board.revision && ` · revision ${board.revision}`}
        </summary>
        <ul aria-label="Pictures" className="grid gap-1">
          {side.pictures.map((p, k) => (
            <li key={p.id} className="flex flex-wrap items-center gap-2">
              <label className="flex min-h-9 items-center gap-2">
                <input
                  type="checkbox"
                  checked={!hidden.has(p.id)}
                  onChange={(e) => {
                    const to = new Set(hidden);
                    if (e.target.checked) to.delete(p.id);
                    else to.add(p.id);
                    onHide(to);
                  }}
                />
                {p.kind === 'heat' ? 'heat picture' : 'photograph'}
                {p.isOwn && ' of this device'}
                {p.caption && `: ${p.caption}`}
              </label>
              {k === 0 && (
                <button type="button" className="underline" onClick={() => onLay(p, 'straighten')}>
                  Straighten
                </button>
              )}
              {(k > 0 || side.points.length > 0) && (
                <button type="button" className="underline" onClick={() => onLay(p, 'lay')}>
                  Align by points
                </button>
              )}
              <GatedButton
                className="underline"
                blocked={
                  k === 0 && side.points.length > 0
                    ? 'Points stand on this picture. Remove the whole side instead'
                    : null
                }
                onClick={() => onRemove('picture', p.id, 'The picture was removed.')}
              >
                Remove
              </GatedButton>
            </li>
          ))}
        </ul>
        <ul aria-label="Marks" className="grid gap-1">
          {side.marks.map((m) => (
            <li key={m.id} className="flex items-center gap-2">
              {m.kind}
              {m.where && `: ${m.where}`}
              <button
                type="button"
                className="min-h-9 underline"
                onClick={() => onRemove('mark', m.id, 'The mark and its observation were removed.')}
              >
                Remove
              </button>
            </li>
          ))}
        </ul>
        <ShareMap model={board.model} />
        {board.jobId === null && (
          <button
            type="button"
            className="button min-h-9"
            onClick={() => onRemove('side', side.id, `The ${side.name} was removed.`)}
          >
            Remove this side
          </button>
        )}
      </details>
    </div>
  );
}
