import path from 'node:path';
import type { Column, Content, TDocumentDefinitions } from 'pdfmake/interfaces';
import type { PaperWrap } from '../../core/export/paperWrap';
import type { SetupSheet } from '../../core/export/setupSheet';
import { HASH_SHOWN } from '../../core/job/jobHash';
import { getResourcesDir } from './engines';

const LENGTH_DIGITS = 3;
const TURN_DIGITS = 3;
/** Room for the drawing on the page, points. */
const DRAWING_PT: [number, number] = [340, 190];
const PICTURE_PT: [number, number] = [220, 115];
const SMALL = 8;
const MINUS = '−';

const number = (value: number, digits: number): string => value.toFixed(digits).replace('-', MINUS);
const place = (value: number, unit: 'mm' | '°'): string => number(value, unit === '°' ? TURN_DIGITS : LENGTH_DIGITS);
const time = (s: number): string => `${Math.floor(Math.round(s) / 60)} min ${String(Math.round(s) % 60).padStart(2, '0')} s`;
const heading = (text: string): Content => ({ text, bold: true, fontSize: 11, margin: [0, 10, 0, 3] });
const cell = (text: string, right = false): Content => ({ text, alignment: right ? 'right' : 'left' });
const head = (...texts: string[]): Content[] => texts.map((text) => ({ text, fontSize: SMALL, color: '#555' }));

/** A table whose first columns hold words and the others figures. */
const table = (widths: (string | number)[], titles: string[], rows: string[][], wordColumns: number): Content => ({
  table: { widths, headerRows: 1, body: [head(...titles), ...rows.map((r) => r.map((text, k) => cell(text, k >= wordColumns)))] },
  layout: 'lightHorizontalLines',
});

/** A picture with what it shows. */
const pictured = (picture: Content, what: string): Column => ({
  width: 'auto',
  stack: [picture, { text: what, fontSize: SMALL, color: '#555', margin: [0, 2, 0, 0] }],
});

/**
 * Sets the page for the machine, on A4. Figures of places stand with three digits, as the control shows them.
 * @param drawing The lettered sheet, SVG. @param picture The finished piece, PNG as a data URL; null for none.
 * @param madeOn Day, as it is to stand. @param hash What tells this job from every other.
 * @returns The PDF, its type embedded.
 */
