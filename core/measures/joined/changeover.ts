import type { Run } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

/** A line gives way to the next over so many frames to both sides at most. */
const MOST = 6;

/**
 * The frames over which one line gives way to the next: those around the first frame of the next in which neither of the
 * two cuts anybody. There both show the empty place between them, so that one may be faded into the other unseen. Null
 * where there is no such frame: then the one takes over from the other at once.
 * @param first frame of the next line @param before in which frames the old line cuts somebody @param after likewise the next
 * @param run the frames of the shot
 */
export function changeover(first: number, before: readonly Run[], after: readonly Run[], run: Run): Run | null {
  const cut = (runs: readonly Run[], frame: number) => runs.some((r) => frame >= r.start && frame <= r.end);
  let start = first,
    end = first - 1;
  while (start > max(run.start, first - MOST) && !cut(after, start - 1) && !cut(before, start - 1)) start--;
  while (end < min(run.end, first + MOST - 1) && !cut(before, end + 1) && !cut(after, end + 1)) end++;
  return end > start ? { start, end } : null;
}

/** How far the next line has come in at a frame of a changeover, 0 to 1; 0 before it and 1 after it. */
export const comeIn = ({ start, end }: Run, frame: number): number =>
  max(0, min(1, (frame - start + 1) / (end - start + 2)));

/** A line that is held for a run, with the frames over which it comes in, and goes out again. */
export interface Held<M> extends Run {
  matte: M;
  ease_in?: Run | null;
  ease_out?: Run | null;
}

/**
 * What parts two takes at a frame: one matte, or two with how far the second has come in.
 * @param base where no line is held
 */
export function matteAt<M>(base: M, held: readonly Held<M>[], frame: number): { from: M; to: M | null; share: number } {
  const at = (f: number) => held.find((m) => m.start <= f && f <= m.end)?.matte ?? base;
  const within = (r: Run | null | undefined): r is Run => !!r && frame >= r.start && frame <= r.end;
  for (const m of held) {
    if (within(m.ease_in)) return { from: at(m.start - 1), to: m.matte, share: comeIn(m.ease_in, frame) };
    if (within(m.ease_out)) return { from: m.matte, to: at(m.end + 1), share: comeIn(m.ease_out, frame) };
  }
  return { from: at(frame), to: null, share: 0 };
}
