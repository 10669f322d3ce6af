import Form from 'react-bootstrap/Form';
import { getMount } from '../../../../core/job/blankText';
import { isRoundBlank, type Blank } from '../../../../core/job/schema';
import { getTitle } from '../../../../core/job/title';
import { getLengthMm, getWidthMm, type Zero } from '../../../../core/job/zero';
import { getTable } from '../../../../core/machine/layouts/edit';
import { getLayout } from '../../../../core/machine/layouts/registry';
import { listZeroWords } from '../../../../core/machine/zeroText';
import { Choice } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useBench, useJob } from '../../../state/benchStore';

/** What each way of zeroing means, and when it may be used. */
export function ZeroFields({ blank, put }: { blank: Blank; put(name: string, next: Blank): string | null }) {
  const choices: readonly [string, string, string][] = isRoundBlank(blank)
    ? [
        ['axis', 'Z zero on the axis of rotation', 'The axis stays where it is however the blank turns: safe for any blank.'],
        [
          'surface',
          blank.kind === 'cylinder' ? 'Z zero on the surface' : 'Z zero on the largest diameter',
          'Only a truly round blank may be zeroed on its surface: where it runs out of round, the depth is off by as much.',
        ],
      ]
    : blank.kind === 'free'
      ? ([
          ['surface', 'Z zero on the picked place', 'Touch off where the marker stands.'],
          ...(blank.mount === 'rotary' ? [['axis', 'Z zero on the axis of rotation', 'Safe however the piece turns.'] as const] : []),
        ] as [string, string, string][])
      : blank.kind === 'arched' && blank.mount === 'rotary'
        ? [
            ['axis', 'Z zero on the axis of rotation', 'Safe however the piece turns.'],
            ['surface', 'Z zero on the crown', 'Touch off on the middle line.'],
          ]
        : [
            [
              'surface',
              'Z zero on the face',
              blank.kind === 'plate' && blank.inclineDeg !== 0
                ? 'Touch off on the middle of the datum edge: an inclined face is nowhere else as high.'
                : 'Touch off on the middle of the datum edge.',
            ],
            ['table', 'Z zero on the table', 'The thickness then counts: measure it.'],
          ];
  const zero: string = blank.zero;
  return (
    <>
      <h3>Zero</h3>
      {choices.map(([value, label]) => (
        <Form.Check
          key={value}
          type="radio"
          id={`zero-${value}`}
          label={label}
          checked={zero === value}
          onChange={() => put('zero', { ...blank, zero: value } as Blank)}
        />
      ))}
      <p className="why">{choices.find(([value]) => value === zero)?.[2]}</p>
      <WordZeros blank={blank} />
    </>
  );
}

const ALONG = {
  datum: ['the datum end', 'Touch the face of the chuck, or the end that it holds.'],
  middle: ['the middle of its length', 'Good where both ends are rough or held: measure the length, and halve it.'],
  far: ['the far end', 'Good where the datum end is in the chuck: touch the free face.'],
} as const;
const ALONG_LYING = {
  datum: ['the datum edge', 'An edge is quickly touched, and clamps are near it: mind the first rapid.'],
  middle: ['the middle of its length', 'Clear of all clamps: measure the length, and halve it.'],
  far: ['the far edge', 'An edge is quickly touched, and clamps are near it: mind the first rapid.'],
} as const;
const ACROSS = {
  low: ['the lower edge', 'With an edge along that makes a corner, the surest place to come back to.'],
  middle: ['the middle', 'A board that bows is highest in its middle: touch Z there too.'],
  high: ['the upper edge', 'With an edge along that makes a corner, the surest place to come back to.'],
} as const;

