import { useEffect, useMemo, useRef, useState } from 'react';
import CloseButton from 'react-bootstrap/CloseButton';
import { axisBottom, axisLeft } from 'd3-axis';
import { scaleLinear } from 'd3-scale';
import { select } from 'd3-selection';
import type { InscriptionArtwork } from '../../../core/lettering/artwork';
import { toTurnDeg, type Surface } from '../../../core/surface/surface';
import { Button } from '../../common/Button';
import { formatDeg, formatLength, formatTime } from '../../common/format';
import { useBench, useJobPart, useView } from '../../state/benchStore';
import type { RemovalState } from '../../state/useRemoval';
import { computeSection, type Section, type SheetLine } from './section';

interface Props {
  surface: Surface;
  artworks: readonly InscriptionArtwork[];
  ask: RemovalState['ask'];
}

/** What was measured last: a place of the piece, or a cut through it. */
export function MeasureCard({ surface, artworks, ask }: Props) {
  const bench = useBench();
  const measured = useView((v) => v.measured);
  const piece = useView((v) => v.piece);
  if (!measured || !piece) return null;
  return (
    <section className="measure-card" aria-label="Measured on the piece" data-testid="measured">
      <CloseButton aria-label="Close" onClick={() => bench.view.setState({ measured: null })} />
      {measured.kind === 'place' ? (
        <Place x={measured.x} y={measured.y} surface={surface} ask={ask} />
      ) : (
        <SectionView line={measured} surface={surface} artworks={artworks} />
      )}
    </section>
  );
}

function Place({ x, y, surface, ask }: { x: number; y: number; surface: Surface; ask: RemovalState['ask'] }) {
  const bench = useBench();
  const units = useJobPart((j) => j.units);
  const version = useView((v) => v.piece?.version ?? 0);
  const [answer, setAnswer] = useState<Awaited<ReturnType<RemovalState['ask']>>>(null);
  useEffect(() => {
    let wanted = true;
    void ask(x, y).then((a) => wanted && setAnswer(a));
    return () => {
      wanted = false;
    };
    // Asked anew for another place, and when the piece has changed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [x, y, version]);
  const where = `x ${formatLength(x, units, 2)} ${units}, ${surface.round ? formatDeg(toTurnDeg(surface, y), 1) : `y ${formatLength(y, units, 2)} ${units}`}`;
  return (
    <p className="m-0">
      <strong>{where}</strong>:{' '}
      {!answer || answer.depthMm === 0 ? (
        'not cut here'
      ) : (
        <>
          {formatLength(answer.depthMm, units)} {units} deep
          {answer.by && (
            <>
              , by line {answer.by.line + 1} at {formatTime(answer.by.timeS)}{' '}
              <Button
                size="sm"
                variant="link"
                className="p-0"
                onClick={() => bench.view.setState({ playing: false, playS: answer.by!.timeS, station: 'program' })}
              >
                Go to that moment
              </Button>
            </>
          )}
        </>
      )}
    </p>
  );
}

const WIDTH = 420;
const MIN_HEIGHT = 90;
const MAX_HEIGHT = 190;
const LEFT = 44;
const BOTTOM = 22;
const TOP = 14;
/** Room over the skin and under the deepest place, share of the section's width. */
const ROOM_SHARE = 0.05;

function SectionView({ line, surface, artworks }: { line: SheetLine } & Omit<Props, 'ask'>) {
  const units = useJobPart((j) => j.units);
  const piece = useView((v) => v.piece)!;
  const section = useMemo(() => computeSection(line, piece, surface, artworks), [line, piece, surface, artworks]);
  const length = section.alongMm[section.alongMm.length - 1]!;
  const sum = (spans: readonly (readonly [number, number])[]) => spans.reduce((total, [a, b]) => total + b - a, 0);
  return (
    <>
      <SectionChart section={section} />
      <p className="m-0 figure" data-testid="section-figures">
        {formatLength(length, units, 2)} {units} long; drawn {formatLength(sum(section.drawnSpans), units)}, cut{' '}
        {formatLength(sum(section.cutSpans), units)} {units} of it; {formatLength(section.deepestMm, units)} {units} deep
      </p>
    </>
  );
}

/** The section in true scale. */
function SectionChart({ section }: { section: Section }) {
  const units = useJobPart((j) => j.units);
  const below = useRef<SVGGElement>(null);
  const beside = useRef<SVGGElement>(null);
  const n = section.skin.length / 2;
  const span = section.skin[2 * n - 2]! || 1;
  let low = Infinity,
    high = -Infinity;
  for (let k = 0; k < n; k++) {
    low = Math.min(low, section.cut[2 * k + 1]!);
    high = Math.max(high, section.skin[2 * k + 1]!);
  }
  const room = ROOM_SHARE * span;
  // One scale for both: millimetres are as long up as along.
  const scale = Math.min((WIDTH - LEFT - 10) / span, (MAX_HEIGHT - BOTTOM - TOP) / (high - low + 2 * room));
  const height = Math.max(MIN_HEIGHT, scale * (high - low + 2 * room) + BOTTOM + TOP);
  const x = useMemo(
    () =>
      scaleLinear()
        .domain([0, span])
        .range([LEFT, LEFT + scale * span]),
    [span, scale],
  );
  const y = useMemo(() => {
    const top = high + room;
    return scaleLinear()
      .domain([top - (height - BOTTOM - TOP) / scale, top])
      .range([height - BOTTOM, TOP]);
  }, [high, room, height, scale]);
  useEffect(() => {
    const format = (v: { valueOf(): number }) => formatLength(v.valueOf(), units, 2);
    select(below.current!).call(axisBottom(x).ticks(6).tickFormat(format).tickSizeOuter(0));
    select(beside.current!).call(axisLeft(y).ticks(4).tickFormat(format).tickSizeOuter(0));
  }, [x, y, units]);
  const path = (p: Float64Array) =>
    Array.from({ length: n }, (_, k) => `${k ? 'L' : 'M'}${x(p[2 * k]!).toFixed(1)} ${y(p[2 * k + 1]!).toFixed(1)}`).join('');
  const floor = `L${x(span).toFixed(1)} ${height - BOTTOM}L${x(0).toFixed(1)} ${height - BOTTOM}Z`;
  const total = section.alongMm[n - 1]! || 1;
  return (
    <svg width={WIDTH} height={height} role="img" aria-label="Section through the piece, true to scale">
      <path d={path(section.cut) + floor} fill="var(--brass)" fillOpacity={0.35} />
      <path d={path(section.skin)} fill="none" stroke="var(--soft)" strokeDasharray="3 3" />
      <path d={path(section.cut)} fill="none" stroke="var(--ink)" strokeWidth={1.3} />
      {section.drawnSpans.map(([a, b], k) => (
        <line
          key={k}
          x1={x((a / total) * span)}
          x2={x((b / total) * span)}
          y1={TOP - 6}
          y2={TOP - 6}
          stroke="var(--verdigris)"
          strokeWidth={3}
        >
          <title>drawn</title>
        </line>
      ))}
      <g ref={below} className="axis" transform={`translate(0,${height - BOTTOM})`} />
      <g ref={beside} className="axis" transform={`translate(${LEFT},0)`} />
    </svg>
  );
}
