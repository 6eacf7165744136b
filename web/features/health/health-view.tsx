import type { ReactNode } from 'react';
import { LocalDate } from '@/ui/kit/local-date';
import type { Health } from '@/server/edges/health';
import { Hazard } from '@/ui/parts';
import { BackupButton } from './backup-button';
import { bytesWords, warningsOf } from './words';

function Card({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="card grid content-start gap-1.5">
      <h2 className="text-lg">{title}</h2>
      {children}
    </section>
  );
}

function Line({ name, children }: { name: string; children: ReactNode }) {
  return (
    <p className="flex flex-wrap justify-between gap-x-3 border-b border-line pb-1 last:border-0">
      <span className="min-w-0 break-words text-muted">{name}</span>
      <span className="text-right">{children}</span>
    </p>
  );
}

/** How everything is, for a lead: what is wrong first. */
export function HealthView({ health }: { health: Health }) {
  const { parts, database, tables, slow, recorder, benches, queue, disk, backup, migration } = health;
  const warnings = warningsOf(health, new Date());
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <h1 className="text-2xl">Health</h1>
      <div className="mt-2 grid gap-1.5">
        {warnings.length === 0 ? (
          <p className="text-muted">Everything works.</p>
        ) : (
          warnings.map((w) => <Hazard key={w}>{w}</Hazard>)
        )}
      </div>
      <div className="mt-3 grid gap-3.5 md:grid-cols-2 xl:grid-cols-3">
        <Card title="Parts">
          {parts.length === 0 && <p className="text-muted">The start command does not supervise any process here.</p>}
          {parts.map(({ name, part }) => (
            <Line key={name} name={name}>
              {part.state === 'runs' ? 'runs' : `ended: ${part.why}`}
              {part.restarts > 0 && `, restarted ${part.restarts}×`}
            </Line>
          ))}
          {'problem' in recorder ? (
            <Line name="recorder says">{recorder.problem}</Line>
          ) : (
            <>
              <Line name="recorder’s database">{recorder.database === 'ours' ? 'there' : recorder.database}</Line>
              <Line name="recordings that wait">{recorder.waiting}</Line>
              <Line name="watchdog">{recorder.watchdog ? 'there' : 'missing'}</Line>
            </>
          )}
          {benches.map((b) => (
            <Line key={b.name} name={`bench ${b.name}`}>
              {b.seenAt ? <LocalDate iso={b.seenAt} /> : 'never seen'}
            </Line>
          ))}
        </Card>
        <Card title="Database">
          <Line name="version">{database.version}</Line>
          <Line name="size">{bytesWords(database.bytes)}</Line>
          <Line name="connections">{database.connections}</Line>
          <Line name="answers in">{database.milliseconds} ms</Line>
          <Line name="schema">{migration.replace(/\.cjs$/, '')}</Line>
          <Line name="work that waits, failed">
            {queue.waiting}, {queue.failed}
          </Line>
        </Card>
        <Card title="Disk and backup">
          {disk && (
            <Line name="free">
              {bytesWords(disk.freeBytes)}, {Math.floor(100 * disk.freeShare)} %
            </Line>
          )}
          {backup ? (
            <>
              <Line name="last backup">
                <LocalDate iso={backup.madeAt} />
              </Line>
              <Line name="file">{backup.file}</Line>
              <Line name="size">{bytesWords(backup.bytes)}</Line>
            </>
          ) : (
            <p className="text-muted">No backup yet.</p>
          )}
          <BackupButton />
          <a className="button justify-self-start" href="/api/export">
            Export everything
          </a>
          <p className="text-sm text-muted">Jobs as case packages, log and settings as lines of JSON, in one zip.</p>
        </Card>
        <Card title="Largest tables">
          {tables.map((t) => (
            <Line key={t.name} name={t.name}>
              {t.rows} rows, {bytesWords(t.bytes)}
            </Line>
          ))}
        </Card>
        <Card title="Slow now">
          {slow.length === 0 && <p className="text-muted">No query takes longer than a second.</p>}
          {slow.map((s, k) => (
            <Line key={k} name={`${s.seconds} s`}>
              <code className="break-all text-sm">{s.query}</code>
            </Line>
          ))}
        </Card>
      </div>
    </main>
  );
}
