'use client';

import { ClassOptions } from '@/features/choices';
import { feeds, formatPercent, type Feed } from '@umbral/core/words';
import { useRouter } from '@/ui/router';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { feedWords } from '@/features/words';
import { Likely } from '@/ui/parts';
import { Silhouette } from '@/ui/silhouette';
import { useToast } from '@/ui/toast';
import { postFile } from '@/ui/upload';
import { lookUp } from '@/features/notebook/actions';
import { NotebookLines } from '@/features/notebook/lines';
import type { LineView } from '@/features/notebook/view';
import { search } from '@/features/search/actions';
import { Hits } from '@/features/search/hits';
import type { Found } from '@/features/search/queries';
import { keepTyped, newJobForLog, quickRead } from './actions';
import type { QuickAnswer } from './read';
import type { QuickSource } from './source';
import { useGo } from '@/ui/link';

const rememberedClass = 'umbral-quick-class';

/** The answer to one line or log; what is chosen as the kind of device is remembered for the next. */
export function QuickPanel({
  source,
  box,
  onClose,
  onKept,
}: {
  source: QuickSource;
  box: RefObject<HTMLDivElement | null>;
  onClose: () => void;
  onKept: () => void;
}) {
  const [deviceClass, setClass] = useState<string>(() => localStorage.getItem(rememberedClass) ?? 'phone');
  const [feed, setFeed] = useState<Feed>('battery');
  const [answer, setAnswer] = useState<QuickAnswer | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [reading, setReading] = useState(true);
  const { saving, save } = useSave();
  const router = useRouter();
  const go = useGo();
  const toast = useToast();
  const asked = useRef(0);
  const read = useCallback(
    async (withClass: string, withFeed: Feed): Promise<void> => {
      setReading(true);
      const mine = ++asked.current;
      const result = await ask(source, withClass, withFeed);
      // Chosen otherwise in the meantime: the answer to that is on its way.
      if (mine !== asked.current) return;
      setReading(false);
      setAnswer(result.ok ? result.value : null);
      setProblem(result.ok ? null : result.message);
    },
    [source],
  );
  // The notebook answers before the engine does.
  const [met, setMet] = useState<LineView[]>([]);
  useEffect(() => {
    if (source.kind !== 'typed') return;
    void lookUp({ line: source.line, deviceClass }).then((result) => setMet(result.ok ? result.value : []));
  }, [source, deviceClass]);
  const found = useFound(source);
  // Words that were looked for are no reading that went wrong.
  const isReading = source.kind === 'log' || /[:|]/.test(source.line);
  const started = useRef(false);
  useEffect(() => {
    if (started.current) return;
    started.current = true;
    void read(deviceClass, feed);
  }, [deviceClass, feed, read]);
  useEffect(() => {
    const onOutside = (event: PointerEvent): void => {
      if (box.current && event.target instanceof Node && !box.current.contains(event.target)) onClose();
    };
    addEventListener('pointerdown', onOutside);
    return () => removeEventListener('pointerdown', onOutside);
  }, [box, onClose]);
  const open = (id: number): void => {
    onKept();
    go(`/jobs/${id}`);
  };
  const keep = (): void => {
    if (source.kind === 'typed') {
      save(() => keepTyped({ line: source.line, deviceClass }), { then: open });
      return;
    }
    const { file } = source;
    save(() => newJobForLog(deviceClass, file.name), {
      then: async (id) => {
        const query = new URLSearchParams({ name: file.name, setup: JSON.stringify({ feed }), confirmed: 'true' });
        const sent = await postFile<string>(`/api/jobs/${id}/runs?${query}`, file, () => undefined).promise;
        if (!sent.ok) toast({ tone: 'problem', text: `The job was saved without its log: ${sent.message}` });
        open(id);
        router.refresh();
      },
    });
  };
  return (
    <section
      aria-label="Quick read"
      className="arrives absolute right-0 top-full z-30 mt-1 grid w-full min-w-[300px] gap-2.5 rounded-2xl border border-line bg-raised p-4 shadow-xl sm:w-[460px]"
    >
      <div className={`flex gap-2 text-sm ${isReading || answer ? '' : 'hidden'}`}>
        <label className="flex-1">
          <span className="sr-only">Kind of device</span>
          <select
            className="field"
            value={deviceClass}
            onChange={(e) => {
              localStorage.setItem(rememberedClass, e.target.value);
              setClass(e.target.value);
              void read(e.target.value, feed);
            }}
          >
            <ClassOptions />
          </select>
        </label>
        {source.kind === 'log' && (
          <label className="flex-1">
            <span className="sr-only">Feed</span>
            <select
              className="field"
              value={feed}
              onChange={(e) => {
                setFeed(e.target.value as Feed);
                void read(deviceClass, e.target.value as Feed);
              }}
            >
              {feeds.map((f) => (
                <option key={f} value={f}>
                  {feedWords[f]}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      {isReading && met.length > 0 && (
        <div>
          <h2 className="font-semibold">From the notebook</h2>
          <NotebookLines lines={met} />
        </div>
      )}
      {reading && isReading && <p className="text-muted">Reading …</p>}
      {found && <Hits found={found} onGo={onKept} />}
      {problem && !reading && (isReading || found?.groups.length === 0) && (
        <p role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm">
          {isReading
            ? problem
            : `Nothing found for “${source.kind === 'typed' ? source.line : ''}”. To read a draw, start with its feed: battery 4V: 0.19.`}
        </p>
      )}
      {answer && !reading && <Answer answer={answer} />}
      {!reading && (answer !== null || source.kind === 'log') && (
        <button type="button" className="button button-main" disabled={saving} onClick={keep}>
          {saving ? 'Saving …' : 'Save as a job'}
        </button>
      )}
    </section>
  );
}

/** What a typed line finds by its words and levels; null while it is looked for, and where a whole reading was typed. */
function useFound(source: QuickSource): Found | null {
  const [found, setFound] = useState<Found | null>(null);
  useEffect(() => {
    if (source.kind !== 'typed' || /[:|]/.test(source.line)) return;
    void search(source.line).then((result) => setFound(result.ok ? result.value : null));
  }, [source]);
  return found;
}

type Asked = { ok: true; value: QuickAnswer } | { ok: false; message: string };

async function ask(source: QuickSource, deviceClass: string, feed: Feed): Promise<Asked> {
  if (source.kind === 'typed') {
    const unreachable = { ok: false as const, message: 'The server could not be reached.' };
    return quickRead({ line: source.line, deviceClass }).catch(() => unreachable);
  }
  const query = new URLSearchParams({ feed, class: deviceClass, name: source.file.name });
  return postFile<QuickAnswer>(`/api/read?${query}`, source.file, () => undefined).promise;
}

function Answer({ answer }: { answer: QuickAnswer }) {
  return (
    <div aria-live="polite" className="grid gap-2.5">
      <div>
        <h2 className="text-xl">{answer.pattern}</h2>
        <p className="text-sm text-muted">
          {formatPercent(answer.patternP)}
          {answer.or && ` · or “${answer.or.name}”, ${formatPercent(answer.or.p)}`}
        </p>
      </div>
      {answer.silhouette && (
        <Silhouette path={answer.silhouette} label={answer.segments.join('. ')} strong className="h-12 w-full" />
      )}
      <ol aria-label="Suspects" className="grid gap-1.5">
        {answer.suspects.map((s) => (
          <li key={s.name}>
            <Likely p={s.p}>
              <p className="grid grid-cols-[1fr_auto] px-3 py-1">
                <span>{s.name}</span>
                <strong>{formatPercent(s.p)}</strong>
              </p>
            </Likely>
          </li>
        ))}
      </ol>
      {answer.next && (
        <p className="text-sm">
          Next: <strong>{answer.next}</strong>
        </p>
      )}
      {answer.notes.length > 0 && <p className="text-sm text-muted">{answer.notes.slice(0, 3).join(' ')}</p>}
    </div>
  );
}
