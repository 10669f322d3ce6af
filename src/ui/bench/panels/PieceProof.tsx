import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { toFileStem } from '../../../core/base/fileStem';
import type { Job } from '../../../core/job/schema';
import { getTitle } from '../../../core/job/title';
import type { LetterWidth } from '../../../core/removal/truth';
import { AS_PLANNED, isAsPlanned, type WhatIf } from '../../../core/removal/whatIf';
import { Button } from '../../common/Button';
import { Fold } from '../../common/fields';
import { formatLength } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { saveFile } from '../../common/saveFile';
import type { TakenFile } from '../../../workers/planning.client';
import type { CapturedView } from '../capture';
import { Judged } from './Judged';
import type { RemovalState } from '../../state/useRemoval';
import { useBench, useJob, useView } from '../../state/benchStore';
import type { Piece } from '../../state/piece';

/** A letter cut this much of its width wider or narrower is marked, or this many mm. */
const WIDTH_SHARE = 0.1;
const WIDTH_MM = 0.05;
/** Letters named in a line. */
const MAX_NAMED = 20;
/** Letters listed; the rest are counted. */
const MAX_LISTED = 60;
/** Largest values that can be asked about, mm. */
const MOST_MM = 2;

/** What the program's text leaves of the blank, measured cell by cell; and what if the machine is not as the job says. */
export function PieceProof({ piece, take }: { piece: Piece; take: RemovalState['take'] }) {
  const job = useJob();
  const { units } = job;
  const { truth, figures, whatIf, verdict, plan, foreign } = piece;
  // Worked out along the outlines for the job's own program as planned; of any other piece the cells tell.
  const isEdgeKnown = plan.edge !== null && !foreign && isAsPlanned(whatIf);
  const bench = useBench();
  const comparing = useView((v) => v.comparing);
  const um = (v: number, digits = 1) => `${v.toFixed(digits)} µm`;
  const lost = [
    sayLetters(
      truth.letters.filter((l) => !(l.cutMm > 0)),
      'vanishes',
      'vanish',
    ),
    sayLetters(
      truth.letters.filter((l) => l.through),
      'breaks through',
      'break through',
    ),
  ].filter((s) => s !== null);
  const changed = truth.letters.filter(isOff).length;
  return (
    <>
      <h3>The piece as it is cut</h3>
      {verdict && <Judged verdict={verdict} />}
      <table className="figures" data-testid="piece-figures">
        <tbody>
          {truth.edge && !isEdgeKnown && (
            <>
              <tr>
                <td>Edge outside, at most</td>
                <td>
                  {um(truth.edge.maxOutsideUm)} ± {um(2 * truth.errorUm, 0)}
                </td>
              </tr>
              <tr>
                <td>Left inside, 95 % within</td>
                <td>
                  {um(truth.edge.uncut95Um)} ± {um(2 * truth.errorUm, 0)}
                </td>
              </tr>
            </>
          )}
          {truth.floor && (
            <tr>
              <td>Lines deeper, shallower than asked</td>
              <td>
                {truth.floor.maxDeepUm.toFixed(1)}, {um(truth.floor.maxShallowUm)}
              </td>
            </tr>
          )}
          {truth.corners && (
            <tr>
              <td>Sharp corners reached to within</td>
              <td>{um(truth.corners.maxShortUm, 0)}</td>
            </tr>
          )}
          {truth.area && (
            <tr>
              <td>Inside the outlines, not cut</td>
              <td>
                {truth.area.unreachedMm2.toFixed(truth.area.unreachedMm2 < 10 ? 2 : 0)} of {truth.area.drawnMm2.toFixed(0)} mm²
              </td>
            </tr>
          )}
          <tr>
            <td>Deepest</td>
            <td>
              {formatLength(figures.deepestMm, units)} {units}
            </td>
          </tr>
          <tr>
            <td>Taken away</td>
            <td>{truth.volumeMm3.toFixed(1)} mm³</td>
          </tr>
        </tbody>
      </table>
      {lost.length > 0 && (
        <p className="wrong-text text-danger" data-testid="lost-letters">
          {lost.join('; ')}.
        </p>
      )}
      <Fold title="How it was measured" brief={`cells of ${(1000 * figures.cellMm).toFixed(0)} µm`}>
        <p className="why">
          From the program’s own text, swept over cells of {(1000 * figures.cellMm).toFixed(0)} µm. By the cells alone an edge is good to{' '}
          {(2 * truth.errorUm).toFixed(0)} µm here, to less on sloping walls
          {truth.edge && isEdgeKnown
            ? `: they show it ${um(truth.edge.maxOutsideUm)} outside at most, and 95 % of it within ${um(truth.edge.uncut95Um)} inside. The edge below is worked out along the outlines themselves, and is the better figure`
            : ''}
          .
        </p>
      </Fold>
      {truth.edge && (
        <Form.Check
          id="compare-piece"
          label="Show on the sheet what is left inside and cut outside"
          checked={comparing}
          onChange={(e) => bench.view.setState({ comparing: e.target.checked })}
        />
      )}
      {truth.letters.length > 0 && (
        <Fold
          title="Stroke widths"
          brief={changed ? `${changed} of ${truth.letters.length} letters off` : `${truth.letters.length} letters`}
        >
          <Widths letters={truth.letters} job={job} />
        </Fold>
      )}
      <Fold title="What if" brief={isAsPlanned(whatIf) ? 'as planned' : describe(whatIf, job)} open={!isAsPlanned(whatIf)}>
        <WhatIfFields />
      </Fold>
      <Fold title="Take it away" brief="solids, pictures, depth map">
        <TakeAway take={take} />
      </Fold>
    </>
  );
}

