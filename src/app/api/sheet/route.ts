import { NextResponse } from 'next/server';
import { z } from 'zod';
import { toLocalDay } from '../../../core/base/today';
import { hashValue } from '../../../core/job/jobHash';
import { setupSheetSchema } from '../../../core/export/setupSheet';
import { guarded, readForm } from '../../../server/answers';
import { renderSetupSheet } from '../../../server/resources/setupPdf';

export const dynamic = 'force-dynamic';

const MAX_DRAWING = 8_000_000;
const bodySchema = z.strictObject({
  sheet: setupSheetSchema,
  drawing: z.string().startsWith('<svg').max(MAX_DRAWING),
  /** The finished piece. */
  picture: z.string().startsWith('data:image/png;base64,').max(MAX_DRAWING).nullable(),
  /** What the hash is taken of. */
  job: z.looseObject({}),
});

/** Sets the page for the machine from figures that the page has worked out. */
export const POST = (request: Request) =>
  guarded(async () => {
    const read = await readForm(request, bodySchema, 'No set-up sheet can be made of this');
    if ('answer' in read) return read.answer;
    const { sheet, drawing, picture, job } = read.value;
    const hash = hashValue(job);
    const pdf = await renderSetupSheet(sheet, drawing, toLocalDay(new Date()), hash, picture);
    return new NextResponse(Buffer.from(pdf), { headers: { 'Content-Type': 'application/pdf' } });
  });
