'use client';

import { Users } from 'lucide-react';
import { useRouter } from '@/ui/router';
import { useEffect, useRef, useState } from 'react';
import type { JobNews } from '@/server/work/people/presence';
import { useToast } from '@/ui/toast';
import { isForMe, wordsOf } from './news';

const sayEveryMs = 8000;

/** The label of the control that has the focus; empty where none has. */
function focusedField(): string {
  const at = document.activeElement;
  if (!(at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement || at instanceof HTMLSelectElement))
    return '';
  if (at.type === 'password') return '';
  return (at.labels?.[0]?.textContent ?? at.getAttribute('aria-label') ?? '').trim().slice(0, 120);
}

interface Props {
  jobId: number;
  me: number;
  version: number;
  /** How many of its changes the verdict on the page knows. */
  judged: number;
}

/** Who else has this job open and what they are changing; what they save stands on this screen at once. */
export function OthersHere({ jobId, me, version, judged }: Props) {
  const [tab] = useState(() => crypto.randomUUID());
  const [news, setNews] = useState<JobNews | null>(null);
  const router = useRouter();
  const toast = useToast();
  const seen = useRef<string | null>(null);
  // The newest verdict that is on the page, or on its way to it.
  const shown = useRef(judged);
  useEffect(() => {
    shown.current = Math.max(shown.current, judged);
  }, [judged]);
  useEffect(() => {
    const url = `/api/jobs/${jobId}`;
    let said = '';
    const say = (isGone = false): void => {
      said = focusedField();
      const body = JSON.stringify({ tab, field: said, isGone });
      if (isGone) navigator.sendBeacon(`${url}/presence`, new Blob([body], { type: 'application/json' }));
      else void fetch(`${url}/presence`, { method: 'POST', body }).catch(() => undefined);
    };
    const onFocus = (): void => {
      if (focusedField() !== said) say();
    };
    const onHide = (): void => say(true);
    const source = new EventSource(`${url}/events`);
    source.addEventListener('news', (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as JobNews;
      setNews(next);
      const before = seen.current;
      const mark = next.last ? next.last.at + next.last.what : '';
      seen.current = mark;
      const isDone = before !== null && before !== mark && isForMe(next, me, tab);
      // What was entered is there at once; its verdict is made a moment later, for whoever entered it as well.
      const isJudged = next.judged > shown.current;
      shown.current = Math.max(shown.current, next.judged);
      if (isDone || isJudged) router.refresh();
      const words = wordsOf(next, me);
      if (isDone && words) toast({ tone: 'done', text: words });
    });
    say();
    const timer = setInterval(() => say(), sayEveryMs);
    window.addEventListener('focusin', onFocus);
    window.addEventListener('focusout', onFocus);
    window.addEventListener('pagehide', onHide);
    return () => {
      source.close();
      clearInterval(timer);
      window.removeEventListener('focusin', onFocus);
      window.removeEventListener('focusout', onFocus);
      window.removeEventListener('pagehide', onHide);
      say(true);
    };
  }, [jobId, me, tab, router, toast]);
  const others = (news?.present ?? []).filter((p) => p.tab !== tab && p.person !== me);
  if (others.length === 0) return null;
  const isBehind = news !== null && news.version > version;
  return (
    <p role="status" className="flex flex-wrap items-center gap-x-2 text-sm">
      <Users size={16} aria-hidden className="text-muted" />
      {others.map((p) => (
        <span key={p.tab}>
          {p.name} {p.field ? `is changing “${p.field}”` : 'is here too'}
        </span>
      ))}
      {isBehind && <span className="text-muted">· updating …</span>}
    </p>
  );
}
