'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { Silhouette } from '@/ui/silhouette';
import { checkProfile, keepProfile, type Checked } from './actions';
import { outlineOf } from './outline';
import { useGo } from '@/ui/link';
import { TextField } from '@/ui/kit/fields';

interface Props {
  /** Text to begin with: YAML or JSON. */
  start: string;
  /** Profile that is edited; null for a new one. */
  profileId: string | null;
  /** Version that was opened; null for a new one. */
  basedOn: number | null;
}

/** The text of a profile with what is wrong in it, what it changes, and how a unit would start with it. */
export function ProfileEditor({ start, profileId, basedOn }: Props) {
  const [text, setText] = useState(start);
  const [note, setNote] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const area = useRef<HTMLTextAreaElement>(null);
  const { saving, save } = useSave();
  const go = useGo();
  const { checked, waiting, unread } = useChecked(text, profileId);
  useLeaveGuard(text !== start);

  const goTo = (line: number): void => {
    const field = area.current;
    if (!field) return;
    const lines = text.split('\n');
    const from = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0);
    field.focus();
    field.setSelectionRange(from, from + (lines[line - 1]?.length ?? 0));
    const height = parseFloat(getComputedStyle(field).lineHeight);
    field.scrollTop = Math.max(0, (line - 6) * height);
  };
  const ready = checked !== null && checked.findings.length === 0 && !waiting;
  const keep = (): void => {
    setProblem(null);
    save(() => keepProfile({ text, profileId, basedOn, note }), {
      done: 'Saved as a new version.',
      then: ({ id }) => go(`/models/${id}`),
      failed: setProblem,
    });
  };
  return (
    <div className="grid gap-4 lg:grid-cols-[200px_minmax(0,1fr)_300px]">
      {/* The text and what is wrong in it come first for the keyboard; the long list of places stands beside them. */}
      <div className="lg:order-2">
        <label htmlFor="profile-text" className="sr-only">
          The profile as text
        </label>
        <textarea
          id="profile-text"
          ref={area}
          className="field h-[70vh] w-full resize-y font-mono text-sm leading-5 whitespace-pre"
          spellCheck={false}
          value={text}
          onChange={(e) => setText(e.target.value)}
          aria-invalid={checked !== null && checked.findings.length > 0}
        />
      </div>
      <div className="flex flex-col gap-3 lg:order-3">
        <section aria-label="Errors" aria-live="polite">
          {unread && <Note>{unread}</Note>}
          {checked === null && !unread && <p className="text-muted">Checking…</p>}
          {checked !== null && checked.findings.length === 0 && (
            <p className="text-sm">{waiting ? 'Checking again…' : 'Valid profile. It starts.'}</p>
          )}
          {checked !== null && checked.findings.length > 0 && (
            <>
              <h2 className="text-base">
                {checked.findings.length === 1 ? 'One error' : `${checked.findings.length} errors`}
              </h2>
              <ul className="mt-1 grid gap-1.5 text-sm">
                {checked.findings.slice(0, 12).map((f, k) => (
                  <li key={k} className="rounded-r-lg border-l-4 border-decide bg-decide-soft px-2.5 py-1.5">
                    {f.place && <code className="block text-[0.85em]">{f.place}</code>}
                    {f.message}
                    {f.line !== null && (
                      <button type="button" className="ml-1.5 underline" onClick={() => goTo(f.line ?? 1)}>
                        line {f.line}
                      </button>
                    )}
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
        {checked?.silhouettes && <Shapes silhouettes={checked.silhouettes} />}
        {checked !== null && checked.changes.length > 0 && (
          <section aria-label="Changes" className="text-sm">
            <h2 className="text-base">Changes</h2>
            <ul className="mt-1 list-disc pl-4">
              {checked.changes.map((c) => (
                <li key={c} className="break-words">
                  {c}
                </li>
              ))}
            </ul>
          </section>
        )}
        <TextField label="Why" hint="note for the version list" value={note} maxLength={500} onValue={setNote} />
        {problem && (
          <p role="alert" className="rounded-lg bg-decide-soft px-3 py-2 text-sm whitespace-pre-line">
            {problem}
          </p>
        )}
        <GatedButton
          type="button"
          className="button button-main"
          disabled={saving}
          blocked={ready ? null : waiting || checked === null ? 'Still being checked' : 'Fix the listed problems first'}
          onClick={keep}
        >
          {saving ? 'Saving…' : profileId === null ? 'Save profile' : 'Save as a new version'}
        </GatedButton>
        <p className="text-sm text-muted">Existing jobs keep their version until you change it there.</p>
      </div>
      <nav
        aria-label="Sections of the profile"
        className="hidden max-h-[70vh] lg:order-1 overflow-y-auto text-sm lg:block"
      >
        <ul>
          {outlineOf(text).map((entry) => (
            <li key={entry.line} className={entry.deep ? 'pl-3' : 'mt-2 font-semibold'}>
              <button
                type="button"
                className="w-full truncate rounded px-1 py-1 text-left hover:bg-raised"
                onClick={() => goTo(entry.line)}
              >
                {entry.name}
              </button>
            </li>
          ))}
        </ul>
      </nav>
    </div>
  );
}

function Note({ children }: { children: ReactNode }) {
  return (
    <p role="alert" className="rounded-lg bg-decide-soft px-3 py-2 text-sm">
      {children}
    </p>
  );
}

function Shapes({ silhouettes: { now, before } }: { silhouettes: { now: string; before: string } }) {
  return (
    <section aria-label="Healthy start with this profile" className="text-sm">
      <h2 className="text-base">Healthy start with this profile</h2>
      <Silhouette path={now} label="a healthy start with this text" strong className="mt-1 h-14 w-full" />
      {before && before !== now && (
        <>
          <p className="mt-1 text-muted">before</p>
          <Silhouette path={before} label="a healthy start with the opened version" className="h-10 w-full" />
        </>
      )}
    </section>
  );
}

const pauseMs = 450;

/** Asks the server about the text when typing pauses; an older answer never replaces a newer one. */
function useChecked(text: string, profileId: string | null) {
  const [state, setState] = useState<{ of: string; checked: Checked | null; unread: string | null }>({
    of: '',
    checked: null,
    unread: null,
  });
  useEffect(() => {
    let current = true;
    const timer = setTimeout(() => {
      checkProfile({ text, profileId })
        .then((result) => {
          if (!current) return;
          if (result.ok) setState({ of: text, checked: result.value, unread: null });
          else setState({ of: text, checked: null, unread: result.message });
        })
        .catch(() => {
          const unread = 'The server could not be reached. What you typed is still here.';
          if (current) setState({ of: text, checked: null, unread });
        });
    }, pauseMs);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [text, profileId]);
  return { checked: state.checked, unread: state.unread, waiting: state.of !== text };
}

/** The browser asks before a page is left on which something was typed. */
function useLeaveGuard(changed: boolean): void {
  useEffect(() => {
    if (!changed) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [changed]);
}
