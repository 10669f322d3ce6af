'use client';

import { useMemo, useState } from 'react';
import { DownloadSimpleIcon, UploadSimpleIcon } from '@phosphor-icons/react';
import { toFileStem } from '../../../../core/base/fileStem';
import type { Job, Measured } from '../../../../core/job/schema';
import { getLetteringBox } from '../../../../core/export/report';
import { createSetupOn } from '../../../../core/pipeline/setup';
import { describeMeasured, measureFigures } from '../../../../core/probe/describe';
import { hashBlank, MAX_GRID } from '../../../../core/probe/grid';
import { describeProbeRefusal, PROBE_DEFAULTS, writeProbeProgram, type ProbeSettings } from '../../../../core/probe/probeProgram';
import { createMeasured, readProbeResults } from '../../../../core/probe/results';
import { proveProbeProgram } from '../../../../core/proof/probing';
import type { LetteringView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { Choice, Tick } from '../../../common/fields';
import { FileButton } from '../../../common/FileButton';
import { formatLengthUnit, formatTime } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { saveFile } from '../../../common/saveFile';
import { useBench, useJob } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';
import { MeasuredMap } from './MeasuredMap';
import { RoundChart } from './RoundChart';
import { TouchOnRunner } from './TouchOnRunner';
import { TypedTable } from './TypedTable';

const FAULTS_SAID = 4;
/** What of the blank is touched. */
type Part = 'all' | 'lettering';
const PARTS: readonly (readonly [Part, string])[] = [
  ['all', 'All of the blank'],
  ['lettering', 'What is under the lettering'],
];
/** A grid of more places than this is not typed. */
const MOST_TYPED = 120;

/** The blank as it is and not as it was drawn: probed on the machine, mapped, and followed by the passes. */
export function MeasuredSection({ lettering }: { lettering: LetteringView | null }) {
  const bench = useBench();
  const job = useJob();
  const surface = useSurface();
  const { measured, blank, units, machine } = job;
  const [typed, setTyped] = useState(PROBE_DEFAULTS);
  const [part, setPart] = useState<Part>('all');
  const settings: ProbeSettings = { ...typed, within: part === 'lettering' && lettering ? getLetteringBox(lettering) : null };
  const [told, setTold] = useState<{ wrong: boolean; lines: string[]; accept?: () => void } | null>(null);
  const [typing, setTyping] = useState(false);
  const setup = useMemo(() => createSetupOn({ ...job, measured: null }, surface), [job, surface]);
  const put = (patch: Partial<ProbeSettings>): null => {
    setTyped({ ...typed, ...patch });
    return null;
  };
  const keep = (next: Measured | null): void => void bench.edit('measured', (j): Job => ({ ...j, measured: next }));
  const takeProgram = () => {
    const made = writeProbeProgram(setup, settings);
    if (!made.ok) return setTold({ wrong: true, lines: [describeProbeRefusal(made.error)] });
    const { touches, faults, beyond } = proveProbeProgram(setup, made.text, made.places, settings);
    if (faults.length > 0)
      return setTold({
        wrong: true,
        lines: ['The probing program does not read back: report this, it is a defect of Hobel.', ...faults.slice(0, 2)],
      });
    if (beyond[0]) {
      const lines = [
        `The probing program is more than the machine can do: ${beyond[0].text}.`,
        part === 'all' ? 'Touch it under the lettering alone, or set zero elsewhere.' : `${beyond[0].remedy}.`,
      ];
      return setTold({ wrong: true, lines });
    }
    saveFile(`${toFileStem(job.name, 'program')}-probe.nc`, made.text);
    setTold({
      wrong: false,
      lines: [
        `Read back, it touches ${touches} places with the spindle still, in ${formatTime(made.timeS)} at the most. Run it with the probe in as T${settings.toolNumber}, and bring its log here.`,
      ],
    });
  };
  const takeResults = async (file: File) => takeText(await file.text(), file.name, settings.ballMm);
  const takeText = (text: string, name: string, ballMm: number, accept: readonly string[] = []) => {
    const read = readProbeResults(text, setup, settings, ballMm, { searchMm: settings.searchMm, accept });
    if (!read.ok) {
      const { lines, doubted } = read.error;
      return setTold({
        wrong: true,
        lines: [`${name} cannot be taken:`, ...lines.slice(0, FAULTS_SAID)],
        ...(doubted.length > 0 ? { accept: () => takeText(text, name, ballMm, [...accept, ...doubted]) } : {}),
      });
    }
    setTold(null);
    keep(read.value);
  };
  const count = settings.along * settings.round;
  return (
    <>
      <h3>As it is on the machine</h3>
      <p className="why">
        No round blank is quite round, and a clamped board bows. Touch it at a grid of places, and the passes follow what was found.
      </p>
      <div className="fields">
        <Choice<Part> label="Touched" wide value={part} options={PARTS} onValue={setPart} />
        <QuantityField
          label="Places along"
          kind="number"
          value={settings.along}
          units={units}
          onValue={(v) => takeCount(v, MAX_GRID.along, (along) => put({ along }))}
        />
        <QuantityField
          label={surface.periodMm === null ? 'across' : 'round'}
          kind="number"
          value={settings.round}
          units={units}
          onValue={(v) => takeCount(v, MAX_GRID.round, (round) => put({ round }))}
        />
        <QuantityField
          label="Probe’s ball"
          kind="length"
          value={settings.ballMm}
          units={units}
          onValue={(v) => takePositive(v, 20, (ballMm) => put({ ballMm }))}
        />
        <QuantityField
          label="Sought within"
          kind="length"
          value={settings.searchMm}
          units={units}
          onValue={(v) => takePositive(v, 50, (searchMm) => put({ searchMm }))}
        />
        <QuantityField
          label="Probing feed"
          kind="feed"
          value={settings.feedMmPerMin}
          units={units}
          onValue={(v) => takePositive(v, machine.maxFeedMmPerMin, (feedMmPerMin) => put({ feedMmPerMin }))}
        />
        <QuantityField
          label="Probe’s number"
          kind="number"
          value={settings.toolNumber}
          units={units}
          onValue={(v) => takeCount(v, 999, (toolNumber) => put({ toolNumber }))}
        />
      </div>
      <div className="d-flex gap-2 flex-wrap mt-2 mb-2">
        <Button size="sm" variant="outline-primary" onClick={takeProgram}>
          <DownloadSimpleIcon size={15} /> Probing program
        </Button>
        <FileButton
          accept=".txt,.csv,.log,.ngc,.nc"
          label="Log of the probe"
          size="sm"
          variant="outline-primary"
          onFiles={([f]) => void takeResults(f!)}
        >
          <UploadSimpleIcon size={15} /> Log of the probe
        </FileButton>
        <TouchOnRunner
          setup={setup}
          settings={settings}
          onTouches={(text) => takeText(text, 'The log of the simulated machine', 0)}
          onFailure={(line) => setTold({ wrong: true, lines: [line] })}
        />
        <Button size="sm" variant="outline-secondary" disabled={count > MOST_TYPED} onClick={() => setTyping(!typing)}>
          {typing ? 'Done typing' : 'Type it'}
        </Button>
      </div>
      {told && (
        <div className={told.wrong ? 'wrong-text text-danger small' : 'why'} role={told.wrong ? 'alert' : 'status'}>
          {told.lines.map((line) => (
            <p key={line} className="mb-1">
              {line}
            </p>
          ))}
          {told.accept && (
            <Button size="sm" variant="link" className="p-0" onClick={told.accept}>
              It really is so: take it as touched
            </Button>
          )}
        </div>
      )}
      {typing && (
        <TypedTable
          key={JSON.stringify(settings.within)}
          setup={setup}
          grid={settings}
          measured={measured}
          keep={(mm) => keep(createMeasured(setup, settings, mm))}
        />
      )}
      {measured && <Shown measured={measured} isOther={measured.blank !== hashBlank(blank)} keep={keep} />}
    </>
  );
}

/** What was measured: in words, as a chart of rings or across, as a map. */
function Shown({ measured, isOther, keep }: { measured: Measured; isOther: boolean; keep(next: Measured | null): void }) {
  const { blank, units } = useJob();
  const surface = useSurface();
  const figures = useMemo(() => measureFigures(measured, surface), [measured, surface]);
  const words = describeMeasured(figures, blank, (mm) => formatLengthUnit(mm, units).replace('-', '−'));
  return (
    <section aria-label="The blank as measured">
      {isOther && <p className="text-danger small">The blank was changed since it was measured: measure it again.</p>}
      <Tick label="Passes follow it" checked={measured.follows} onValue={(follows) => keep({ ...measured, follows })} />
      <ul className="plain-list small">
        {words.map(({ text, urgent }) => (
          <li key={text} className={urgent ? 'text-danger' : ''}>
            {text}
          </li>
        ))}
      </ul>
      <RoundChart measured={measured} surface={surface} units={units} />
      <MeasuredMap measured={measured} surface={surface} units={units} />
      <Button size="sm" variant="link" className="p-0 text-secondary" onClick={() => keep(null)}>
        Forget what was measured
      </Button>
    </section>
  );
}

function takeCount(v: number, most: number, put: (v: number) => null): string | null {
  return Number.isInteger(v) && v >= 1 && v <= most ? put(v) : `must be a whole number from 1 to ${most}`;
}

function takePositive(v: number, most: number, put: (v: number) => null): string | null {
  return v > 0 && v <= most ? put(v) : `must be more than 0 and at most ${most}`;
}
