'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { useRef, useState } from 'react';
import { typeRun } from '@/features/job/actions';
import { FollowsSelect } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from '@/features/job/view';
import { Dialog } from '@/ui/dialog';
import { LogList } from './log-list';
import { SetupFields } from './run-form';
import { setupFormOf, type SetupForm } from './setup-form';
import { useGo } from '@/ui/link';
import { TextField } from '@/ui/kit/fields';

const tabClass =
  'min-h-11 rounded-lg px-3 text-muted data-selected:bg-raised data-selected:font-semibold data-selected:text-ink';

/** Adds runs: typed readings, or logs, several at once. */
export function AddRun({
  view,
  open,
  onClose,
  files,
}: {
  view: JobView;
  open: boolean;
  onClose: () => void;
  files: File[];
}) {
  const typed = useTypedRun(view, onClose);
  return (
    <Dialog open={open && !typed.saving} onClose={onClose} title="Add a run" wide>
      <TabGroup defaultIndex={files.length > 0 ? 1 : 0}>
        <TabList className="mt-2 flex gap-1">
          <Tab className={tabClass}>Type readings</Tab>
          <Tab className={tabClass}>Log files</Tab>
        </TabList>
        <TabPanels className="mt-3">
          <TabPanel>
            <TypeRun view={view} typed={typed} />
          </TabPanel>
          <TabPanel>
            <LogRuns view={view} first={files} onDone={onClose} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
    </Dialog>
  );
}

const examples = [
  'battery 3.9V limit 3A: 0 | prompt 0.07 0.19 0.12 hold',
  'usb-c port 1: 5V 0.055 hold',
  'battery 3.8V: 0 | prompt (0.09 0.22 0) loop 6s',
];

/** A typed run and how it is saved: kept while the dialog is away, so that it comes back with what was typed. */
function useTypedRun(view: JobView, onDone: () => void) {
  const [line, setLine] = useState('');
  const [after, setAfter] = useState<string | null>();
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const go = useGo();
  const page = `/jobs/${view.job.id}`;
  const submit = (): void =>
    save((confirmed) => typeRun({ jobId: view.job.id, line, after, confirmed }), {
      entry: line,
      done: 'Run added and assessed.',
      failed: setProblem,
      then: (key) => {
        onDone();
        // Whoever has gone on to another page meanwhile stays there.
        if (window.location.pathname === page) go(`${page}?run=${key}`, { scroll: false });
      },
    });
  const type = (text: string): void => {
    setLine(text);
    setProblem(null);
  };
  return { line, type, after, setAfter, problem, saving, submit };
}

function TypeRun({ view, typed }: { view: JobView; typed: ReturnType<typeof useTypedRun> }) {
  const { line, type, after, setAfter, problem, saving, submit } = typed;
  const column = /column (\d+)/.exec(problem ?? '')?.[1];
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
      className="grid gap-3"
    >
      <TextField
        label="Readings"
        hint="feed and setup, a colon, then the display readings"
        className="font-mono"
        autoFocus
        value={line}
        spellCheck={false}
        autoComplete="off"
        aria-invalid={problem !== null}
        onValue={type}
      />
      {problem && (
        <div role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm">
          {column && (
            <pre className="overflow-x-auto font-mono">
              {line}
              {'\n'}
              {' '.repeat(Math.max(0, Number(column) - 1))}^
            </pre>
          )}
          {problem}
        </div>
      )}
      <FollowsSelect actions={view.actions} value={after} onChange={setAfter} />
      <div className="text-sm text-muted">
        For example
        <ul className="mt-1 grid gap-1">
          {examples.map((e) => (
            <li key={e}>
              <button
                type="button"
                className="min-h-9 rounded text-left font-mono hover:text-ink"
                onClick={() => type(e)}
              >
                {e}
              </button>
            </li>
          ))}
        </ul>
        <p className="mt-2">
          A plain number is amperes. <b>|</b> or <b>prompt</b>: power pressed. <b>hold</b>: it stays there. <b>limit</b>
          : the supply is limiting. <b>( … ) loop 6s</b>: it repeats. <b>off</b>: drops to zero. <b>@12s</b>: a time. A{' '}
          <b>+</b> before another feed: both at once.
        </p>
      </div>
      <GatedButton
        type="submit"
        className="button button-main"
        disabled={saving}
        blocked={line.trim() === '' ? 'Type what the display showed first' : null}
      >
        {saving ? 'Saving …' : 'Add run'}
      </GatedButton>
    </form>
  );
}

function LogRuns({ view, first, onDone }: { view: JobView; first: File[]; onDone: () => void }) {
  const [form, setForm] = useState<SetupForm>(() => setupFormOf(view.chosen));
  const [files, setFiles] = useState<File[]>(first);
  const [started, setStarted] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  if (started) return <LogList jobId={view.job.id} files={files} setup={form} onDone={onDone} />;
  return (
    <div className="grid gap-3">
      <input
        ref={input}
        type="file"
        multiple
        className="sr-only"
        tabIndex={-1}
        aria-label="Log files"
        accept=".csv,.tsv,.txt,.log,.dat,text/*"
        onChange={(e) => {
          setFiles([...files, ...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
      <button
        type="button"
        className="min-h-16 rounded-xl border-2 border-dashed border-line px-4 text-muted hover:border-edge"
        onClick={() => input.current?.click()}
      >
        {files.length === 0
          ? 'Drop logs anywhere on this page, or press here to choose them'
          : files.map((f) => f.name).join(', ')}
      </button>
      <p className="text-sm text-muted">
        How were they recorded? A run needs its setup. This applies to {files.length > 1 ? 'all of these' : 'this one'}{' '}
        and can be edited on each run.
      </p>
      <SetupFields form={form} set={(change) => setForm({ ...form, ...change })} actions={view.actions} />
      <GatedButton
        type="button"
        className="button button-main"
        blocked={files.length === 0 ? 'Choose a log first' : null}
        onClick={() => setStarted(true)}
      >
        {files.length > 1 ? `Add ${files.length} runs` : 'Add run'}
      </GatedButton>
    </div>
  );
}
