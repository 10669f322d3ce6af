'use client';

import { wrapDeg } from '../../../core/base/angle';
import { useEffect, useState } from 'react';
import { isRoundBlank, LAY_KINDS, type Anchor, type Inscription, type Job, type Lay } from '../../../core/job/schema';
import { findWidestGap } from '../../../core/lay/layGrid';
import { describeLay, getEffectiveLay, isPlainSurface } from '../../../core/lay/layMap';
import { toTurnDeg, type Surface } from '../../../core/surface/surface';
import { createPlanningWorkers, type LetteringView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { Choice, Fold, Tick } from '../../common/fields';
import { formatDeg, formatLength } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { patchInscription, useBench, useJob, useView, type InscriptionPatch } from '../../state/benchStore';
import { useBlank } from '../../state/useSurface';
import { MATERIALS } from '../preview';

const TITLES: Record<Lay['kind'], string> = { wrap: 'Wrap', level: 'Level', project: 'Project', drape: 'Drape' };
const inked = (lettering: LetteringView | null) => (lettering?.inscriptions ?? []).filter((i) => i.box.minX <= i.box.maxX);

/** How the lettering goes on to the blank, what that does to it, where it stands, and where the sheet meets itself. */
export function LayPanel({ lettering }: { lettering: LetteringView | null }) {
  const bench = useBench();
  const job = useJob();
  const { surface } = useBlank();
  const selected = useView((v) => v.selected);
  const showStretch = useView((v) => v.showStretch);
  const [comparing, setComparing] = useState(false);
  const { lay, units } = job;
  const set = (patch: Partial<Lay>) => bench.edit(`lay ${Object.keys(patch).join()}`, (j) => ({ ...j, lay: { ...j.lay, ...patch } }));
  const kind = getEffectiveLay(lay, surface);
  const able = (k: Lay['kind']) => getEffectiveLay({ ...lay, kind: k }, surface) === k;
  const inscription = job.inscriptions.find((i) => i.id === selected) ?? job.inscriptions[0];
  const letters = inked(lettering).flatMap((i) => i.letters);
  const worst = letters.reduce((w, l) => (Math.abs(l.stretch - 1) > Math.abs(w - 1) ? l.stretch : w), 1);
  return (
    <>
      <h2>Lay: {kind}</h2>
      <div className="lays" role="radiogroup" aria-label="Lay">
        {LAY_KINDS.map((k) => (
          <button
            key={k}
            type="button"
            role="radio"
            aria-checked={k === kind}
            disabled={!able(k)}
            title={able(k) ? undefined : 'A free shape has no rims to go along'}
            onClick={() => set({ kind: k })}
          >
            {TITLES[k]}
          </button>
        ))}
      </div>
      <p data-testid="lay-sentence">{describeLay(kind, lay.letters, surface)}</p>
      {kind === 'level' && !isPlainSurface(surface) && (
        <Choice
          label="Letters"
          value={lay.letters}
          options={[
            ['rigid', 'each whole, upright on the line'],
            ['bent', 'bent with the line'],
          ]}
          onValue={(v) => set({ letters: v })}
        />
      )}
      {kind === 'project' && <ProjectFields lay={lay} set={set} surface={surface} />}
      <Button size="sm" variant="link" className="p-0" onClick={() => setComparing(!comparing)}>
        {comparing ? 'Put the comparison away' : 'Compare the lays side by side'}
      </Button>
      {comparing && <Compare job={job} current={kind} letters={lay.letters} onTake={set} />}

      <h3>What it does to the letters</h3>
      <table className="figures">
        <tbody>
          <tr>
            <td>Stretch, at most</td>
            <td data-testid="worst-stretch">{formatPercent(worst)}</td>
          </tr>
        </tbody>
      </table>
      <div className="d-flex align-items-end gap-2">
        <QuantityField
          label="Name letters over, %"
          kind="number"
          value={lay.stretchLimitPercent}
          units={units}
          onValue={(v) => set({ stretchLimitPercent: v })}
        />
        <Tick label="Show it on both views" checked={showStretch} onValue={(v) => bench.view.setState({ showStretch: v })} />
      </div>

      {inscription && <Standing inscription={inscription} job={job} surface={surface} lettering={lettering} />}
      {isRoundBlank(job.blank) && surface.periodMm !== null && <Seam seamDeg={job.blank.seamDeg} surface={surface} lettering={lettering} />}
    </>
  );
}

/** A stretch as people say it: +4.2 %, true where it is less than a thousandth of a percent. */
export const formatPercent = (stretch: number): string => {
  const percent = (stretch - 1) * 100;
  return Math.abs(percent) < 0.0005
    ? 'no stretch'
    : `${percent > 0 ? '+' : '−'}${Math.abs(percent).toFixed(Math.abs(percent) < 1 ? 3 : 1)} %`;
};

function ProjectFields({ lay, set, surface }: { lay: Lay; set(patch: Partial<Lay>): string | null; surface: Surface }) {
  const bench = useBench();
  const units = useJob().units;
  const presets: [string, number, number][] = [
    ['Operator’s view', 0, 0],
    ['Along the axis, datum end', 0, -90],
    ['Along the axis, far end', 0, 90],
  ];
  return (
    <>
      <Choice
        label="Seen from"
        value={lay.from}
        options={[
          ['normal', 'straight over each inscription’s anchor'],
          ['direction', 'one direction for all'],
        ]}
        onValue={(from) => set({ from })}
      />
      {lay.from === 'direction' && (
        <>
          <div className="fields">
            <QuantityField
              label={surface.round ? 'From the turn' : 'Leaning across by'}
              kind="angle"
              value={lay.turnDeg}
              units={units}
              onValue={(v) => set({ turnDeg: v })}
            />
            <QuantityField
              label="Leaning to the far end by"
              kind="angle"
              value={lay.tiltDeg}
              units={units}
              onValue={(v) => set({ tiltDeg: v })}
            />
          </div>
          <div className="d-flex flex-wrap gap-1 mt-1">
            {presets.map(([name, turnDeg, tiltDeg]) => (
              <Button key={name} size="sm" variant="outline-primary" onClick={() => set({ turnDeg, tiltDeg })}>
                {name}
              </Button>
            ))}
            <Button
              size="sm"
              variant="outline-primary"
              title="The turn that the Blank view shows now"
              onClick={() => set({ turnDeg: -bench.view.getState().turnDeg || 0, tiltDeg: 0 })}
            >
              As turned now
            </Button>
          </div>
        </>
      )}
      <QuantityField
        label="Too steep from"
        kind="angle"
        value={lay.steepLimitDeg}
        units={units}
        onValue={(v) => set({ steepLimitDeg: v })}
      />
      <p className="why">Strokes grow by 1 / cos of the angle between sight and surface: 1.15 times at 30°, twice at 60°.</p>
    </>
  );
}

interface Tried {
  kind: Lay['kind'];
  letters: Lay['letters'];
  view: LetteringView;
}

/** Every lay of the same lettering, drawn small on the sheet with what it keeps and bends. */
function Compare({
  job,
  current,
  letters,
  onTake,
}: {
  job: Job;
  current: Lay['kind'];
  letters: Lay['letters'];
  onTake(patch: Partial<Lay>): void;
}) {
  const { surface } = useBlank();
  const [tried, setTried] = useState<Tried[]>([]);
  useEffect(() => {
    let gone = false;
    const workers = createPlanningWorkers();
    const wanted: [Lay['kind'], Lay['letters']][] = !surface.hasRims
      ? [
          ['drape', letters],
          ['project', letters],
        ]
      : [
          ['wrap', letters],
          ['level', 'rigid'],
          ['level', 'bent'],
          ['drape', letters],
          ['project', letters],
        ];
    void (async () => {
      const out: Tried[] = [];
      for (const [kind, own] of wanted) {
        try {
          const view = await workers.lettering.call({ job: { ...job, lay: { ...job.lay, kind, letters: own } } }, { deadlineMs: 30_000 });
          out.push({ kind, letters: own, view });
          if (!gone) setTried([...out]);
        } catch {
          return;
        }
      }
    })();
    return () => {
      gone = true;
      workers.lettering.dispose();
      workers.plan.dispose();
    };
  }, [job, surface, letters]);
  const { minX, maxX, minY, maxY } = surface.domain;
  // As much of the sheet as the letters need in any of the lays, so that all are drawn to one scale.
  const boxes = tried.flatMap((t) => inked(t.view).map((i) => i.box));
  const pad = 3;
  // Lettering that runs round goes across the picture, as it is read, so that a sagging line is seen to sag.
  const across = Math.abs(Math.sin(((job.inscriptions[0]?.rotationDeg ?? 0) * Math.PI) / 180)) > 0.7;
  const x0 = Math.max(minX, Math.min(...boxes.map((b) => b.minX)) - pad),
    x1 = Math.min(maxX, Math.max(...boxes.map((b) => b.maxX)) + pad);
  const y0 = Math.max(minY, Math.min(...boxes.map((b) => b.minY)) - pad),
    y1 = Math.min(maxY, Math.max(...boxes.map((b) => b.maxY)) + pad);
  return (
    <div className="compare" data-testid="compare">
      {tried.map(({ kind, letters: own, view }) => {
        const worst = inked(view)
          .flatMap((i) => i.letters)
          .reduce((w, l) => (Math.abs(l.stretch - 1) > Math.abs(w - 1) ? l.stretch : w), 1);
        const here = kind === current && (kind !== 'level' || own === letters);
        return (
          <button
            key={kind + own}
            type="button"
            className={here ? 'here' : ''}
            title={describeLay(kind, own, surface)}
            onClick={() => onTake({ kind, letters: own })}
          >
            <svg
              viewBox={
                across
                  ? `${y0} ${x0} ${Math.max(0.1, y1 - y0)} ${Math.max(0.1, x1 - x0)}`
                  : `${x0} ${-y1} ${Math.max(0.1, x1 - x0)} ${Math.max(0.1, y1 - y0)}`
              }
              preserveAspectRatio="xMidYMid meet"
            >
              <g transform={across ? 'matrix(0 1 1 0 0 0)' : 'scale(1 -1)'}>
                <rect x={minX} y={minY} width={maxX - minX} height={maxY - minY} fill={MATERIALS[job.material].sheet} />
                {inked(view).map((i) => (
                  <g key={i.id}>
                    {i.areaData && <path d={i.areaData} fill="var(--ink)" />}
                    {i.strokeData && (
                      <path d={i.strokeData} fill="none" stroke="var(--ink)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
                    )}
                  </g>
                ))}
              </g>
            </svg>
            <span>
              {TITLES[kind]}
              {kind === 'level' ? `, ${own === 'rigid' ? 'whole' : 'bent'}` : ''} <i>{formatPercent(worst)}</i>
            </span>
          </button>
        );
      })}
    </div>
  );
}

const EDGES: readonly [Anchor, string][] = [
  ['bottom', 'its line of writing'],
  ['centre', 'its middle'],
  ['top', 'the tops of its letters'],
];

/** Where an inscription stands against the rims, in true millimetres of the surface. */
function Standing({
  inscription: i,
  job,
  surface,
  lettering,
}: {
  inscription: Inscription;
  job: Job;
  surface: Surface;
  lettering: LetteringView | null;
}) {
  const bench = useBench();
  const { units } = job;
  const set = (patch: InscriptionPatch) => bench.edit(`${i.id} ${Object.keys(patch).join()}`, patchInscription(i.id, patch));
  const art = inked(lettering).find((a) => a.id === i.id);
  const onGuide = i.kind === 'text' && i.onGuide !== null;
  if (onGuide || !surface.round) return null;
  const slant = surface.periodMm !== null && !surface.radialNormal;
  const { minX, maxX } = surface.domain;
  const runsRound = Math.abs(Math.abs(i.rotationDeg) - 90) < 1e-6;
  const radius = surface.radiusAt(i.at.xMm, 0);
  const rows: [string, string][] = [];
  if (art) {
    rows.push(['Lettering from', `${formatDeg(toTurnDeg(surface, art.box.minY), 1)} to ${formatDeg(toTurnDeg(surface, art.box.maxY), 1)}`]);
    if (surface.periodMm !== null) {
      const over = art.box.maxY - art.box.minY - surface.periodMm;
      rows.push(
        over > 0
          ? ['Over itself at the seam by', formatDeg(toTurnDeg(surface, over), 1)]
          : [
              'Free round the blank',
              `${formatDeg(-toTurnDeg(surface, over), 1)} = ${formatLength((-over / surface.mmPerRad) * radius, units, 2)} ${units}`,
            ],
      );
    }
    rows.push([
      slant ? 'Ink along the slant' : 'Ink along',
      `${formatLength(art.box.minX, units, 2)} to ${formatLength(art.box.maxX, units, 2)} ${units}`,
    ]);
  }
  return (
    <Fold
      title={`Where “${i.kind === 'text' ? i.text.split('\n')[0] : i.name || i.kind}” stands`}
      open
      brief={`${formatLength(i.at.xMm - minX, units, 2)} ${units} from the datum rim`}
    >
      <div className="fields">
        {i.kind !== 'series' && runsRound && (
          <Choice
            label="Measured to"
            wide
            value={EDGES.some(([a]) => a === i.anchor) ? i.anchor : 'centre'}
            options={EDGES}
            onValue={(anchor) => set({ anchor })}
          />
        )}
        <QuantityField
          label="From the datum rim"
          kind="length"
          value={i.at.xMm - minX}
          units={units}
          onValue={(v) => set({ at: { ...i.at, xMm: v + minX } })}
        />
        <QuantityField
          label="or from the far rim"
          kind="length"
          value={maxX - i.at.xMm}
          units={units}
          onValue={(v) => set({ at: { ...i.at, xMm: maxX - v } })}
        />
        <QuantityField
          label={i.anchor.includes('left') ? 'Starts at' : i.anchor.includes('right') ? 'Ends at' : 'Its middle at'}
          kind="angle"
          value={i.at.turnDeg}
          units={units}
          onValue={(v) => set({ at: { ...i.at, turnDeg: v } })}
        />
        {i.kind === 'text' && i.fit.to === 'turn' && (
          <QuantityField
            label="Gap where it closes"
            kind="length"
            value={i.fit.gapMm}
            units={units}
            onValue={(v) => set({ fit: { ...(i.fit as Extract<typeof i.fit, { to: 'turn' }>), gapMm: v } })}
          />
        )}
        {i.kind !== 'series' && (
          <Choice
            label="Letters’ tops"
            value={i.rotationDeg === 90 ? 'datum' : i.rotationDeg === -90 ? 'far' : 'other'}
            options={[
              ['datum', 'to the datum end'],
              ['far', 'to the far end'],
              ['other', `turned by ${formatDeg(i.rotationDeg, 1)}`],
            ]}
            onValue={(v) => v !== 'other' && set({ rotationDeg: v === 'datum' ? 90 : -90 })}
          />
        )}
      </div>
      <p className="why">
        {slant
          ? 'Distances are true millimetres along the surface (the slant), not along the axis: lay a tape on the blank and they are what it shows.'
          : 'Distances are true millimetres along the surface.'}
      </p>
      {rows.length > 0 && (
        <table className="figures">
          <tbody>
            {rows.map(([name, value]) => (
              <tr key={name}>
                <td>{name}</td>
                <td>{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Fold>
  );
}

function Seam({ seamDeg, surface, lettering }: { seamDeg: number; surface: Surface; lettering: LetteringView | null }) {
  const bench = useBench();
  const units = useJob().units;
  const setSeam = (deg: number, name: string) =>
    bench.edit(name, (j) => (isRoundBlank(j.blank) ? { ...j, blank: { ...j.blank, seamDeg: deg } } : j));
  const gap = findWidestGap(
    inked(lettering).map((i) => i.box),
    surface.periodMm!,
  );
  const gapDeg = gap && wrapDeg(toTurnDeg(surface, gap.middleY));
  return (
    <>
      <h3>Seam</h3>
      <div className="d-flex align-items-end gap-2">
        <QuantityField label="Seam at" kind="angle" value={seamDeg} units={units} onValue={(v) => setSeam(v, 'seam')} />
        <Button
          size="sm"
          variant="outline-primary"
          disabled={gapDeg === null}
          title={gapDeg === null ? 'The lettering leaves no gap' : `At ${formatDeg(gapDeg, 1)}`}
          onClick={() => gapDeg !== null && setSeam(Math.round(gapDeg * 1000) / 1000 || 180, bench.nameStep('seam'))}
        >
          To the widest gap
        </Button>
      </div>
      <p className="why">
        The line where the sheet&rsquo;s two edges meet; drag it on the sheet. Lettering keeps its place on the blank when it moves.
        {gap ? ` The widest gap is ${formatDeg(toTurnDeg(surface, gap.widthMm), 1)} wide.` : ''}
      </p>
    </>
  );
}
