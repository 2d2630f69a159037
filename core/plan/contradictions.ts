import { rateNeeded } from '../calculators/retime';
import { headroom } from '../calculators/headroom';
import { tidy } from '../calculators/kinds';
import type { CameraNotes, Contradiction, Delivery, PlannedTrick } from './types';

/** Heights and tilts this near to each other are one camera position: metres and degrees. */
const SAME_HEIGHT = 0.05;
const SAME_TILT = 1;

/** Where the plan of one setup contradicts itself. What is not noted yet contradicts nothing. */
export function findContradictions(
  notes: CameraNotes,
  delivery: Delivery,
  tricks: readonly PlannedTrick[],
): Contradiction[] {
  const out: Contradiction[] = [];
  const { fps, width, height, shutter_s: shutter } = notes;
  if (width !== null && height !== null && (width < delivery.width || height < delivery.height)) {
    out.push({
      code: 'small',
      tricks: [],
      text: `The setup records ${width} × ${height} px, smaller than the delivery’s ${delivery.width} × ${delivery.height} px.`,
      fix: 'Set the camera to a larger picture.',
    });
  }
  if (fps !== null && shutter !== null && shutter > 1.001 / fps) {
    out.push({
      code: 'shutter',
      tricks: [],
      text: `A shutter of ${tidy(shutter)} s is longer than a frame at ${tidy(fps, 5)} fps.`,
      fix: `Set ${tidy(1 / fps)} s or shorter.`,
    });
  }
  for (const { id, trick, wishes } of tricks) {
    const speed = wishes.speed_pct;
    if (speed !== null && fps !== null) {
      const needed = rateNeeded(delivery.fps, speed / 100);
      if (fps < needed * 0.999) {
        out.push({
          code: 'rate',
          tricks: [id],
          text: `${trick.name}: ${tidy(speed)} % speed needs ${tidy(needed)} fps; this setup is noted at ${tidy(fps, 5)}.`,
          fix: `Record at ${tidy(needed)} fps or more, or slow down to ${tidy((100 * delivery.fps) / fps)} % at most.`,
        });
      }
    }
    for (const r of trick.requirements) {
      if (r.kind === 'rate-at-least' && r.tolerance !== null && fps !== null && fps < r.tolerance * 0.999) {
        out.push({
          code: 'rate',
          tricks: [id],
          text: `${trick.name} asks for at least ${tidy(r.tolerance)} fps; this setup is noted at ${tidy(fps, 5)}.`,
          fix: `Record at ${tidy(r.tolerance)} fps or more, or lower what the trick asks for.`,
        });
      }
      if (r.kind === 'headroom-at-least' && r.tolerance !== null && width !== null && height !== null) {
        const spare = headroom(width, height, delivery.width, delivery.height, 100, 0).left_pct;
        if (spare < r.tolerance - 0.1) {
          out.push({
            code: 'headroom',
            tricks: [id],
            text: `${trick.name} asks for ${tidy(r.tolerance)} % of headroom; the recorded picture leaves ${tidy(spare)} %.`,
            fix: 'Record a larger picture, or lower what the trick asks for.',
          });
        }
      }
    }
    if (wishes.push_pct !== null && width !== null && height !== null) {
      const h = headroom(width, height, delivery.width, delivery.height, wishes.push_pct, 0);
      if (h.left_pct < -0.1) {
        out.push({
          code: 'headroom',
          tricks: [id],
          text: `${trick.name}: a push to ${tidy(wishes.push_pct)} % is larger than the headroom; ${tidy(h.mostPush_pct)} % is the most.`,
          fix: `Record larger, or push to ${tidy(h.mostPush_pct)} % at most.`,
        });
      }
    }
  }
  out.push(...positions(notes, tricks));
  return dedupe(out);
}

/** Tricks on one setup share its camera position, lens and whether it stands. */
function positions(notes: CameraNotes, tricks: readonly PlannedTrick[]): Contradiction[] {
  const out: Contradiction[] = [];
  const compare = (
    code: Contradiction['code'],
    what: string,
    unit: string,
    own: number | null,
    near: number,
    pick: (t: PlannedTrick) => number | null,
  ) => {
    const wished = tricks.flatMap((t) => {
      const v = pick(t);
      return v === null ? [] : [{ t, v }];
    });
    for (const { t, v } of wished) {
      const other =
        own !== null && Math.abs(own - v) > near
          ? { name: 'the setup', v: own, id: null }
          : wished.flatMap((w) =>
              w.t !== t && Math.abs(w.v - v) > near ? [{ name: w.t.trick.name, v: w.v, id: w.t.id }] : [],
            )[0];
      if (!other) continue;
      const named = other.id === null ? [t.id] : [t.id, other.id].sort();
      out.push({
        code,
        tricks: named,
        text:
          `${t.trick.name} wants ${what} ${tidy(v)} ${unit}, ${other.name} ${tidy(other.v)} ${unit}: one ` +
          `camera position cannot be both.`,
        fix: 'Give one of them a setup of its own.',
      });
    }
  };
  compare('position', 'the lens over ground at', 'm', notes.height_m, SAME_HEIGHT, (t) => t.wishes.height_m);
  compare('position', 'a tilt of', '°', notes.tilt_deg, SAME_TILT, (t) => t.wishes.tilt_deg);
  compare('lens', 'a focal length of', 'mm', notes.focal_mm, 0.5, (t) => t.wishes.lens_mm);
  const moving = tricks.filter((t) => t.trick.camera === 'moving');
  const still = tricks.filter((t) => t.trick.camera === 'still');
  if (moving.length && still.length) {
    out.push({
      code: 'moving',
      tricks: [...moving, ...still].map((t) => t.id),
      text: `${moving[0].trick.name} moves the camera, ${still[0].trick.name} needs it locked.`,
      fix: 'Roll the locked parts first and strike nothing between, or give the moving one a setup of its own.',
    });
  }
  return out;
}

/** Two tricks that contradict each other are named once. */
function dedupe(all: Contradiction[]): Contradiction[] {
  const seen = new Set<string>();
  return all.filter((c) => {
    const key = c.tricks.length === 2 ? `${c.code}${c.tricks.join()}` : `${c.code}${c.text}`;
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}
