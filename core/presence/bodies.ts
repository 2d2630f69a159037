import { BODY } from './shade';

/** Figures as far as where their bodies are matters: rows of y, first x, last x and kind; and the body's area. */
interface Outlined {
  rows: ArrayLike<number>;
  body: number;
}

/** Small pixels that the bodies of some figures take up. */
export function areaOf(figures: readonly Outlined[]): number {
  return figures.reduce((sum, f) => sum + f.body, 0);
}

/** Calls `span` with each run of some figures' pixels, both ends included: of all, or of one kind. */
export function eachRun(
  figures: readonly Pick<Outlined, 'rows'>[],
  width: number,
  span: (first: number, last: number) => void,
  kind?: number,
): void {
  for (const { rows } of figures)
    for (let r = 0; r < rows.length; r += 4)
      if (kind === undefined || rows[r + 3] === kind)
        span(rows[r] * width + rows[r + 1], rows[r] * width + rows[r + 2]);
}

/** The same of their bodies alone. */
export function eachBody(
  figures: readonly Pick<Outlined, 'rows'>[],
  width: number,
  span: (first: number, last: number) => void,
): void {
  eachRun(figures, width, span, BODY);
}

/** 1 for the pixels that were seen and belong to nobody. */
export function withoutBodies(
  figures: readonly Outlined[],
  seen: Uint8Array | null,
  width: number,
  pixels: number,
): Uint8Array {
  const free = seen?.slice() ?? new Uint8Array(pixels).fill(1);
  eachBody(figures, width, (first, last) => free.fill(0, first, last + 1));
  return free;
}
