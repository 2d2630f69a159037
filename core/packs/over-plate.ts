import type { OverPlate } from '../measures/joined/over-plate';
import type { FigureFound } from '../report/figure-types';
import type { Run } from '../report/types';
import type { ZoneFound } from '../report/zone-types';
import type { LayerMask } from '../measures/joined/joining-ways';
import { framesOf, listRuns, masking, SMALL, type Step } from './steps';
import type { PackTake } from './types';

/** What lets the pass be seen in each. */
export const OVER_MASK: Record<OverPlate, LayerMask | null> = {
  mixed: 'strength',
  faded: 'strength',
  figure: 'figure',
  hung: 'figure',
  lifted: 'figure',
  pulled: 'cloth',
  edge: 'seam',
  alone: null,
};

export interface OverPlateFound {
  pass: PackTake;
  zone: ZoneFound | null;
  figure: FigureFound | null;
}

/** What there is to do with the pass, in the order in which one would work. */
export function overPlateSteps(how: OverPlate, { pass, zone, figure }: OverPlateFound): Step[] {
  const { label, marks, report } = pass;
  const steps: Step[] = [];
  const add = (what: string, minutes: [number, number]) => steps.push({ what, minutes });
  const present = report.presence.present_runs;
  const frames = [...marks].map((m) => m.frame).sort((a, b) => a - b);
  const cutOut = (runs: readonly Run[], more = '') => {
    const n = framesOf(runs);
    if (n)
      add(
        `Cut ${label} out over the plate in frames ${listRuns(runs)}${more}: start from its rough matte.`,
        masking(n, 'body'),
      );
  };
  switch (how) {
    case 'mixed':
      add(
        `Lay ${label} over the plate as strong as you like, as in the proof: where nobody is the two are the same, ` +
          `and nothing is to be masked.`,
        SMALL,
      );
      break;
    case 'faded': {
      const [from] = frames,
        to = frames.at(-1);
      const between =
        to !== undefined && to > from
          ? `, from frame ${from} to frame ${to}`
          : from === undefined
            ? ''
            : `, at frame ${from}`;
      add(
        `Fade between ${label} and the plate inside the zone alone${between}: its outline and its mask are here.`,
        SMALL,
      );
      const entered = zone?.entered_runs ?? [];
      if (entered.length)
        add(`Mask whoever reaches into the zone in frames ${listRuns(entered)}.`, masking(framesOf(entered), 'body'));
      break;
    }
    case 'hung': {
      const run = figure?.run;
      if (run) cutOut([run], ', without whatever holds it');
      else cutOut(present, ', without whatever holds it');
      break;
    }
    case 'lifted': {
      const lifted = figure?.lifted_runs ?? [];
      if (lifted.length) cutOut(lifted, ', while they are off the ground');
      else cutOut(present);
      break;
    }
    case 'pulled': {
      const pulled = zone?.pulled;
      if (!pulled) {
        cutOut(present);
        break;
      }
      add(
        `Bring the plate in behind the cloth along its edge while it is pulled, frames ${listRuns([pulled])}; ` +
          `from frame ${pulled.end + 1} on show the plate inside the zone.`,
        masking(framesOf([pulled]), 'fine'),
      );
      const touched = pulled.touched_runs;
      if (touched.length)
        add(`Mask whoever touches the zone in frames ${listRuns(touched)}.`, masking(framesOf(touched), 'body'));
      break;
    }
    case 'edge':
      add(
        `Show the plate below the edge that the hands raise in frames ${listRuns(present)}` +
          `${frames.length ? `: set it first at the marks, frames ${frames.join(', ')}` : ''}; a straight line follows in between.`,
        masking(framesOf(present), 'line'),
      );
      break;
    case 'alone': {
      const lit = marks.find((m) => m.kind === 'light')?.frame ?? frames[0];
      add(
        `Nothing is to be masked: the light on ${label} is real.` +
          `${lit === undefined ? '' : ` Brighten the prop itself from frame ${lit} on.`}`,
        SMALL,
      );
      break;
    }
    case 'figure':
      cutOut(present);
  }
  return steps;
}
