import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { edgePoints } from '../core/formats/cover-edges';
import { longestRun } from '../core/judge/runs';
import { heldOf } from '../core/measures/stills/held';
import type { PackReport, PackTake, PackTrick } from '../core/packs/types';
import type { PairFound } from '../core/report/pair-types';
import type { StillsFound } from '../core/report/moment-types';
import type { Box } from '../core/report/types';
import type { CoverResult } from '../core/report/wipe-types';
import { fullPictures } from '../media/ffmpeg/frames';
import { probeFile } from '../media/ffmpeg/probe';
import { writeJpeg } from '../media/write/still-out';
import { linesOf } from './tricks';

/** A frame of a take to be shown on a page, with what is drawn over it, in its pixels. */
export interface Shot {
  take: Pick<PackTake, 'id' | 'name' | 'media'>;
  frame: number;
  caption: string;
  lines: { points: readonly (readonly [number, number])[]; closed: boolean }[];
  boxes: Box[];
}

/** A shot with its picture, ready for a page. */
export type ShownShot = Shot & { picture: string };

const WIDE = 1120;
const MOST_EDGES = 3;
const MOST_WORST = 3;

/** The frames that say most of a trick: the empty picture, the seam, where it is cut, the edges to set, what is worst. */
export function shotsOf(trick: PackTrick, report: PackReport): Shot[] {
  const own = trick.parts.flatMap((p) => report.takes.find((t) => t.id === p.take_id) ?? []);
  const roleOf = (t: PackTake) => trick.parts.find((p) => p.take_id === t.id)?.role;
  const shots: Shot[] = [];
  const add = (take: PackTake, frame: number, caption: string, more: Partial<Pick<Shot, 'lines' | 'boxes'>> = {}) => {
    if (shots.some((s) => s.take === take && s.frame === frame && !more.lines && !more.boxes)) return;
    shots.push({ take, frame, caption, lines: [], boxes: [], ...more });
  };
  const middle = (t: PackTake) => t.media.frame_count >> 1;
  for (const take of own.filter((t) => roleOf(t) === 'plate')) {
    const run = longestRun(take.clear_runs);
    add(take, run ? (run.start + run.end) >> 1 : middle(take), `${take.label}: the empty picture`);
  }
  const drawn = linesOf(trick, report).map(({ line }) => ({ points: line.points, closed: false }));
  const zone = trick.zone;
  const [first] = own.filter((t) => roleOf(t) === 'pass');
  const pair = trick.found.find((f) => f.measure === 'pair')?.result as PairFound | undefined;
  if (first && drawn.length) {
    const at = Math.min(
      pair?.closest_frame ?? pair?.seam?.narrowest_frame ?? middle(first),
      first.media.frame_count - 1,
    );
    for (const take of own.filter((t) => roleOf(t) === 'pass'))
      add(take, Math.min(at, take.media.frame_count - 1), `${take.label}, frame ${at}, with the line`, {
        lines: drawn,
      });
  }
  if (first && zone) {
    const { width, height } = first.media;
    const points = zone.map(([x, y]): [number, number] => [x * width, y * height]);
    add(first, middle(first), `${first.label} with the zone`, { lines: [{ points, closed: true }] });
  }
  for (const take of own) {
    const cover = trick.found.find((f) => f.measure === 'cover' && f.takes[0] === take.id)?.result as
      CoverResult | undefined;
    for (const frame of cover?.key_frames.slice(0, MOST_EDGES) ?? []) {
      const points = edgePoints(cover!.edges, cover!.kind === 'closing' ? 'lead' : 'trail', frame, take.media);
      if (points.length)
        add(take, frame, `${take.label}, frame ${frame}: set the edge here`, { lines: [{ points, closed: false }] });
    }
    const stills = trick.found.find((f) => f.measure === 'stills' && f.takes[0] === take.id)?.result as
      StillsFound | undefined;
    const best = heldOf(stills?.stills ?? []);
    if (best) add(take, best.frame, `${take.label}, frame ${best.frame}: worth holding`, { boxes: [best] });
  }
  for (const cue of trick.cues.filter((c) => c.kind === 'cut')) {
    const take = own.find((t) => t.id === cue.take);
    if (take) add(take, cue.frame, `${take.label}, frame ${cue.frame}: ${cue.name}`);
  }
  for (const take of own.filter((t) => t.worst_frame !== null).slice(0, MOST_WORST))
    add(take, take.worst_frame!, `${take.label}, frame ${take.worst_frame}: the worst. ${take.report.take.text}`);
  return shots;
}

/** Reads the pictures of some shots from their recordings, as JPEG in a data address, each frame once. */
export async function showShots(
  shots: readonly Shot[],
  pathOf: (takeId: string) => string,
  signal: AbortSignal,
): Promise<ShownShot[]> {
  const folder = await mkdtemp(join(tmpdir(), 'umbrastat-pages-'));
  const pictures = new Map<string, string>();
  try {
    for (const take of new Set(shots.map((s) => s.take))) {
      const frames = [...new Set(shots.filter((s) => s.take === take).map((s) => s.frame))].sort((a, b) => a - b);
      const path = pathOf(take.id);
      let n = 0;
      for await (const picture of fullPictures(path, await probeFile(path, take.name), frames, signal)) {
        const jpeg = join(folder, 'frame.jpg');
        await writeJpeg(picture, jpeg, WIDE);
        const address = `data:image/jpeg;base64,${(await readFile(jpeg)).toString('base64')}`;
        pictures.set(`${take.id} ${frames[n++]}`, address);
      }
    }
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  return shots.flatMap((s) => {
    const picture = pictures.get(`${s.take.id} ${s.frame}`);
    return picture ? [{ ...s, picture }] : [];
  });
}