/** Where the words along, across and of the rotary are 0. */
function WordZeros({ blank }: { blank: Blank }) {
  const bench = useBench();
  const job = useJob();
  const { machine, zero, inscriptions, units } = job;
  const put = (patch: Partial<Zero>) => bench.edit(`zero ${Object.keys(patch).join()}`, (j) => ({ ...j, zero: { ...j.zero, ...patch } }));
  const layout = getLayout(machine.layout);
  const along = layout.along(machine.layout, getMount(blank));
  const rotary = getMount(blank) === 'rotary' ? layout.turning(machine.layout) : null;
  const alongs = getMount(blank) === 'rotary' ? ALONG : ALONG_LYING;
  const seam = 'seamDeg' in blank ? blank.seamDeg : null;
  const turns: [label: string, deg: number][] = [
    ['at turn 0', 0],
    ...(seam === null ? [] : [['at the seam', seam] as [string, number]]),
    ...inscriptions.slice(0, MOST_PLACES).map((i) => [`at "${getTitle(i)}"`, i.at.turnDeg] as [string, number]),
  ];
  return (
    <>
      <div className="fields">
        {getLengthMm(blank) !== null && (
          <Choice label={`${along} zero at`} value={zero.along} options={toOptions(alongs)} onValue={(v) => put({ along: v })} />
        )}
        {getWidthMm(blank) !== null && (
          <Choice
            label={`${along === 'X' ? 'Y' : 'X'} zero at`}
            value={zero.across}
            options={toOptions(ACROSS)}
            onValue={(v) => put({ across: v })}
          />
        )}
        {rotary && (
          <>
            <QuantityField
              label={`${rotary.letter} zero at turn`}
              kind="angle"
              value={zero.turnDeg}
              units={units}
              onValue={(turnDeg) => put({ turnDeg })}
            />
            <Choice
              label="or where"
              value={String(turns.findIndex(([, deg]) => deg === zero.turnDeg))}
              options={[
                ...(turns.some(([, deg]) => deg === zero.turnDeg) ? [] : [['-1', 'at a mark'] as const]),
                ...turns.map(([label], k) => [String(k), label] as const),
              ]}
              onValue={(k) => put({ turnDeg: turns[Number(k)]![1] })}
            />
          </>
        )}
      </div>
      {getTable(machine.layout) && <CentreFields round={rotary !== null} />}
      <p className="why">
        {listZeroWords(job)
          .map(({ letter, where }) => `${letter} is zero ${where}`)
          .join('; ')}
        . {getLengthMm(blank) !== null && alongs[zero.along][1]} {getWidthMm(blank) !== null && ACROSS[zero.across][1]}
      </p>
    </>
  );
}

/** Where the axes of a table that tilts meet, from the zero. */
function CentreFields({ round }: { round: boolean }) {
  const bench = useBench();
  const { zero, units, machine } = useJob();
  const centre = zero.centreMm ?? { xMm: 0, yMm: 0, zMm: 0 };
  const put = (patch: Partial<typeof centre>) =>
    bench.edit(`zero ${Object.keys(patch).join()}`, (j) => ({ ...j, zero: { ...j.zero, centreMm: { ...centre, ...patch } } }));
  const fields = round ? (['zMm'] as const) : (['xMm', 'yMm', 'zMm'] as const);
  return (
    <>
      <div className="fields">
        {fields.map((key) => (
          <QuantityField
            key={key}
            label={`Axes meet at ${key[0]!.toUpperCase()}`}
            kind="length"
            value={centre[key]}
            units={units}
            onValue={(mm) => put({ [key]: mm })}
          />
        ))}
      </div>
      <p className="why">
        {zero.centreMm === null ? 'Not measured yet. ' : ''}
        Where the axes of the table meet, or its own is as high as the tilt’s, as the words read it from this zero with the table level: the
        control’s own offset of the table, less the zero of the work
        {round ? '. A round blank stands on the axis of the table, so that Z alone counts' : ''}.
        {machine.dialect === 'tool-point' ? ' This machine’s control knows it by itself: here it is for limits, times and collisions.' : ''}
      </p>
    </>
  );
}

/** Inscriptions that are offered as a place of the rotary's zero. */
const MOST_PLACES = 12;

/** Choices with what each is good for, as a field shows them. */
const toOptions = <T extends string>(choices: Readonly<Record<T, readonly [name: string, why: string]>>): (readonly [T, string])[] =>
  (Object.keys(choices) as T[]).map((key) => [key, choices[key][0]] as const);
