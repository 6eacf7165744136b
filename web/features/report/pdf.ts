import { Worker } from 'node:worker_threads';
import { threadFor } from '@/server/analysis/thread';
import { pictureOf } from '@/server/work/entries/attachments';
import { cutImage } from '@/server/work/boards/cause-cut';
import type { Report, ReportPicture } from './content';
import { pdfAnswers } from './pdf-document';

/** At most so many pictures go into a report; the others stay in the record. */
const maxPictures = 12;

const bytesFor = ({ id, around }: ReportPicture): Promise<Buffer> =>
  around ? cutImage(id, [around.x, around.y]) : pictureOf(id, true);

const onThread = threadFor(
  () => new Worker(new URL('./pdf.worker.ts', import.meta.url)),
  pdfAnswers,
  'Drawing this report',
);

/**
 * A report as a PDF, made here without a browser, on a thread of its own.
 *
 * @returns the file's bytes
 * @throws {ExpectedError} for one that takes too long
 */
export async function reportPdf(report: Report): Promise<Buffer> {
  const pictures = await Promise.all(
    report.pictures.slice(0, maxPictures).map(async (p) => ({
      ...p,
      image: `data:image/jpeg;base64,${(await bytesFor(p)).toString('base64')}`,
    })),
  );
  return Buffer.from(await onThread((answers) => answers.draw(report, pictures)));
}
