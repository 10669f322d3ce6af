import { NextResponse } from 'next/server';
import { MAX_FONT_BYTES } from '../../../core/lettering/typeface';
import { answerProblem, guarded } from '../../../server/answers';
import { loadEngines } from '../../../server/resources/engines';
import { openShop } from '../../../server/shop';
import { addFont, describeFontRefusal, listFonts } from '../../../server/typeCase';

export const dynamic = 'force-dynamic';

export const GET = () => guarded(() => NextResponse.json(listFonts(openShop())));

/** Takes a font file as the body; its name comes in `?name=`. */
export const POST = (request: Request) =>
  guarded(async () => {
    const name = (new URL(request.url).searchParams.get('name') ?? 'font').slice(0, 200);
    const tooLarge = (bytes: number) => answerProblem(413, { error: 'fontTooLarge', text: describeFontRefusal({ kind: 'fontTooLarge', name, bytes, limitBytes: MAX_FONT_BYTES }) });
    const declared = Number(request.headers.get('content-length'));
    if (declared > MAX_FONT_BYTES) return tooLarge(declared);
    // Read piece by piece, so that a body larger than it said is not taken in whole.
    const parts: Uint8Array[] = [];
    let length = 0;
    const reader = request.body?.getReader();
    for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
      length += part.value.length;
      if (length > MAX_FONT_BYTES) {
        void reader!.cancel();
        return tooLarge(length);
      }
      parts.push(part.value);
    }
    const made = await addFont(openShop(), await loadEngines(), name, new Uint8Array(Buffer.concat(parts)), Date.now());
    if (made.ok) return NextResponse.json(made.value, { status: 201 });
    return answerProblem(422, { error: made.error.kind, text: describeFontRefusal(made.error) });
  });
