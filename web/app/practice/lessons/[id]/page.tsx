import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { courseLessonOf } from '@umbral/core';
import { LessonView } from '@/features/practice/lesson-view';
import { db } from '@/server/record/db';
import { signedIn } from '@/server/work/people/access';
import { loadLesson } from '@/server/work/practice/course';

interface Props {
  params: Promise<{ id: string }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: courseLessonOf((await params).id)?.title ?? 'Lesson' };
}

export default async function LessonPage({ params }: Props) {
  const { person } = await signedIn();
  const { id } = await params;
  if (!courseLessonOf(id)) notFound();
  return <LessonView key={id} lesson={await loadLesson(db(), id, person.id)} />;
}
