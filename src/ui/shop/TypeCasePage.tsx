'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import type { FontCard } from '../../core/lettering/fontCard';
import { createStrokeTypeface, type StrokeFontData } from '../../core/lettering/strokeTypeface';
import { Button } from '../common/Button';
import { FileButton } from '../common/FileButton';
import { QuantityField } from '../common/QuantityField';

/** Fewer are signs that strayed in, not a script. */
const LETTERS_OF_A_SCRIPT = 15;
const MAX_FILE_BYTES = 32 * 1024 * 1024;
const SCRIPTS: readonly [string, number, number][] = [
  ['Latin', 0x41, 0x24f],
  ['Greek', 0x370, 0x3ff],
  ['Cyrillic', 0x400, 0x4ff],
  ['Hebrew', 0x5d0, 0x5ea],
  ['Arabic', 0x620, 0x6ff],
  ['arrows and signs', 0x2190, 0x27bf],
  ['emoji', 0x1f300, 0x1faff],
];

/** The fonts of the house, each set in one's own words at the size of the job. */
export function TypeCasePage({ fonts }: { fonts: readonly FontCard[] }) {
  const [items, setItems] = useState(fonts);
  const [words, setWords] = useState('KESTREL QUAY No. 7 – Ärø & 3/8');
  const [heightMm, setHeightMm] = useState(7);
  const [dropping, setDropping] = useState(false);
  const [said, setSaid] = useState<{ text: string; bad: boolean }[]>([]);
  const [removing, setRemoving] = useState<{ font: FontCard; uses: string[] } | null>(null);

  const add = async (files: readonly File[]) => {
    const news: { text: string; bad: boolean }[] = [];
    for (const f of files) {
      if (f.size > MAX_FILE_BYTES) {
        news.push({ text: `${f.name} has ${(f.size / 1048576).toFixed(0)} MB; a font may have up to 32 MB`, bad: true });
        continue;
      }
      try {
        const answer = await fetch(`/api/fonts?name=${encodeURIComponent(f.name)}`, {
          method: 'POST',
          headers: { 'content-type': 'application/octet-stream' },
          body: f,
        });
        const body = (await answer.json()) as FontCard & { text?: string };
        if (answer.ok) {
          setItems((list) => [...list, body].sort((a, b) => a.family.localeCompare(b.family)));
          news.push({ text: `${body.family} ${body.style} is in the type case`, bad: false });
        } else news.push({ text: body.text ?? `${f.name} was not taken`, bad: true });
      } catch {
        news.push({ text: 'Hobel’s server does not answer', bad: true });
      }
    }
    setSaid(news);
  };
  const ask = async (font: FontCard) => {
    const uses = await fetch(`/api/fonts/${font.id}?uses`).then(
      (r) => r.json() as Promise<string[]>,
      () => [],
    );
    setRemoving({ font, uses });
  };
  const remove = async (font: FontCard) => {
    setRemoving(null);
    const answer = await fetch(`/api/fonts/${font.id}`, { method: 'DELETE' });
    if (answer.ok) setItems((list) => list.filter((f) => f.id !== font.id));
    else setSaid([{ text: ((await answer.json()) as { text: string }).text, bad: true }]);
  };
  return (
    <div
      onDragOver={(e) => {
        e.preventDefault();
        setDropping(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setDropping(false)}
      onDrop={(e) => {
        e.preventDefault();
        setDropping(false);
        void add([...e.dataTransfer.files]);
      }}
    >
      <div className="d-flex gap-2 align-items-end mb-3">
        <h1 className="h4 mb-0 flex-grow-1">Type case</h1>
        <Form.Group controlId="own-words" style={{ width: 340 }}>
          <Form.Label>Set in your own words</Form.Label>
          <Form.Control size="sm" value={words} maxLength={80} spellCheck={false} onChange={(e) => setWords(e.target.value)} />
        </Form.Group>
        <div style={{ width: 90 }}>
          <QuantityField
            label="Height"
            kind="length"
            value={heightMm}
            units="mm"
            onValue={(v) => {
              if (!(v >= 1 && v <= 40)) return 'From 1 to 40 mm';
              setHeightMm(v);
              return null;
            }}
          />
        </div>
        <FileButton multiple accept=".ttf,.otf,.woff,.woff2,.svg" label="Font file" onFiles={(files) => void add(files)}>
          <PlusIcon size={15} /> Put a font in
        </FileButton>
      </div>
      {said.map((s) => (
        <p key={s.text} role={s.bad ? 'alert' : 'status'} className={s.bad ? 'text-danger mb-1' : 'mb-1'}>
          {s.text}
        </p>
      ))}
      <div className={`specimens${dropping ? ' dropping' : ''}`}>
        {items.map((f) => (
          <Specimen key={f.id} font={f} words={words} heightMm={heightMm} onRemove={f.own ? () => void ask(f) : undefined} />
        ))}
      </div>
      <p className="text-secondary mt-3">
        TTF, OTF, WOFF, WOFF2 and SVG stroke fonts can be put in, or dragged on to this page. Licences of the fonts that ship are in{' '}
        <code>resources/licences</code>. The Hershey fonts were created by Dr. A. V. Hershey at the U. S. National Bureau of Standards;
        their data format by James Hurt, Cognition, Inc.
      </p>
      <Modal show={removing !== null} centered onHide={() => setRemoving(null)} aria-labelledby="remove-font">
        <Modal.Header closeButton>
          <Modal.Title id="remove-font" as="h2" className="h5">
            Take out {removing?.font.family} {removing?.font.style}?
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {removing?.uses.length ? (
            <>
              <p>These jobs use it, and will say that it is missing:</p>
              <ul>
                {removing.uses.map((u, k) => (
                  <li key={k}>{u}</li>
                ))}
              </ul>
            </>
          ) : (
            'No job uses it.'
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => setRemoving(null)}>
            Keep it
          </Button>
          <Button variant="danger" onClick={() => removing && void remove(removing.font)}>
            Take it out
          </Button>
        </Modal.Footer>
      </Modal>
    </div>
  );
}

interface Loaded {
  family?: string;
  stroke?: StrokeFontData;
  characters: number;
}

function Specimen({ font, words, heightMm, onRemove }: { font: FontCard; words: string; heightMm: number; onRemove?(): void }) {
  const [loaded, setLoaded] = useState<Loaded | null>(null);
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // Fonts are large: each is fetched when it comes into view.
    const observer = new IntersectionObserver(
      ([entry]) => {
        if (!entry!.isIntersecting) return;
        observer.disconnect();
        void (async () => {
          const answer = await fetch(`/api/fonts/${font.id}`);
          if (!answer.ok) return;
          if (font.kind === 'stroke') {
            const stroke = (await answer.json()) as StrokeFontData;
            setLoaded({ stroke, characters: stroke.glyphs.length });
            return;
          }
          const name = `specimen-${font.id}`;
          const face = await new FontFace(name, await answer.arrayBuffer()).load();
          document.fonts.add(face);
          setLoaded({ family: name, characters: 0 });
        })();
      },
      { rootMargin: '300px' },
    );
    observer.observe(host.current!);
    return () => observer.disconnect();
  }, [font]);
  return (
    <div className="specimen" ref={host} data-testid={`font-${font.id}`}>
      <strong>
        {font.family} <span className="fw-normal">{font.style}</span>
      </strong>
      <span className="meta">
        {font.kind === 'stroke' ? 'stroke, for centre-line cuts' : font.class} <Coverage font={font} loaded={loaded} />
        {onRemove && (
          <Button
            variant="link"
            className="p-0 ms-2 text-secondary"
            aria-label={`Take out ${font.family} ${font.style}`}
            onClick={onRemove}
          >
            <TrashIcon size={15} />
          </Button>
        )}
      </span>
      <div className="line" style={loaded?.family ? { fontFamily: `"${loaded.family}"`, fontSize: `${heightMm / 0.7}mm` } : undefined}>
        {loaded?.family && words}
        {loaded?.stroke && <StrokeLine data={loaded.stroke} words={words} heightMm={heightMm} />}
        {!loaded && <span className="meta">…</span>}
      </div>
    </div>
  );
}

function StrokeLine({ data, words, heightMm }: { data: StrokeFontData; words: string; heightMm: number }) {
  const { path, width } = useMemo(() => {
    const face = createStrokeTypeface('specimen', data);
    let x = 0,
      d = '';
    for (const g of face.shapeLine(words, { kerning: true, ligatures: true })) {
      for (const c of face.drawGlyph(g.glyph)) d += `${c.type}${(x + c.values[0]!).toFixed(1)} ${(-c.values[1]!).toFixed(1)}`;
      x += g.advance;
    }
    return { path: d, width: x };
  }, [data, words]);
  const scale = heightMm / data.capHeight;
  const [top, bottom] = [1.25 * data.capHeight, 0.35 * data.capHeight];
  return (
    <svg
      width={`${width * scale}mm`}
      height={`${(top + bottom) * scale}mm`}
      viewBox={`0 ${-top} ${Math.max(1, width)} ${top + bottom}`}
      style={{ flex: 'none' }}
      role="img"
      aria-label={words}
    >
      <path d={path} fill="none" stroke="currentColor" strokeWidth={1.3} vectorEffect="non-scaling-stroke" strokeLinecap="round" />
    </svg>
  );
}

/** How many characters of which scripts a font has, by asking it. */
function Coverage({ font, loaded }: { font: FontCard; loaded: Loaded | null }) {
  const [text, setText] = useState('');
  useEffect(() => {
    if (!loaded) return;
    const timer = setTimeout(
      () =>
        void fetch(`/api/fonts/${font.id}?coverage`)
          .then((r) => r.json() as Promise<number[]>)
          .then((codes) => {
            const has = SCRIPTS.filter(([, from, to]) => codes.filter((c) => c >= from && c <= to).length >= LETTERS_OF_A_SCRIPT).map(
              ([name]) => name,
            );
            setText(`· ${codes.length} characters: ${has.join(', ')}`);
          })
          .catch(() => undefined),
      50,
    );
    return () => clearTimeout(timer);
  }, [loaded, font.id]);
  return <>{text}</>;
}
