'use client';

import { useEffect, useState } from 'react';
import { useFirstSteps } from '@/features/bench/first-steps';
import { pedalActions, usePedalSetting } from '@/ui/kit/pedal';
import { useSound } from '@/ui/sound';
import { playCue } from '@/features/live/sound';
import { canNotify, playAlarm } from '@/features/day/notices';
import { SelectField } from '@/ui/kit/fields';

/** What this browser keeps for itself: pedal, sounds, notices. */
export function ThisBrowser() {
  return (
    <section aria-label="This browser" className="grid content-start gap-3">
      <h2 className="text-lg">This browser</h2>
      <Pedal />
      <Sounds />
      <Notices />
      <FirstDay />
    </section>
  );
}

/** The first steps of the bench, found again when they are done or were hidden. */
function FirstDay() {
  const [shown, show] = useFirstSteps();
  return (
    <div className="card grid gap-2">
      <h3 className="font-bold">First steps</h3>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          checked={shown === 'always'}
          onChange={(e) => show(e.target.checked ? 'always' : 'while-open')}
        />
        Show them on the bench, even when done
      </label>
    </div>
  );
}

function Pedal() {
  const { code, does, setCode, setDoes } = usePedalSetting();
  const [isLearning, setLearning] = useState(false);
  useEffect(() => {
    if (!isLearning) return;
    const onKey = (event: KeyboardEvent): void => {
      event.preventDefault();
      event.stopPropagation();
      if (event.code !== 'Escape') setCode(event.code);
      setLearning(false);
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [isLearning, setCode]);
  return (
    <div className="card grid gap-2">
      <h3 className="font-bold">Foot pedal</h3>
      <p className="text-sm text-muted">
        A pedal works like a keyboard with one key. Set it up here. It works on the record page while both hands are
        busy.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <button type="button" className="button" onClick={() => setLearning(!isLearning)}>
          {isLearning ? 'Press the pedal now …' : code ? 'Set up another pedal' : 'Set up a pedal'}
        </button>
        <span role="status">{code ? `sends ${code}` : 'no pedal yet'}</span>
        {code && (
          <button type="button" className="button button-quiet" onClick={() => setCode('')}>
            Remove pedal
          </button>
        )}
      </div>
      <SelectField label="The pedal" value={does} onValue={(value) => setDoes(value as typeof does)}>
        {Object.entries(pedalActions).map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </SelectField>
    </div>
  );
}

function Sounds() {
  const { isOn, setOn } = useSound();
  return (
    <div className="card grid gap-2">
      <h3 className="font-bold">Sounds</h3>
      <p className="text-sm text-muted">
        While recording and when a wait is over, so you can keep your eyes on the work.
      </p>
      <label className="flex min-h-11 items-center gap-2">
        <input type="checkbox" checked={isOn} onChange={(e) => setOn(e.target.checked)} /> On
      </label>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="button" onClick={() => playCue('limit')}>
          Current limit
        </button>
        <button type="button" className="button" onClick={() => playCue('stalled')}>
          Stalled
        </button>
        <button type="button" className="button" onClick={() => playCue('started')}>
          Started
        </button>
        <button type="button" className="button" onClick={playAlarm}>
          A wait is over
        </button>
      </div>
    </div>
  );
}

/** Whether the system shows a notice when a wait is over and another window is in front. */
function Notices() {
  const [state, setState] = useState<NotificationPermission | 'none' | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setState(canNotify() ? Notification.permission : 'none'), 0);
    return () => clearTimeout(timer);
  }, []);
  return (
    <div className="card grid gap-2">
      <h3 className="font-bold">System notifications</h3>
      <p className="text-sm text-muted">
        When a wait is over and another window is in front. This needs an open Umbral page. Without one, the alarm
        sounds when a page is opened.
      </p>
      <p role="status">
        {state === 'granted' && 'Allowed.'}
        {state === 'denied' && 'Blocked in this browser. Allow it in the page settings.'}
        {state === 'none' && 'This browser does not support notifications for this address.'}
      </p>
      {state === 'default' && (
        <button
          type="button"
          className="button justify-self-start"
          onClick={() => void Notification.requestPermission().then(setState)}
        >
          Allow notifications
        </button>
      )}
    </div>
  );
}