export async function renderSetupSheet(
  sheet: SetupSheet,
  drawing: string,
  madeOn: string,
  hash: string,
  picture: string | null = null,
): Promise<Uint8Array> {
  const pdfmake = await loadPdfmake();
  const { axes, tools, checks, files } = sheet;
  const content: Content[] = [
    { text: sheet.job, fontSize: 17, bold: true },
    { text: `${sheet.blank} · ${sheet.material} · ${sheet.machine}`, margin: [0, 2, 0, 0] },
    ...(sheet.notes ? [{ text: sheet.notes, margin: [0, 4, 0, 0], italics: false } as Content] : []),
    {
      margin: [0, 8, 0, 2],
      columnGap: 18,
      columns: [
        {
          width: 'auto',
          stack: [
            { svg: drawing, fit: DRAWING_PT },
            {
              text: 'Unrolled, seen from outside:\nthick is the datum end, dashed is turn 0.',
              fontSize: SMALL,
              color: '#555',
              margin: [0, 3, 0, 0],
            },
          ],
        },
        {
          width: '*',
          stack: [{ text: 'Zero', bold: true, fontSize: 11, margin: [0, 0, 0, 3] }, { ul: sheet.zero }],
        },
      ],
    },
    {
      margin: [0, 8, 0, 0],
      columnGap: 18,
      columns: [
        pictured({ svg: sheet.onMachine, fit: PICTURE_PT }, 'On the machine, seen from before it; arrows as words grow.'),
        ...(picture ? [pictured({ image: picture, fit: PICTURE_PT }, 'The finished piece.')] : []),
      ],
    },
    heading('Cutters, in this order'),
    table(
      ['auto', '*', 'auto', 'auto', 'auto', 'auto'],
      ['number', 'cutter', 'stick-out, mm', 'rev/min', 'deepest, mm', 'cuts for'],
      tools.map((t) => [
        `T${t.number}`,
        t.name,
        number(t.stickOutMm, 1),
        t.rpm === 0 ? 'still' : number(t.rpm, 0),
        number(t.deepestMm, LENGTH_DIGITS),
        time(t.timeS),
      ]),
      2,
    ),
    heading('Try before it cuts'),
    {
      table: {
        widths: ['*', 'auto', '*'],
        headerRows: 1,
        body: [
          head('do', 'read', 'see'),
          ...checks.map(({ do: what, see, words }): Content[] => [
            cell(what),
            { text: words.map((w) => `${w.letter} ${number(w.value, 3)}`).join('  '), bold: true, noWrap: true },
            cell(see),
          ]),
        ],
      },
      layout: 'lightHorizontalLines',
    },
    heading('Where the program goes, as it was read back'),
    table(
      ['auto', 'auto', 'auto', 'auto', 'auto', 'auto', 'auto'],
      ['axis', 'first', 'cuts from', 'cuts to', 'goes from', 'goes to', 'last'],
      axes.map((a) => [
        `${a.letter}, ${a.unit}`,
        ...[a.first, a.cuts[0], a.cuts[1], a.moves[0], a.moves[1], a.last].map((v) => place(v, a.unit)),
      ]),
      1,
    ),
    heading('Program'),
    table(
      ['*', 'auto'],
      ['file', 'lines'],
      files.map((f) => [f.name, number(f.lines, 0)]),
      1,
    ),
    {
      margin: [0, 6, 0, 0],
      text: [
        `${sheet.heights} `,
        `${sheet.dialect}, written in ${sheet.unit === 'in' ? 'inches' : 'millimetres'}. `,
        `Machine time ${time(sheet.timeS + sheet.standingS)}${sheet.standingS > 0 ? `, of it ${time(sheet.standingS)} for changes and run-up` : ''}. `,
        `Read back, the tip keeps within ${number(sheet.readBackUm, 2)} µm of the plan`,
        sheet.edgeOutsideUm === null ? '.' : `; the edge lies at most ${number(sheet.edgeOutsideUm, 2)} µm outside the lettering.`,
      ],
    },
  ];
  const definition: TDocumentDefinitions = {
    pageSize: 'A4',
    pageMargins: [40, 40, 40, 46],
    defaultStyle: { font: 'Sheet', fontSize: 9 },
    info: { title: `${sheet.job}: set-up sheet`, creator: 'Hobel' },
    content,
    footer: (page, pages) => ({
      margin: [40, 14, 40, 0],
      fontSize: SMALL,
      color: '#555',
      columns: [{ text: `Job ${hash.slice(0, HASH_SHOWN)} · ${madeOn}` }, { text: `${page} of ${pages}`, alignment: 'right' }],
    }),
  };
  return new Uint8Array(await pdfmake.createPdf(definition).getBuffer());
}

/** The library with shipped type alone; loaded when a page is wanted: that takes longer than most commands. */
async function loadPdfmake() {
  const { default: pdfmake } = await import('pdfmake');
  const fonts = path.join(getResourcesDir(), 'fonts');
  pdfmake.setFonts({ Sheet: { normal: path.join(fonts, 'DejaVuSans.ttf'), bold: path.join(fonts, 'DejaVuSans-Bold.ttf') } });
  pdfmake.setLocalAccessPolicy((file) => path.resolve(file).startsWith(fonts));
  pdfmake.setUrlAccessPolicy(() => false);
  return pdfmake;
}

const PT_PER_MM = 72 / 25.4;
/** Papers that are taken where the drawing goes on them, mm, and what a printer leaves free at their edges. */
const PAPERS_MM: readonly (readonly [number, number])[] = [
  [210, 297],
  [297, 210],
  [297, 420],
  [420, 297],
];
const MARGIN_MM = 8;

/** Sets a drawing in true size on A4 or A3, or on a paper of its own where it is larger. @returns The PDF, its type embedded. */
export async function renderPaperWrap({ svg, widthMm, heightMm }: PaperWrap, title: string): Promise<Uint8Array> {
  const pdfmake = await loadPdfmake();
  const needs = [widthMm + 2 * MARGIN_MM, heightMm + 2 * MARGIN_MM] as const;
  const [width, height] = PAPERS_MM.find(([w, h]) => needs[0] <= w && needs[1] <= h) ?? needs;
  const definition: TDocumentDefinitions = {
    pageSize: { width: width * PT_PER_MM, height: height * PT_PER_MM },
    pageMargins: MARGIN_MM * PT_PER_MM,
    defaultStyle: { font: 'Sheet', fontSize: 9 },
    info: { title: `${title}: to wrap round the blank`, creator: 'Hobel' },
    content: [{ svg, width: widthMm * PT_PER_MM, height: heightMm * PT_PER_MM }],
  };
  return new Uint8Array(await pdfmake.createPdf(definition).getBuffer());
}
