'use client';

import { FileUp } from 'lucide-react';
import { useState, type DragEvent } from 'react';
import { ProfileEditor } from './editor';

const maxBytes = 4 * 1024 * 1024;

/** Takes a profile from a file, by choosing or dropping it; it is shown and checked before it is kept. */
export function ImportProfile() {
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setProblem(null);
    if (file.size > maxBytes) {
      setProblem(`${file.name} is larger than 4 MB. Expected a profile as JSON or YAML.`);
      return;
    }
    const found = await file.text();
    if (found.includes('\0')) setProblem(`${file.name} is not text. Expected a profile as JSON or YAML.`);
    else setText(found);
  };
  if (text !== null) return <ProfileEditor start={text} profileId={null} basedOn={null} />;
  return (
    <div
      className="card mt-3 max-w-xl"
      onDragOver={(e: DragEvent) => e.preventDefault()}
      onDrop={(e: DragEvent) => {
        e.preventDefault();
        void take(e.dataTransfer.files[0]);
      }}
    >
      <p className="text-muted">
        A profile is a JSON or YAML file. It describes how a model is powered, its rails, and its start-up order. A
        profile with an existing id becomes its next version.
      </p>
      <label className="button button-main mt-3 inline-flex cursor-pointer focus-within:outline-2">
        <FileUp size={17} aria-hidden /> Choose a file
        <input
          type="file"
          className="sr-only"
          accept=".json,.yaml,.yml,application/json,application/yaml"
          onChange={(e) => void take(e.target.files?.[0])}
        />
      </label>{' '}
      <button type="button" className="button mt-3" onClick={() => setText('format: umbral-profile/1\n')}>
        Type or paste
      </button>
      {problem && (
        <p role="alert" className="mt-3 rounded-lg bg-decide-soft px-3 py-2">
          {problem}
        </p>
      )}
    </div>
  );
}
