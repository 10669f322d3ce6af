import { roundTo } from '../../../core/base/round';
import { toTurnDeg, type Surface } from '../../../core/surface/surface';
import type { Bench } from '../../state/benchStore';
import { changeEach } from '../../state/selection';

const NUDGE_MM = 0.1;
/** Decimals that places keep when they are moved by keys, mm and degrees. */
const PLACE_DECIMALS = 6;

/** How far an arrow key moves lettering on the sheet, mm; null for other keys. Alt goes fine, Shift goes far. */
export function toNudge(key: string, { shift, alt }: { shift: boolean; alt: boolean }): readonly [dx: number, dy: number] | null {
  const step = shift ? 10 * NUDGE_MM : alt ? NUDGE_MM / 10 : NUDGE_MM;
  switch (key) {
    case 'ArrowLeft':
      return [-step, 0];
    case 'ArrowRight':
      return [step, 0];
    case 'ArrowUp':
      return [0, step];
    case 'ArrowDown':
      return [0, -step];
    default:
      return null;
  }
}

/** An arrow key as it points on a sheet that is turned by a quarter. */
const TURNED: Record<string, string> = { ArrowRight: 'ArrowUp', ArrowLeft: 'ArrowDown', ArrowUp: 'ArrowLeft', ArrowDown: 'ArrowRight' };

/** Moves what is selected by an arrow key, as it points on the screen. */
export function nudge(event: React.KeyboardEvent, bench: Bench, surface: Surface, turned: boolean): void {
  const move = toNudge(turned ? (TURNED[event.key] ?? event.key) : event.key, { shift: event.shiftKey, alt: event.altKey });
  const { selection } = bench.view.getState();
  if (!move || selection.length === 0) return;
  event.preventDefault();
  bench.edit(
    'nudge',
    changeEach(selection, ({ at }) => ({
      at: {
        xMm: roundTo(at.xMm + move[0], PLACE_DECIMALS),
        turnDeg: roundTo(at.turnDeg + toTurnDeg(surface, move[1]), PLACE_DECIMALS),
      },
    })),
  );
}
