import type { ReactNode } from 'react';

/** How a net stands, as far as it was read. */
const netStatuses = {
  good: 'good',
  missing: 'missing',
  shorted: 'shorted',
  odd: 'odd',
  unknown: 'not measured',
} as const;
export type NetStatus = keyof typeof netStatuses;

/** A form and a colour for each status: either alone tells them apart. */
const forms: Record<NetStatus, { colour: string; form: ReactNode }> = {
  good: {
    colour: 'text-good',
    form: (
      <>
        <circle cx="12" cy="12" r="9" fill="currentColor" />
        <path d="M7.5 12.5l3 3 6-7" fill="none" stroke="var(--raised)" strokeWidth="2.4" />
      </>
    ),
  },
  missing: {
    colour: 'text-decide',
    form: (
      <>
        <rect x="4" y="4" width="16" height="16" fill="var(--raised)" stroke="currentColor" strokeWidth="2.6" />
        <path d="M7.5 16.5l9-9" stroke="currentColor" strokeWidth="2.6" />
      </>
    ),
  },
  shorted: {
    colour: 'text-decide',
    form: (
      <>
        <path d="M12 2l10 10-10 10L2 12z" fill="currentColor" />
        <path d="M7 12h10" stroke="var(--raised)" strokeWidth="2.8" />
      </>
    ),
  },
  odd: {
    colour: 'text-volts',
    form: (
      <>
        <path d="M12 2.5L22 20H2z" fill="currentColor" />
        <path d="M12 9v5m0 2v2" stroke="var(--raised)" strokeWidth="2.4" />
      </>
    ),
  },
  unknown: {
    colour: 'text-umbra',
    form: (
      <circle cx="12" cy="12" r="8" fill="var(--raised)" fillOpacity="0.75" stroke="currentColor" strokeWidth="2.6" />
    ),
  },
};

/** The sign of a point. */
export function PointSign({ status, className = 'size-6' }: { status: NetStatus; className?: string }) {
  const { colour, form } = forms[status];
  return (
    <svg viewBox="0 0 24 24" className={`${className} ${colour}`} aria-hidden>
      {form}
    </svg>
  );
}

/** What the signs mean. */
export function SignKey() {
  return (
    <ul aria-label="Signs" className="flex flex-wrap gap-x-3 gap-y-1 text-sm text-muted">
      {(Object.keys(netStatuses) as NetStatus[]).map((status) => (
        <li key={status} className="flex items-center gap-1">
          <PointSign status={status} className="size-4" /> {netStatuses[status]}
        </li>
      ))}
    </ul>
  );
}
