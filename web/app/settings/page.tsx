import { SettingsView } from '@/features/settings/settings-view';
import { jobsWithOldVerdict } from '@/server/anew';
import { db } from '@/server/db';
import { loadInstruments } from '@/server/instruments';
import { loadPolicy } from '@/server/policy';
import { settingsViewOf } from '@/features/settings/view';

export const metadata = { title: 'Settings' };

export const dynamic = 'force-dynamic';

export default async function SettingsPage() {
  return (
    <SettingsView
      view={settingsViewOf(await loadInstruments())}
      policy={await loadPolicy(db())}
      oldVerdicts={await jobsWithOldVerdict()}
    />
  );
}
