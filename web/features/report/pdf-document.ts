import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import pdfmake from 'pdfmake';
import type { Report, ReportRun } from './content';
import { silhouettePath } from '@/ui/silhouette';

/** The folder of a package, from here upwards: where it is depends on how the application was started. */
function packageFolder(name: string): string {
  for (let folder = process.cwd(); ; folder = dirname(folder)) {
    const found = join(folder, 'node_modules', name);
    if (existsSync(found)) return found;
    if (folder === dirname(folder)) throw new Error(`the package ${name} is not installed`);
  }
}

let isReady = false;

/** Fonts from the shipped package; nothing else is read from disk, nothing from any network. */
function prepare(): void {
  if (isReady) return;
  const fonts = join(packageFolder('dejavu-fonts-ttf'), 'ttf');
  pdfmake.setFonts({
    Report: {
      normal: join(fonts, 'DejaVuSans.ttf'),
      bold: join(fonts, 'DejaVuSans-Bold.ttf'),
      italics: join(fonts, 'DejaVuSans-Oblique.ttf'),
      bolditalics: join(fonts, 'DejaVuSans-BoldOblique.ttf'),
    },
  });
  pdfmake.setTableLayouts({ lines: linesLayout });
  pdfmake.setUrlAccessPolicy(() => false);
  pdfmake.setLocalAccessPolicy((path: string) => path.startsWith(fonts));
  isReady = true;
}

type Node = Record<string, unknown>;
const ink = '#1f1b2e';
const muted = '#5d586b';
const umbra = '#6b5b95';
const line = '#c9c3d6';

/** A picture of a report with its bytes. */
type PlacedPicture = Report['pictures'][number] & { image: string };

/** What the thread for reports answers. */
export const pdfAnswers = {
  /** Draws a report; resolves with the file's bytes. */
  draw: async (report: Report, pictures: readonly PlacedPicture[]): Promise<Uint8Array> => {
    prepare();
    return pdfmake.createPdf(documentOf(report, bodyOf(report, pictures))).getBuffer();
  },
};

function bodyOf(report: Report, pictures: readonly PlacedPicture[]): Node[] {
  return [
    { text: report.title, style: 'title' },
    factsTable(report.facts),
    ...report.sections.flatMap((s): Node[] => [
      { text: s.title, style: 'heading' },
      s.lines.length === 1 ? { text: s.lines[0] } : { ul: s.lines, markerColor: muted },
    ]),
    ...(report.runs.length > 0 ? [{ text: 'Runs', style: 'heading' }, runsTable(report.runs)] : []),
    ...report.tables.flatMap((t): Node[] => [
      { text: t.title, style: 'heading' },
      {
        layout: 'lines',
        table: {
          widths: ['*', '*', 80],
          dontBreakRows: true,
          body: t.rows.map((r) => [r.what, r.seen, { text: r.state, color: muted }]),
        },
        fontSize: 8.5,
      },
    ]),
    ...(pictures.length > 0
      ? [
          { text: 'Pictures', style: 'heading' },
          ...pictures.map((p) => ({
            columns: [
              { image: p.image, width: p.around ? 190 : 90 },
              { text: p.caption, margin: [8, 0, 0, 0] },
            ],
            margin: [0, 0, 0, 6],
            unbreakable: true,
          })),
        ]
      : []),
  ];
}

function documentOf(report: Report, content: Node[]): Node {
  return {
    pageSize: 'A4',
    pageMargins: [48, 44, 48, 50],
    info: { title: report.title, creator: 'Umbral', producer: 'Umbral' },
    defaultStyle: { font: 'Report', fontSize: 10, color: ink, lineHeight: 1.2 },
    styles: {
      title: { fontSize: 17, bold: true, margin: [0, 0, 0, 8] },
      heading: { fontSize: 11.5, bold: true, margin: [0, 12, 0, 3] },
    },
    content,
    footer: (page: number, pages: number) => ({
      text: `${report.title} · ${page} of ${pages}`,
      alignment: 'center',
      fontSize: 8,
      color: muted,
      margin: [0, 16, 0, 0],
    }),
  };
}

const linesLayout = {
  hLineWidth: (k: number) => (k === 0 ? 0 : 0.5),
  vLineWidth: () => 0,
  hLineColor: () => line,
  paddingLeft: () => 0,
  paddingRight: () => 8,
  paddingTop: () => 3,
  paddingBottom: () => 3,
};

function factsTable(facts: Report['facts']): Node {
  return {
    layout: 'noBorders',
    table: { widths: [80, '*'], body: facts.map(([name, value]) => [{ text: name, color: muted }, value]) },
  };
}

/** Every run with its silhouette, all of one feed and job drawn to the same height. */
function runsTable(runs: readonly ReportRun[]): Node {
  const full = Math.max(...runs.flatMap((r) => r.levels.map((x) => x ?? 0)), 0);
  return {
    layout: 'lines',
    table: {
      widths: [120, '*', 80],
      dontBreakRows: true,
      body: runs.map((r) => [
        { svg: silhouetteSvg(r.levels, full), width: 112 },
        {
          stack: [
            { text: r.title, bold: true },
            r.setup ? { text: r.setup, color: muted } : '',
            r.seen,
            r.hash ? { text: `SHA-256 ${r.hash}`, fontSize: 6.5, color: muted } : '',
          ].filter((x) => x !== ''),
        },
        { text: r.state, color: muted },
      ]),
    },
    fontSize: 8.5,
  };
}

function silhouetteSvg(levels: (number | null)[], full: number): string {
  const path = silhouettePath(levels, full);
  const shape = path === '' ? '' : `<path d="${path}" fill="${umbra}"/>`;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 150 28" width="150" height="28">${shape}<path d="M0 27.5H150" stroke="${line}" stroke-width="1"/></svg>`;
}
