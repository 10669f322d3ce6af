'use client';

import type { RemovalState } from '../state/useRemoval';
import type { Finding } from '../../core/findings/finding';
import type { Machine, Tool } from '../../core/job/schema';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { useView } from '../state/benchStore';
import type { Planning } from '../state/usePlanning';
import type { FontCard } from '../../core/lettering/fontCard';
import { BlankPanel } from './panels/BlankPanel';
import { CutsPanel } from './panels/CutsPanel';
import { FindingList } from './FindingList';
import { LayPanel } from './panels/LayPanel';
import { LetteringPanel } from './panels/lettering/LetteringPanel';
import { ProgramPanel } from './panels/ProgramPanel';
import { ProofPanel } from './panels/ProofPanel';

export interface InspectorProps {
  id: string;
  lettering: LetteringView | null;
  plan: PlanView | null;
  stale: boolean;
  planning: Planning;
  findings: readonly Finding[];
  removal: RemovalState;
  crib: readonly Tool[];
  absent: ReadonlySet<string>;
  machines: readonly Machine[];
  fonts: readonly FontCard[];
}

/** The chosen station's properties. */
export function Inspector(props: InspectorProps) {
  const station = useView((v) => v.station);
  const own = props.findings.filter((f) => f.where.station === station);
  return (
    <aside className="inspector" aria-label="Inspector" data-testid="inspector">
      {station === 'blank' && <BlankPanel machines={props.machines} lettering={props.lettering} />}
      {station === 'lettering' && <LetteringPanel lettering={props.lettering} plan={props.stale ? null : props.plan} fonts={props.fonts} />}
      {station === 'lay' && <LayPanel lettering={props.lettering} />}
      {station === 'cuts' && (
        <CutsPanel
          crib={props.crib}
          absent={props.absent}
          plan={props.stale ? null : props.plan}
          lettering={props.lettering}
          findings={own}
        />
      )}
      {station === 'proof' && (
        <ProofPanel plan={props.stale ? null : props.plan} findings={props.findings} planning={props.planning} take={props.removal.take} />
      )}
      {station === 'program' && (
        <ProgramPanel
          plan={props.stale ? null : props.plan}
          lettering={props.lettering}
          findings={props.findings}
          planning={props.planning}
          removal={props.removal}
        />
      )}
      {station !== 'proof' && station !== 'program' && own.length > 0 && (
        <>
          <h3>Findings here</h3>
          <FindingList findings={own} />
        </>
      )}
    </aside>
  );
}
