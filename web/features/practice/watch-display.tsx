'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { useEffect, useState } from 'react';
import { typeRun } from '@/features/job/actions';
import { useSave } from '@/ui/kit/use-save';
import type { WatchedDisplay } from '@/server/work/practice/bench';
import { Display } from './display';
import { useGo } from '@/ui/link';
import { TextField } from '@/ui/kit/fields';

const tickMs = 250;

/** A display that does not log: it runs once, in real time, and what was read off it is typed. */
export function WatchDisplay({
  jobId,
  watched,
  onDone,
}: {
  jobId: number;
  watched: WatchedDisplay;
  onDone: () => void;
}) {
  const go = useGo();
  const { saving, save } = useSave();
  const [seconds, setSeconds] = useState(0);
  const [line, setLine] = useState(watched.line);
  const [problem, setProblem] = useState('');
  const end = watched.t.at(-1) ?? 0;
  const isRunning = seconds < end;
  useEffect(() => {
    if (!isRunning) return;
    const timer = setInterval(() => setSeconds((s) => s + tickMs / 1000), tickMs);
    return () => clearInterval(timer);
  }, [isRunning]);
  const k = Math.max(
    0,
    watched.t.findLastIndex((t) => t <= seconds),
  );
  const isPressed = watched.promptAt !== null && seconds >= watched.promptAt;
  const keep = (): void =>
    save(() => typeRun({ jobId, line }), {
      failed: setProblem,
      then: (run) => {
        onDone();
        go(`/jobs/${jobId}?run=${run}`);
      },
    });
  return (
    <form
      aria-label="Read the display"
      className="grid gap-2 border-t border-line pt-2"
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      <div className="flex flex-wrap items-center gap-x-3">
        <Display volts={watched.volts[k]} amps={watched.amps[k]} says="instrument" />
        <span className="text-sm text-muted">
          {isRunning ? `${Math.floor(seconds)} s` : 'over'}
          {isPressed && ' · pressed'}
        </span>
      </div>
      <TextField
        label="Your readings"
        hint="levels in order, prompt at power-on"
        className="font-mono"
        spellCheck={false}
        autoComplete="off"
        value={line}
        onValue={(value) => {
          setLine(value);
          setProblem('');
        }}
      />
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <GatedButton
          type="submit"
          className="button button-main"
          disabled={saving}
          blocked={line.trim() === watched.line.trim() ? 'Type the readings that you saw' : null}
        >
          Save my readings
        </GatedButton>
        <button type="button" className="button" onClick={() => setSeconds(0)} disabled={isRunning}>
          Watch again
        </button>
        <button type="button" className="button" onClick={onDone}>
          Cancel
        </button>
      </div>
    </form>
  );
}
