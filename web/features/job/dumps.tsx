'use client';

import { useRouter } from '@/ui/router';
import { useState } from 'react';
import { Hazard } from '@/ui/parts';
import { postFile } from '@/ui/upload';
import type { JobView } from './view';

/** What was read out of a chip before it is overwritten: twice, and alike. The files stay with the job. */
export function Dumps({
  jobId,
  dumps,
  verdict,
}: {
  jobId: number;
  dumps: JobView['dumps'];
  verdict: JobView['dumpsSay'];
}) {
  const router = useRouter();
  const [problem, setProblem] = useState<string | null>(null);
  const [sending, setSending] = useState(false);
  const send = async (files: readonly File[]): Promise<void> => {
    setSending(true);
    for (const file of files) {
      const url = `/api/jobs/${jobId}/dumps?name=${encodeURIComponent(file.name)}`;
      const answer = await postFile(url, file, () => undefined).promise;
      setProblem(answer.ok ? null : answer.message);
      if (!answer.ok) break;
    }
    setSending(false);
    router.refresh();
  };
  return (
    <div className="grid gap-2">
      <Hazard>{verdict.says}</Hazard>
      <ul className="text-sm">
        {dumps.map((d) => (
          <li key={d.id} className="flex flex-wrap justify-between gap-x-3">
            <a className="underline decoration-edge underline-offset-2" href={`/api/jobs/${jobId}/dumps/${d.id}`}>
              {d.name}
            </a>
            <span className="font-mono text-muted">
              {d.size.toLocaleString('en')} bytes, {d.sha256.slice(0, 12)}…
            </span>
          </li>
        ))}
      </ul>
      <label className="button min-h-9 cursor-pointer">
        {sending ? 'Uploading …' : 'Add a chip dump'}
        <input
          type="file"
          multiple
          className="sr-only"
          disabled={sending}
          onChange={(e) => {
            // The list empties with the field.
            void send([...(e.target.files ?? [])]);
            e.target.value = '';
          }}
        />
      </label>
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
    </div>
  );
}
