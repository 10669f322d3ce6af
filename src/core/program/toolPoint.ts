import { LAYOUTS } from '../machine/layouts/registry';
import type { Dialect, Manner } from './dialect';
import { rs274Manner } from './rs274';
import { toolPointRules } from './toolPointRules';
import { writeProgram } from './writer';

/** As RS274/NGC, with the tip's place on the blank in X, Y and Z. Common practice of five-axis controls, no source. */
const manner: Manner = { ...rs274Manner, arcs: false, keepsPoint: 'G43.4' };

/** Five-axis controls that keep the tool's point by themselves: X, Y, Z and F are the tip's own, on the blank. */
export const toolPoint: Dialect = {
  name: 'RS274/NGC with the tool’s point kept (G43.4)',
  rules: toolPointRules,
  cannot: ({ machine }) => [
    ...(machine.layout.kind === 'table' || machine.layout.kind === 'rotary'
      ? [`a machine on which nothing tilts (this is a ${LAYOUTS[machine.layout.kind].name})`]
      : []),
    ...(machine.toolLengths === 'control' ? ['cutters whose lengths the control’s table does not have (H)'] : []),
    ...(machine.feedMode === 'G93' ? ['feeds by inverse time (G93): F is the tip’s own'] : []),
  ],
  write: (input, split, ...blocks) => writeProgram(manner, input, split, ...blocks),
};
