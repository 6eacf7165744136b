import { Instruments } from './instruments';
import { ThisBrowser } from './this-browser';
import type { SettingsViewData } from './view';

/** What belongs to the bench and not to a job. */
export function SettingsView({ view }: { view: SettingsViewData }) {
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <h1 className="text-2xl">Settings</h1>
      <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_400px]">
        <Instruments view={view} />
        <ThisBrowser />
      </div>
    </main>
  );
}