/** Letters that are lost in one way, in a few words; null for none. */
function sayLetters(letters: readonly LetterWidth[], one: string, many: string): string | null {
  if (letters.length === 0) return null;
  const shown = letters.slice(0, MAX_NAMED).map((l) => l.text || 'a part');
  const more = letters.length > MAX_NAMED ? ` and ${letters.length - MAX_NAMED} more` : '';
  return `${shown.join(' ')}${more} ${letters.length === 1 ? one : many}`;
}

const isOff = ({ drawnMm, cutMm }: LetterWidth): boolean => Math.abs(cutMm - drawnMm) > Math.min(WIDTH_MM, WIDTH_SHARE * drawnMm);

function Widths({ letters, job }: { letters: readonly LetterWidth[]; job: Job }) {
  const { units } = job;
  // The farthest off first.
  const sorted = [...letters].sort((a, b) => Math.abs(b.cutMm - b.drawnMm) - Math.abs(a.cutMm - a.drawnMm));
  const titleOf = new Map(job.inscriptions.map((i) => [i.id, getTitle(i)]));
  return (
    <table className="figures widths">
      <thead>
        <tr>
          <th scope="col">Letter</th>
          <th scope="col">drawn</th>
          <th scope="col">cut, {units}</th>
        </tr>
      </thead>
      <tbody>
        {sorted.slice(0, MAX_LISTED).map((l, k) => (
          <tr key={k} className={isOff(l) ? 'off' : undefined} title={titleOf.get(l.inscription)}>
            <td>{l.text || 'a part'}</td>
            <td>{formatLength(l.drawnMm, units)}</td>
            <td>{l.cutMm > 0 ? formatLength(l.cutMm, units) : 'gone'}</td>
          </tr>
        ))}
      </tbody>
      {sorted.length > MAX_LISTED && <caption>and {sorted.length - MAX_LISTED} more, nearer to their drawing</caption>}
    </table>
  );
}

function describe(whatIf: WhatIf, { units }: Job): string {
  const parts = [
    whatIf.zeroMm !== 0 ? `zero ${formatLength(Math.abs(whatIf.zeroMm), units)} ${units} too ${whatIf.zeroMm > 0 ? 'high' : 'low'}` : '',
    whatIf.outOfRoundMm !== 0 ? `${formatLength(whatIf.outOfRoundMm, units)} ${units} out of round` : '',
    whatIf.wornMm !== 0 ? `tip worn to ${formatLength(whatIf.wornMm, units)} ${units}` : '',
  ];
  return parts.filter(Boolean).join(', ');
}

