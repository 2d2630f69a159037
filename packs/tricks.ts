import { OPPOSITE } from '../core/base/geometry/sides';
import { editDecisionList, type ReelOf } from '../core/formats/edl';
import { fileName } from '../core/formats/file-names';
import { countFromTimecode } from '../core/formats/marks-out';
import { otioTimeline, type TimelineMedia } from '../core/formats/otio';
import { shapesSvg, type Shape } from '../core/formats/shapes-svg';
import { lineMatte, openingMatte, type JoinedWish } from '../core/measures/joined/joined';
import type { DrawnLine } from '../core/measures/joined/drawn';
import type { Glide } from '../core/movers/glides';
import type { PackFile, PackReport, PackTake, PackTrick } from '../core/packs/types';
import type { HideFound } from '../core/report/hide-types';
import type { PairFound } from '../core/report/pair-types';
import type { Side } from '../core/report/types';
import { writeMask } from '../media/write/still-out';
import type { PackFolder } from './folder';

/** The soft edge of a zone's mask, pixels. */
const ZONE_FEATHER = 4;
/** A corridor may be as wide as the picture: nobody wants a wider feather than this share of the width. */
const WIDEST_FEATHER = 0.05;

/** A trick's name inside a pack: "s2-slip-behind". Of several of one name in a setup the later have a number. */
export function stemsOf(report: PackReport): Map<string, string> {
  const seen = new Map<string, number>();
  return new Map(
    report.tricks.map((t) => {
      const setup = report.setups.find((s) => s.id === t.setup_id)?.number ?? 0;
      const stem = `s${setup}-${fileName(t.name)}`;
      const n = (seen.get(stem) ?? 0) + 1;
      seen.set(stem, n);
      return [t.id, n === 1 ? stem : `${stem}-${n}`];
    }),
  );
}

/** A line along which two takes are joined, for some frames or all, with its feather. */
export interface TrickLine {
  id: string;
  line: DrawnLine;
  feather_px: number;
  says: string;
}

/** The takes that a trick's line parts: the one on its `first_side`, and the other. */
function pairOf(trick: PackTrick, report: PackReport): PackTake[] {
  const roles = ['pass', 'plate'] as const;
  const ids = roles.flatMap((role) => trick.parts.filter((p) => p.role === role).flatMap((p) => p.take_id ?? []));
  return ids.flatMap((id) => report.takes.find((t) => t.id === id) ?? []).slice(0, 2);
}

/** The lines of a trick: those that somebody chose for a proof, else those that were measured. */
export function linesOf(trick: PackTrick, report: PackReport): TrickLine[] {
  const [first, second] = pairOf(trick, report);
  if (!first || !second) return [];
  const between = `${first.label} from ${second.label}`;
  const usual = (most: number) => Math.round(Math.min(most, WIDEST_FEATHER * first.media.width));
  const words = (frames: string, feather: number, side: Side) =>
    `Parts ${between}${frames}; ${first.label} lies ${side}, feather ${feather.toFixed(0)} px`;
  const chosen = trick.found.find((f) => f.measure === 'joined' && f.takes[0] === first.id && f.takes[1] === second.id)
    ?.wish as JoinedWish | undefined;
  if (chosen?.line) {
    const { line, moves, feather_px: feather } = chosen;
    return [
      { id: 'seam', line, feather_px: feather, says: words('', feather, line.first_side) },
      ...moves.map((m) => ({
        id: `seam-frames-${m.start}-${m.end}`,
        line: m,
        feather_px: feather,
        says: words(` in frames ${m.start} to ${m.end}`, feather, m.first_side),
      })),
      ...(chosen.glides ?? []).flatMap((g) =>
        keyFrames(g).map(({ id, frames, points }) => {
          const soft = Math.min(feather, g.feather_px);
          const line = { points, first_side: g.first_side };
          return { id, line, feather_px: soft, says: words(frames, soft, g.first_side) };
        }),
      ),
    ];
  }
  const hide = trick.found.find((f) => f.measure === 'hide' && f.takes[0] === first.id)?.result as
    HideFound | undefined;
  if (hide?.split) {
    const { points, keeps, margin_px } = hide.split;
    const feather = usual(2 * margin_px);
    const line = { points, first_side: keeps };
    return [{ id: 'split', line, feather_px: feather, says: words('', feather, keeps) }];
  }
  const found = trick.found.find(
    (f) => f.measure === 'pair' && f.takes.includes(first.id) && f.takes.includes(second.id),
  );
  const pair = found?.result as PairFound | undefined;
  if (!pair?.seam) return [];
  const turned = found!.takes[0] !== first.id;
  const side = (s: Side) => (turned ? OPPOSITE[s] : s);
  const { seam } = pair;
  const lines = [
    { id: 'seam', frames: '', points: seam.points, first_side: side(seam.first_side), most: seam.feather_px },
    ...(pair.moving_lines ?? []).map((m) => ({
      id: `seam-frames-${m.start}-${m.end}`,
      frames: ` in frames ${m.start} to ${m.end}`,
      points: m.points,
      first_side: side(m.first_side),
      most: m.feather_px,
    })),
    ...(pair.line_glides ?? []).flatMap((g) =>
      keyFrames(g).map((k) => ({ ...k, first_side: side(g.first_side), most: g.feather_px })),
    ),
  ];
  return lines.map(({ id, frames, points, first_side, most }) => {
    const feather = usual(most);
    return { id, line: { points, first_side }, feather_px: feather, says: words(frames, feather, first_side) };
  });
}

