import type { LockMeasure, Run, TakeMeasures } from './types';

type Path = Record<string, (number | null)[]>;

/** What was measured of a shot, with its frames numbered as in the whole file of `total` frames. */
export function placeInFile(found: TakeMeasures, start: number, total: number): TakeMeasures {
  const shift = (run: Run): Run => ({ start: run.start + start, end: run.end + start });
  const at = (frame: number | null) => (frame === null ? null : frame + start);
  const path = <T extends Path>(own: T): T =>
    Object.fromEntries(Object.entries(own).map(([key, values]) => [key, padded(values, start, total)])) as T;
  const { lock, light, focus, presence } = found;
  const edges = presence.edge_runs;
  return {
    ...found,
    lock: { ...placeLock(lock, start), path: path(lock.path) },
    light: {
      ...light,
      steps: light.steps.map((s) => ({ ...s, frame: s.frame + start })),
      brightest_frame: at(light.brightest_frame),
      darkest_frame: at(light.darkest_frame),
      path: path(light.path),
    },
    focus: { ...focus, worst_frame: at(focus.worst_frame), hunts: focus.hunts.map(shift), path: path(focus.path) },
    presence: {
      ...presence,
      clear_runs: presence.clear_runs.map(shift),
      present_runs: presence.present_runs.map(shift),
      shadow_runs: presence.shadow_runs.map(shift),
      edge_runs: {
        left: edges.left.map(shift),
        right: edges.right.map(shift),
        top: edges.top.map(shift),
        bottom: edges.bottom.map(shift),
      },
      path: path(presence.path),
    },
  };

  function placeLock(l: LockMeasure, by: number): LockMeasure {
    return {
      ...l,
      reference_frame: at(l.reference_frame),
      peak_frame: at(l.peak_frame),
      usable_run: l.usable_run && shift(l.usable_run),
      knocks: l.knocks.map((k) => ({ ...k, start: k.start + by, end: k.end + by })),
      steadiest: l.steadiest.map((s) => ({ ...s, run: shift(s.run) })),
    };
  }
}

/** Values of a shot in a list for the whole file; null beside it. */
export function padded<T>(values: readonly T[], start: number, total: number): (T | null)[] {
  const out: (T | null)[] = Array.from({ length: total }, () => null);
  values.forEach((v, k) => {
    out[start + k] = v;
  });
  return out;
}

/** Values within a run; null beside it. */
export function masked<T>(values: readonly (T | null)[], run: Run | null): (T | null)[] {
  return run ? values.map((v, f) => (f >= run.start && f <= run.end ? v : null)) : [...values];
}
