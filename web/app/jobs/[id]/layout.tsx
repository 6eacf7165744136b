import type { ReactNode } from 'react';
import { notFound } from 'next/navigation';
import { currentSession } from '@/server/people/access';
import { db } from '@/server/platform/db';
import { AccessError } from '@/server/platform/errors';
import { refuseOthersUnit } from '@/server/practice/own-unit';

/** Every page of a job; a practice unit is for whoever works on it, and for leads. */
export default async function JobLayout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ id: string }>;
}) {
  const [{ id }, session] = [await params, await currentSession(false).catch(() => null)];
  if (session && /^\d{1,9}$/.test(id))
    await refuseOthersUnit(db(), Number(id), session.person).catch((error: unknown) => {
      if (error instanceof AccessError) notFound();
    });
  return children;
}