/** A line that moves evenly, at its first frame and at its last: between the two each of its points goes straight on. */
function keyFrames({ start, end, from, to }: Glide): { id: string; frames: string; points: [number, number][] }[] {
  return [
    { id: `seam-key-${start}`, frames: ` in frame ${start}, and moves evenly until frame ${end}`, points: from },
    { id: `seam-key-${end}`, frames: ` in frame ${end}, having moved evenly since frame ${start}`, points: to },
  ];
}

/** Writes a trick's seams, splits and zones: as SVG in the takes' pixels, and as grey masks with their feather. */
export async function writeLines(
  folder: PackFolder,
  trick: PackTrick,
  stem: string,
  report: PackReport,
  signal: AbortSignal,
): Promise<PackFile[]> {
  const files: PackFile[] = [];
  const [first, second] = pairOf(trick, report);
  if (!first) return files;
  const { width, height } = first.media;
  const keep = async (id: string, shape: Shape, mask: Uint8Array, shows: string) => {
    const svg = shapesSvg(`${trick.name}: ${shape.says}`, { width, height }, [shape]);
    files.push(await folder.text(`lines/${stem}-${id}.svg`, 'line', shape.says, svg));
    const path = `masks/${stem}-${id}.png`;
    await writeMask(mask, { width, height }, await folder.place(path), signal);
    files.push({ path, kind: 'mask', says: shows });
  };
  for (const { id, line, feather_px: feather, says } of linesOf(trick, report)) {
    const mask = lineMatte(line, feather, width, height, 1);
    await keep(
      id,
      { id, points: line.points, closed: false, says },
      mask,
      `the same as a mask: white where ${second?.label} shows`,
    );
  }
  if (trick.zone) {
    const points = trick.zone.map(([x, y]): [number, number] => [x * width, y * height]);
    const says = `Zone of ${trick.name}`;
    const mask = openingMatte(points, ZONE_FEATHER, width, height, 1);
    await keep('zone', { id: 'zone', points, closed: true, says }, mask, `the same as a mask: white inside`);
  }
  return files;
}

/** The number of a take's first frame, as its own timecode counts; 0 where it has none that can be read. */
export const firstNumber = ({ rate, media }: PackTake): number => countFromTimecode(rate, media.timecode) ?? 0;

/** Writes the timeline of a trick, and an edit decision list for each of its layers. */
export async function writeTimelines(
  folder: PackFolder,
  trick: PackTrick,
  stem: string,
  report: PackReport,
): Promise<PackFile[]> {
  const { assembly } = trick;
  if (!assembly) return [];
  const takes = report.takes.filter((t) => assembly.layers.some((l) => l.pieces.some((p) => p.take === t.id)));
  const media = new Map(
    takes.map((t): [string, TimelineMedia] => [
      t.id,
      {
        label: t.label,
        path: `../${t.recording.path}`,
        rate: t.rate,
        frames: t.media.frame_count,
        first: firstNumber(t),
      },
    ]),
  );
  const about = { trick: trick.key, setup_id: trick.setup_id, wishes: trick.wishes, left_out: trick.left_out };
  const timeline = otioTimeline({
    name: `${report.shoot.name}: ${trick.name}`,
    assembly,
    media,
    cues: trick.cues,
    about,
  });
  const files = [
    await folder.text(`timelines/${stem}.otio`, 'timeline', `“${trick.name}” laid together, OpenTimelineIO`, timeline),
  ];
  const reels = new Map(
    takes.map((t): [string, ReelOf] => [
      t.id,
      { reel: t.reel, file: t.recording.path.replace(/^.*\//, ''), rate: t.rate, first: firstNumber(t) },
    ]),
  );
  const drop = takes.some((t) => t.media.timecode?.includes(';'));
  for (const [i, layer] of assembly.layers.entries()) {
    const title = `${report.shoot.name} ${stem} layer ${i + 1}`;
    const list = editDecisionList({ title, layer, rate: assembly.rate, drop, reels });
    if (list === null) continue;
    const says = `layer ${i + 1}${i === 0 ? ', the lowest' : ''} of “${trick.name}” as an edit decision list`;
    files.push(await folder.text(`lists/${stem}-layer-${i + 1}.edl`, 'list', says, list));
  }
  return files;
}
