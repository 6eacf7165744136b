import { SettingsView } from '@/features/settings/settings-view';
import { loadInstruments } from '@/server/instruments';
import { settingsViewOf } from '@/features/settings/view';

export const metadata = { title: 'Settings' };

export const dynamic = 'force-dynamic';

export default async function SettingsPage() {
  return <SettingsView view={settingsViewOf(await loadInstruments())} />;
}
