import type { Beat, BeatKind } from '../report/moment-types';

/** A frame of a take that somebody keeps: one of their own, or a beat that was found. */
export interface Mark {
  id: string;
  frame: number;
  name: string;
  kind: BeatKind | 'own';
  /** The frame on which it was found, wherever it was moved to since; null for one of their own. */
  found: number | null;
}

/** What a mark is made of. */
export type MarkFields = Omit<Mark, 'id'>;

/** A take keeps so many marks at most. */
export const MOST_MARKS = 200;

/** Beats that were found and not kept, in their order. */
export function openBeats(beats: readonly Beat[], marks: readonly Mark[]): Beat[] {
  const kept = new Set(marks.map((m) => `${m.kind} ${m.found}`));
  return beats.filter((b) => !kept.has(`${b.kind} ${b.frame}`));
}

/** The beat nearest to a frame, and by how many frames it comes later; null when there is none. */
export function nearestBeat(beats: readonly Beat[], frame: number): { beat: Beat; off: number } | null {
  let best: { beat: Beat; off: number } | null = null;
  for (const beat of beats) {
    const off = beat.frame - frame;
    const nearer = best === null || Math.abs(off) < Math.abs(best.off);
    if (nearer || (Math.abs(off) === Math.abs(best!.off) && beat.strength > best!.beat.strength)) best = { beat, off };
  }
  return best;
}

/** A name that no mark has yet: "Strike", then "Strike 2". */
export function freshName(word: string, marks: readonly Pick<Mark, 'name'>[]): string {
  const first = word.charAt(0).toUpperCase() + word.slice(1);
  const taken = new Set(marks.map((m) => m.name));
  if (!taken.has(first)) return first;
  for (let n = 2; ; n++) if (!taken.has(`${first} ${n}`)) return `${first} ${n}`;
}

/** A mark of one take laid on a mark of another: their names, their frames, and how much later the second starts. */
export interface Laying {
  name: string;
  first: number;
  second: number;
  slide: number;
  named: boolean;
}

/** Pairs of marks by which a second take can be laid on a first: each of one name, or of one kind, with its slide. */
export function layingSlides(first: readonly Mark[], second: readonly Mark[]): Laying[] {
  const all = first.flatMap((a) =>
    second.flatMap((b) => {
      const named = a.name.toLowerCase() === b.name.toLowerCase();
      const name = named ? a.name : `${a.name} on ${b.name}`;
      return named || (a.kind === b.kind && a.kind !== 'own')
        ? [{ name, first: a.frame, second: b.frame, slide: a.frame - b.frame, named }]
        : [];
    }),
  );
  return all.sort((x, y) => Number(y.named) - Number(x.named));
}
