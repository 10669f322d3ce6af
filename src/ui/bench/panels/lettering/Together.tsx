'use client';

import {
  AlignBottomIcon,
  AlignCenterHorizontalIcon,
  AlignCenterVerticalIcon,
  AlignLeftIcon,
  AlignRightIcon,
  AlignTopIcon,
  ArrowsHorizontalIcon,
  ArrowsVerticalIcon,
  LinkBreakIcon,
  LinkIcon,
  type Icon,
} from '@phosphor-icons/react';
import type { Box } from '../../../../core/base/rings';
import type { Job } from '../../../../core/job/schema';
import type { LetteringView } from '../../../../workers/planning.client';
import { freeId, useBench, useJob, useView } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';
import { selectOnly } from '../../../state/selection';

type Move = (boxes: readonly Box[]) => { dx: number; dy: number }[];
const all = (boxes: readonly Box[]): Box =>
  boxes.reduce((a, b) => ({
    minX: Math.min(a.minX, b.minX),
    minY: Math.min(a.minY, b.minY),
    maxX: Math.max(a.maxX, b.maxX),
    maxY: Math.max(a.maxY, b.maxY),
  }));

/** Equal gaps between the boxes in the order they stand; the outer two stay. */
const spread =
  (axis: 'x' | 'y'): Move =>
  (boxes) => {
    const [lo, hi] = axis === 'x' ? (['minX', 'maxX'] as const) : (['minY', 'maxY'] as const);
    const order = boxes.map((_, i) => i).sort((a, b) => boxes[a]![lo] + boxes[a]![hi] - boxes[b]![lo] - boxes[b]![hi]);
    const total = boxes.reduce((sum, b) => sum + b[hi] - b[lo], 0);
    const first = boxes[order[0]!]!,
      last = boxes[order[order.length - 1]!]!;
    const gap = (last[hi] - first[lo] - total) / Math.max(1, boxes.length - 1);
    const out = boxes.map(() => ({ dx: 0, dy: 0 }));
    let at = first[lo];
    for (const i of order) {
      const d = at - boxes[i]![lo];
      out[i] = axis === 'x' ? { dx: d, dy: 0 } : { dx: 0, dy: d };
      at += boxes[i]![hi] - boxes[i]![lo] + gap;
    }
    return out;
  };
const line =
  (pick: (b: Box) => number, axis: 'x' | 'y'): Move =>
  (boxes) => {
    const to = pick(all(boxes));
    return boxes.map((b) => (axis === 'x' ? { dx: to - pick(b), dy: 0 } : { dx: 0, dy: to - pick(b) }));
  };

const MOVES: readonly [string, Icon, Move][] = [
  ['Left edges in line', AlignLeftIcon, line((b) => b.minX, 'x')],
  ['Middles in line, along', AlignCenterHorizontalIcon, line((b) => (b.minX + b.maxX) / 2, 'x')],
  ['Right edges in line', AlignRightIcon, line((b) => b.maxX, 'x')],
  ['Upper edges in line', AlignTopIcon, line((b) => b.maxY, 'y')],
  ['Middles in line, round', AlignCenterVerticalIcon, line((b) => (b.minY + b.maxY) / 2, 'y')],
  ['Lower edges in line', AlignBottomIcon, line((b) => b.minY, 'y')],
  ['Equal gaps along', ArrowsHorizontalIcon, spread('x')],
  ['Equal gaps round', ArrowsVerticalIcon, spread('y')],
];

/** What is done to several inscriptions together: lining up, spreading, grouping. By their ink. */
export function Together({ lettering }: { lettering: LetteringView | null }) {
  const bench = useBench();
  const job = useJob();
  const selection = useView((v) => v.selection);
  const surface = useSurface();
  const chosen = job.inscriptions.filter((i) => selection.includes(i.id));
  if (chosen.length < 2) return null;
  const radPerMm = 1 / surface.mmPerRad;
  const run = (name: string, move: Move) => {
    const parts = chosen.flatMap((i) => {
      const box = lettering?.inscriptions.find((a) => a.id === i.id)?.box;
      return box && box.minX <= box.maxX ? [{ id: i.id, box, locked: i.locked }] : [];
    });
    if (parts.length < 2) return;
    const moves = new Map(move(parts.map((p) => p.box)).map((m, k) => [parts[k]!.id, parts[k]!.locked ? { dx: 0, dy: 0 } : m]));
    bench.edit(bench.nameStep(name), (j: Job) => ({
      ...j,
      inscriptions: j.inscriptions.map((i) => {
        const m = moves.get(i.id);
        return m ? { ...i, at: { xMm: i.at.xMm + m.dx, turnDeg: i.at.turnDeg + m.dy * radPerMm * (180 / Math.PI) } } : i;
      }),
    }));
  };
  const grouped = chosen.every((i) => i.group && i.group === chosen[0]!.group);
  const group = () => {
    const taken = job.inscriptions.filter((i) => i.group).map((i) => ({ id: i.group }));
    const name = grouped ? '' : freeId(taken, 'group');
    bench.edit(bench.nameStep('group'), (j: Job) => ({
      ...j,
      inscriptions: j.inscriptions.map((i) => (selection.includes(i.id) ? { ...i, group: name } : i)),
    }));
    selectOnly(bench, selection);
  };
  return (
    <div className="together" role="toolbar" aria-label="For those selected">
      <span className="why m-0">{chosen.length} selected</span>
      {MOVES.map(([name, MoveIcon, move]) => (
        <button key={name} type="button" title={name} aria-label={name} onClick={() => run(name, move)}>
          <MoveIcon size={16} />
        </button>
      ))}
      <button type="button" title={grouped ? 'Part the group' : 'Group'} aria-label={grouped ? 'Part the group' : 'Group'} onClick={group}>
        {grouped ? <LinkBreakIcon size={16} /> : <LinkIcon size={16} />}
      </button>
    </div>
  );
}
