import { PeopleSettings } from '@/features/people/people-settings';
import { TokensSettings } from '@/features/people/tokens-settings';
import { tokenViews } from '@/features/people/view';
import { Trash } from '@/features/settings/trash';
import { SettingsView } from '@/features/settings/settings-view';
import { settingsViewOf } from '@/features/settings/view';
import { jobsWithOldVerdict } from '@/server/work/entries/reassess';
import { loadBenches } from '@/server/edges/benches/benches';
import { db } from '@/server/record/db';
import { loadInstruments } from '@/server/edges/recorder/instruments';
import { signedIn } from '@/server/work/people/access';
import { isDemo } from '@/server/work/people/demo';
import { loadPeople } from '@/server/work/people/people';
import { scopeNames, scopes } from '@/server/work/people/tokens';
import { loadPolicy } from '@/server/work/shop/policy';
import { loadTrash } from '@/server/work/entries/trash';

export const metadata = { title: 'Settings' };

export const dynamic = 'force-dynamic';

export default async function SettingsPage() {
  const { person } = await signedIn();
  const isLead = person.role === 'lead';
  return (
    <SettingsView
      isLead={isLead}
      view={settingsViewOf(await loadInstruments(), await loadBenches())}
      policy={await loadPolicy(db())}
      oldVerdicts={await jobsWithOldVerdict()}
    >
      {isLead && (
        <>
          <PeopleSettings people={(await loadPeople()).filter((p) => isDemo() || !p.isDemo)} isDemo={isDemo()} />
          <Trash jobs={(await loadTrash()).map((j) => ({ ...j, since: j.trashedAt.slice(0, 10) }))} />
          <TokensSettings tokens={await tokenViews()} scopes={scopes.map((id) => ({ id, words: scopeNames[id] }))} />
        </>
      )}
    </SettingsView>
  );
}
