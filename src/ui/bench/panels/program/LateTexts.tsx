'use client';

import type { ComponentProps } from 'react';
import { Button } from '../../../common/Button';
import { useLate, type Late } from '../../../common/useLate';
import type * as Texts from './texts';

/** The code that shows texts is as large as all the rest of the panels, and none of it is needed before the program is looked at. */
const loadTexts = (): Promise<typeof Texts> => import('./texts');

/** Fetches it ahead, so that it is there when it is wanted; where it does not come now it is fetched when it is. */
export const warmTexts = (): void => void loadTexts().catch(() => null);

function Waiting({ late: { failed, again } }: { late: Late<unknown> }) {
  return (
    <div className="program-text" aria-busy={!failed}>
      {failed && (
        <p className="why" role="status">
          The text cannot be shown: Hobel’s server does not answer. The program itself is whole, and may be downloaded.{' '}
          <Button size="sm" variant="link" className="p-0" onClick={again}>
            Try again
          </Button>
        </p>
      )}
    </div>
  );
}

export function LateProgramText(props: Texts.ProgramTextProps) {
  const late = useLate(loadTexts);
  return late.value ? <late.value.ProgramText {...props} /> : <Waiting late={late} />;
}

export function LateDifference(props: ComponentProps<typeof Texts.TextDifference>) {
  const late = useLate(loadTexts);
  return late.value ? <late.value.TextDifference {...props} /> : <Waiting late={late} />;
}
