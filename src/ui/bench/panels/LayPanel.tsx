'use client';

import { useState } from 'react';
import { isRoundBlank, LAY_KINDS, type Lay } from '../../../core/job/schema';
import { describeLay, getEffectiveLay, isPlainSurface } from '../../../core/lay/layMap';
import { type LetteringView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { Choice, Tick } from '../../common/fields';
import { QuantityField } from '../../common/QuantityField';
import { RadioRow } from '../../common/RadioRow';
import { useBench, useJob, useView } from '../../state/benchStore';
import { useBlank } from '../../state/useSurface';

import { Compare } from './lay/Compare';
import { TITLES, formatPercent, inked } from './lay/layWords';
import { ProjectFields } from './lay/ProjectFields';
import { Seam } from './lay/Seam';
import { Standing } from './lay/Standing';

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
      <RadioRow
        className="lays"
        label="Lay"
        value={kind}
        options={LAY_KINDS.map((k) => ({
          value: k,
          name: TITLES[k],
          disabled: !able(k),
          title: able(k) ? undefined : 'A free shape has no rims to go along',
        }))}
        onValue={(k) => set({ kind: k })}
      />
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