/** What the machine may be otherwise: the piece is cut anew with it, and nothing of the job changes. */
function WhatIfFields() {
  const bench = useBench();
  const { units, blank } = useJob();
  const whatIf = useView((v) => v.whatIf);
  const set = (patch: Partial<WhatIf>, least: number): string | null => {
    const value = Object.values(patch)[0]!;
    if (value < least || value > MOST_MM)
      return `give a length from ${formatLength(least, units)} to ${formatLength(MOST_MM, units)} ${units}`;
    bench.view.setState({ whatIf: { ...whatIf, ...patch } });
    return null;
  };
  const round = blank.kind === 'cylinder' || blank.kind === 'cone' || blank.kind === 'turned';
  return (
    <>
      <div className="fields">
        <QuantityField
          label="Zero too high by"
          kind="length"
          value={whatIf.zeroMm}
          units={units}
          onValue={(v) => set({ zeroMm: v }, -MOST_MM)}
        />
        {round && (
          <QuantityField
            label="Out of round by"
            kind="length"
            value={whatIf.outOfRoundMm}
            units={units}
            onValue={(v) => set({ outOfRoundMm: v }, 0)}
          />
        )}
        <QuantityField label="V tips worn to" kind="length" value={whatIf.wornMm} units={units} onValue={(v) => set({ wornMm: v }, 0)} />
      </div>
      <p className="why">
        The views and the widths above show the piece as it would come out. A negative height is a zero taken too low, and everything is cut
        deeper.{' '}
        {!isAsPlanned(whatIf) && (
          <Button size="sm" variant="link" className="p-0" onClick={() => bench.view.setState({ whatIf: AS_PLANNED })}>
            As planned again
          </Button>
        )}
      </p>
    </>
  );
}

const FILES: readonly (readonly [TakenFile, string, string, string])[] = [
  ['stl', 'Solid, STL', 'stl', 'model/stl'],
  ['3mf', 'Solid, 3MF', '3mf', 'model/3mf'],
  ['depth', 'Depth map, PNG', 'png', 'image/png'],
];
const MIN_TOLERANCE_MM = 0.002;
const PICTURE_WIDTHS = [1000, 2000, 4000];

/** The piece as it stands at the playhead, as files. */
function TakeAway({ take }: { take: RemovalState['take'] }) {
  const job = useJob();
  const { units } = job;
  const [toleranceMm, setToleranceMm] = useState(0.02);
  const [whole, setWhole] = useState(true);
  const [widthPx, setWidthPx] = useState(2000);
  const [note, setNote] = useState<string | null>(null);
  const { captures } = useBench();
  const picture = async (view: CapturedView) => {
    const blob = await captures.get(view)?.(widthPx);
    setNote(blob ? null : 'There is nothing to be seen there yet.');
    if (blob) saveFile(`${toFileStem(job.name, 'piece')}-${view}.png`, blob);
  };
  const save = async ([what, , ending, type]: (typeof FILES)[number]) => {
    setNote('Working …');
    const { bytes, refusal } = await take(what, toleranceMm, whole);
    setNote(refusal && `There is no file: ${refusal}.`);
    if (bytes) saveFile(`${toFileStem(job.name, 'piece')}.${ending}`, new Blob([bytes], { type }));
  };
  return (
    <>
      <QuantityField
        label="Solid true to about"
        kind="length"
        value={toleranceMm}
        units={units}
        onValue={(v) => {
          if (v < MIN_TOLERANCE_MM || v > MOST_MM)
            return `give a length from ${formatLength(MIN_TOLERANCE_MM, units)} to ${formatLength(MOST_MM, units)} ${units}`;
          setToleranceMm(v);
          return null;
        }}
      />
      <Form.Group controlId="solid-of" className="mb-2">
        <Form.Label>Solid of</Form.Label>
        <Form.Select size="sm" value={whole ? 'whole' : 'patch'} onChange={(e) => setWhole(e.target.value === 'whole')}>
          <option value="whole">the whole blank</option>
          <option value="patch">the lettered patch</option>
        </Form.Select>
      </Form.Group>
      <div className="d-flex gap-2 my-2 flex-wrap">
        {FILES.map((f) => (
          <Button key={f[0]} size="sm" variant="outline-primary" onClick={() => void save(f)}>
            {f[1]}
          </Button>
        ))}
      </div>
      <div className="d-flex gap-2 my-2 flex-wrap align-items-center">
        <Button size="sm" variant="outline-primary" onClick={() => void picture('blank')}>
          Picture of the blank
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => void picture('sheet')}>
          of the sheet
        </Button>
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label="Width of pictures"
          value={widthPx}
          onChange={(e) => setWidthPx(Number(e.target.value))}
        >
          {PICTURE_WIDTHS.map((w) => (
            <option key={w} value={w}>
              {w} px wide
            </option>
          ))}
        </Form.Select>
      </div>
      {note && (
        <p className="why" role="status">
          {note}
        </p>
      )}
      <p className="why">
        {whole ? 'The blank less what is cut' : 'The lettered patch, closed by a floor and walls'}, as it stands at the playhead. In the
        depth map the brightest grey is {formatLength(useDeepest(), units)} {units} deep.
      </p>
    </>
  );
}

const useDeepest = (): number => useView((v) => v.piece?.figures.deepestMm ?? 0);
