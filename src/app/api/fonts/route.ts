import { NextResponse } from 'next/server';
import { MAX_FONT_BYTES } from '../../../core/lettering/typeface';
import { answerProblem, guarded, readBytes } from '../../../server/answers';
import { readFontApart } from '../../../server/resources/readFontApart';
import { openShop } from '../../../server/shop';
import { addFont, describeFontRefusal, listFonts } from '../../../server/typeCase';

export const dynamic = 'force-dynamic';

export const GET = () => guarded(() => NextResponse.json(listFonts(openShop())));

/** Takes a font file as the body; its name comes in `?name=`. */
export const POST = (request: Request) =>
  guarded(async () => {
    const name = (new URL(request.url).searchParams.get('name') ?? 'font').slice(0, 200);
    const read = await readBytes(request, MAX_FONT_BYTES);
    if ('overBytes' in read)
      return answerProblem(413, {
        error: 'fontTooLarge',
        text: describeFontRefusal({ kind: 'fontTooLarge', name, bytes: read.overBytes, limitBytes: MAX_FONT_BYTES }),
      });
    const made = await addFont(openShop(), readFontApart(), name, read.bytes, Date.now());
    if (made.ok) return NextResponse.json(made.value, { status: 201 });
    return answerProblem(422, { error: made.error.kind, text: describeFontRefusal(made.error) });
  });
