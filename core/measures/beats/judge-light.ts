import type { Finding } from '../../judge/measure';
import type { Mark } from '../../plan/marks';
import type { BeatsFound } from '../../report/moment-types';
import type { Zone } from '../../tricks/zones';
import { isInside } from '../../base/geometry/outline';

/** Steps of light, the zone in which they belong, and the size of the picture. */
export interface LightInZone {
  steps: BeatsFound['light_steps'];
  zone: Zone;
  size: { width: number; height: number };
}

/** Of the cells of a step that belongs in the zone so many may lie outside it: a lamp has no sharp edge, nor has a finger. */
const OUTSIDE = 0.1;

const placed = ({ steps, zone, size }: LightInZone) =>
  steps.map((step) => {
    const outside = step.cells.filter(([x, y]) => !isInside(zone, x / size.width, y / size.height));
    return { ...step, outside: outside.length / Math.max(1, step.cells.length) };
  });

const stopsOf = (stops: number) => `${Math.abs(stops).toFixed(2)} stop ${stops > 0 ? 'brighter' : 'darker'}`;

/** Steps that reach beyond the zone, as a finding; null where none does. */
function spills(steps: ReturnType<typeof placed>): Finding | null {
  const [out] = steps.filter((s) => s.outside > OUTSIDE).sort((a, b) => b.outside - a.outside);
  if (!out) return null;
  return {
    verdict: 'reshoot',
    text:
      `at frame ${out.frame} it gets ${stopsOf(out.stops)} outside the zone too: ` +
      `${Math.round(100 * out.outside)} % of what changes lies there`,
    fix: 'Flag the lamp, or bring it nearer and dim it, so that the rest keeps its light; or draw the zone wider.',
  };
}

/** Does light step in an opening alone? */
export function judgeLightInside(about: LightInZone): Finding {
  const steps = placed(about);
  const spilled = spills(steps);
  if (spilled) return spilled;
  const n = steps.length;
  const text = n ? `light steps in the opening alone, ${n === 1 ? 'once' : `${n} times`}` : 'light steps nowhere';
  return { verdict: 'holds', text, fix: null };
}

/** Does light rise on its mark, in the zone, and nowhere else? @param limit frames */
export function judgeLightOnBeat(about: LightInZone, marks: readonly Mark[], limit: number): Finding {
  const steps = placed(about);
  const spilled = spills(steps);
  if (spilled) return spilled;
  const [rise] = steps.filter((s) => s.stops > 0).sort((a, b) => b.stops * b.cells.length - a.stops * a.cells.length);
  if (!rise)
    return {
      verdict: 'unjudged',
      text: 'no light was seen to rise at once in the zone',
      fix: 'Look whether it does; a lamp that is dimmed up has no one frame. Else switch it on, and roll it again.',
    };
  const seen = `light rises in the zone at frame ${rise.frame}, by ${Math.abs(rise.stops).toFixed(2)} stop`;
  const near = [...marks].sort((a, b) => Math.abs(a.frame - rise.frame) - Math.abs(b.frame - rise.frame))[0];
  if (!near)
    return { verdict: 'unjudged', text: `${seen}; no frame is marked yet`, fix: 'Mark it on the bench of moments.' };
  const off = rise.frame - near.frame;
  const by = `${Math.abs(off)} ${Math.abs(off) === 1 ? 'frame' : 'frames'}`;
  if (Math.abs(off) <= limit)
    return {
      verdict: 'holds',
      text: `${seen}, ${off ? `${by} beside` : 'on'} “${near.name}”, and nowhere else`,
      fix: null,
    };
  return {
    verdict: 'workable',
    text: `${seen}, ${by} ${off > 0 ? 'after' : 'before'} “${near.name}”`,
    fix: `Move the mark to frame ${rise.frame}, or retime the light to it in the edit.`,
  };
}
