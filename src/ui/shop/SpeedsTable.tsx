import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import Form from 'react-bootstrap/Form';
import { roundTo } from '../../core/base/round';
import { chooseCuttingData, getWorkingDiameterMm, toChipMm, toSurfaceMPerMin } from '../../core/crib/speeds';
import { MATERIALS, type CuttingData, type Machine, type Material, type Tool } from '../../core/job/schema';
import { Button } from '../common/Button';
import type { Units } from '../common/format';
import { QuantityField } from '../common/QuantityField';
import type { QuantityKind } from '../common/quantity';

const QUANTITIES = { spindleRpm: 'number', feedMmPerMin: 'feed', plungeMmPerMin: 'feed', stepDownMm: 'length' } as const;

interface Props {
  tool: Tool;
  machine: Pick<Machine, 'maxSpindleRpm' | 'maxFeedMmPerMin'>;
  units: Units;
  onData(data: CuttingData[]): string | null;
}

/** A chip thinner than this rubs, mm; a rim faster than this is more than carbide in metal bears, m/min. Common practice, no source. */
const THIN_CHIP_MM = 0.002;
const FAST_M_PER_MIN: Record<Material, number> = {
  brass: 400,
  bronze: 250,
  steel: 150,
  aluminium: 800,
  slate: 200,
  maple: 2500,
  acrylic: 800,
};

/** Speeds of a cutter by material, with what follows from them: speed at the rim and at half of the depth, chip a tooth. */
export function SpeedsTable({ tool, machine, units, onData }: Props) {
  const { cuttingData } = tool;
  const free = MATERIALS.filter((m) => !cuttingData.some((d) => d.material === m));
  const change = (k: number, patch: Partial<CuttingData>) => onData(cuttingData.map((d, i) => (i === k ? { ...d, ...patch } : d)));
  const add = (material: Material) => {
    const { spindleRpm, feedMmPerMin, plungeMmPerMin, stepDownMm, stepOverShare } = chooseCuttingData(
      { ...tool, cuttingData: [] },
      material,
      machine,
    );
    onData([...cuttingData, { material, spindleRpm, feedMmPerMin, plungeMmPerMin, stepDownMm, stepOverShare }]);
  };
  return (
    <>
      <table className="list mb-2">
        <thead>
          <tr>
            <th>Material</th>
            <th>rev/min</th>
            <th>Feed, {units}/min</th>
            <th>Plunge</th>
            <th>Step down, {units}</th>
            <th>Step over, %</th>
            <th>Rim, m/min</th>
            <th>Chip, mm</th>
            <th>
              <span className="visually-hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {cuttingData.map((d, k) => (
            <tr key={d.material}>
              <td>{d.material}</td>
              {(Object.entries(QUANTITIES) as [keyof typeof QUANTITIES, QuantityKind][]).map(([key, kind]) => (
                <td key={key} style={{ maxWidth: 110 }}>
                  <QuantityField
                    kind={kind}
                    units={units}
                    value={d[key]}
                    ariaLabel={`${key} in ${d.material}`}
                    onValue={(v) => change(k, { [key]: v })}
                  />
                </td>
              ))}
              <td style={{ maxWidth: 80 }}>
                <QuantityField
                  kind="number"
                  units="mm"
                  value={roundTo(100 * d.stepOverShare, 4)}
                  ariaLabel={`step over in ${d.material}`}
                  onValue={(v) => change(k, { stepOverShare: v / 100 })}
                />
              </td>
              <Derived tool={tool} data={d} most={machine.maxSpindleRpm} />
              <td>
                <Button
                  variant="link"
                  className="p-0 text-secondary"
                  aria-label={`Remove the speeds in ${d.material}`}
                  onClick={() => onData(cuttingData.filter((_, i) => i !== k))}
                >
                  <TrashIcon size={15} />
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {free.length > 0 && (
        <Form.Select size="sm" style={{ maxWidth: 260 }} aria-label="Add speeds" value="" onChange={(e) => add(e.target.value as Material)}>
          <option value="">Add speeds in a material, by rule …</option>
          {free.map((m) => (
            <option key={m} value={m}>
              {m}
            </option>
          ))}
        </Form.Select>
      )}
      {cuttingData.length === 0 && (
        <p className="why mt-1">
          <PlusIcon size={12} /> Without speeds of its own a new cut takes them by rule from the material, the diameter at work and the
          machine.
        </p>
      )}
    </>
  );
}

/** What follows from a set of speeds, and a warning where it asks too much. */
function Derived({ tool, data, most }: { tool: Tool; data: CuttingData; most: number }) {
  const chip = toChipMm(data.feedMmPerMin, data.spindleRpm, tool.flutes);
  const rim = toSurfaceMPerMin(getWorkingDiameterMm(tool, data.stepDownMm), data.spindleRpm);
  const half = toSurfaceMPerMin(getWorkingDiameterMm(tool, data.stepDownMm / 2), data.spindleRpm);
  const fast = rim > FAST_M_PER_MIN[data.material],
    thin = chip < THIN_CHIP_MM,
    over = data.spindleRpm > most;
  const words = [
    fast && 'the rim is faster than the material bears',
    thin && 'the chip is thinner than an edge is sharp',
    over && 'the machine turns slower',
  ];
  return (
    <>
      <td className={`num${fast || over ? ' text-danger' : ''}`} title={`${roundTo(half, 0)} m/min at half of the step`}>
        {roundTo(rim, 0)}
      </td>
      <td className={`num${thin ? ' text-danger' : ''}`}>
        {roundTo(chip, 4)}
        {(fast || thin || over) && <span className="visually-hidden">: {words.filter(Boolean).join(', ')}</span>}
      </td>
    </>
  );
}
