import Link from '@/ui/link';
import type { ReactNode } from 'react';
import { Instruments } from './instruments';
import { OldVerdicts } from './old-verdicts';
import type { KeptPolicy } from '@/server/work/shop/policy';
import { ShopPolicyForm } from './shop-policy';
import { ThisBrowser } from './this-browser';
import type { SettingsViewData } from './view';

/** What belongs to the bench and not to a job. */
export function SettingsView({
  isLead,
  view,
  policy,
  oldVerdicts,
  children,
}: {
  /** Instruments, policy and people are a lead's. */
  isLead: boolean;
  view: SettingsViewData;
  policy: KeptPolicy;
  /** Open jobs that an older engine assessed last. */
  oldVerdicts: readonly number[];
  children: ReactNode;
}) {
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Settings</h1>
        <Link href="/settings/day" className="button min-h-9">
          Working day
        </Link>
        {isLead && (
          <Link href="/health" className="button min-h-9">
            Health
          </Link>
        )}
      </div>
      <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_400px]">
        <div className="grid content-start gap-3.5">
          {!isLead && <p className="card text-muted">Only a lead can change instruments and policy.</p>}
          <fieldset disabled={!isLead} className="contents">
            <Instruments view={view} />
          </fieldset>
          {children}
        </div>
        <div className="grid content-start gap-3.5">
          <fieldset disabled={!isLead} className="contents">
            <ShopPolicyForm key={policy.version} policy={policy} />
          </fieldset>
          <OldVerdicts jobs={oldVerdicts} />
          <ThisBrowser />
        </div>
      </div>
    </main>
  );
}
