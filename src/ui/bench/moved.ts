import type { Inscription } from '../../core/job/schema';
import type { InscriptionView } from '../../workers/planning.client';

/** How far an inscription was moved since it was set: along, mm, and round, degrees. On a guide its place does not count. */
export function findMove(view: InscriptionView, inscription: Inscription | undefined): { dxMm: number; dTurnDeg: number } {
  if (!inscription || (inscription.kind === 'text' && inscription.onGuide)) return { dxMm: 0, dTurnDeg: 0 };
  return { dxMm: inscription.at.xMm - view.at.xMm, dTurnDeg: inscription.at.turnDeg - view.at.turnDeg };
}
