import { offsetOf } from './who-is-in';
import type { TakeAnalysis } from './analysis';
import { type PictureFacts, matrixOf } from './source';
import type { Against, MeasuredTake } from './measured-take';
import { DetailMeter } from '../measures/focus/detail-meter';
import { compareDetail, freeDetail, type CellDetail } from '../measures/focus/free-detail';
import type { Picture } from '../base/image/picture';
import { judgeCleanPlate } from '../measures/presence/judge';
import { fadeInFrames } from '../measures/plate/judge';
import { comparePictures, whoWasIn, type PictureGap, type SmallPlate } from '../measures/compare/measure';
import type { Background } from '../scene/background';
import type { PlateGap } from '../report/types';
import { cameOrWent } from './brought-in';
import { layTogether } from './lay-on';
import type { PlateOptions } from './plate';

/**
 * Holds a plate (a still picture or a recording) against a take. Of a recording, the middle of its longest clear run
 * is taken, or, when somebody is always in, its background.
 * @throws UnusableMedia when a file cannot be used
 */
export async function comparePlate(
  take: MeasuredTake,
  against: Against,
  options: PlateOptions = {},
): Promise<PlateGap> {
  const { analysis: a } = take;
  const { probe, recording, presence, picture, offset, uncertainty, grain } = await layTogether(take, against, options);
  const behind: Picture | SmallPlate = picture ?? { background: recording!.scene!.background };
  const gap =
    a.scene &&
    comparePictures({
      background: a.scene.background,
      curve: a.scene.curve,
      matrix: matrixOf(a.probe),
      plate: behind,
      restless: recording?.scene?.background.restless,
      offset: offset && ('background' in behind ? offset.references : offset.pictures),
      factor: a.factor,
      width: a.probe.width,
      height: a.probe.height,
    });
  const parted =
    gap && (await told(take, against, gap, { recording, behind, background: a.scene!.background }, options));
  const light = gap?.light
    ? { ...gap.light, fade_in_frames: fadeInFrames(gap.light.gap_stops, gap.light.worst_region?.stops ?? 0) }
    : null;
  const focus = compareDetail(picture ? detailOf(picture) : recording!.detail, a.detail);
  const never =
    recording && presence && judgeCleanPlate(presence, recording.media.frame_count, 1).verdict === 'reshoot';
  const small = recording?.scene?.background;
  const walked =
    never && small
      ? whoWasIn(
          recording.figures,
          small.width,
          small.height,
          a.probe.width / small.width,
          a.probe.height / small.height,
        )
      : [];
  return {
    offset: offsetOf(offset?.pictures, uncertainty),
    light,
    focus,
    grain: grain === null ? null : { ratio: grain },
    moved: parted?.moved ?? [],
    intruders: parted?.intruders.length ? parted.intruders : walked,
    settings: settingsApart(a, probe, recording),
  };
}

/** What stands elsewhere is no fault of the set where it came in, or was carried off, in one of the two. */
async function told(
  take: MeasuredTake,
  against: Against,
  { moved, intruders }: PictureGap,
  known: { recording: TakeAnalysis | null; behind: Picture | SmallPlate; background: Background },
  { signal }: PlateOptions,
): Promise<Pick<PictureGap, 'moved' | 'intruders'>> {
  const open = moved.filter((m) => m.only === null);
  if (open.length === 0) return { moved, intruders };
  const { recording, behind, background } = known;
  const luma = 'background' in behind ? behind.background.luma : behind.small.luma;
  const still = { width: background.width, height: background.height, luma };
  const inTake = await cameOrWent(take, still, open, signal);
  const file = recording && { ...against, analysis: recording };
  const inOther = file ? await cameOrWent(file, background, open, signal) : [];
  const found = new Map(open.map((m, k) => [m, inTake[k] ? 'take' : inOther[k] ? 'other' : null]));
  return {
    moved: moved.flatMap((m) => {
      const where = found.get(m);
      return where === 'other' ? [] : [where === 'take' ? { ...m, only: 'take' as const } : m];
    }),
    intruders: [
      ...intruders,
      ...open.flatMap((m) => {
        const { x, y, width, height } = m;
        return found.get(m) === 'other' ? [{ x, y, width, height }] : [];
      }),
    ],
  };
}

function detailOf(picture: Picture): CellDetail {
  const meter = new DetailMeter();
  meter.frame(picture.luma);
  return freeDetail(meter);
}

/** What of the files' settings differs. */
function settingsApart(take: TakeAnalysis, plate: PictureFacts, recording: TakeAnalysis | null): PlateGap['settings'] {
  const rows: { field: string; take: string; plate: string }[] = [
    { field: 'picture', take: `${take.probe.width} x ${take.probe.height}`, plate: `${plate.width} x ${plate.height}` },
    { field: 'bit depth', take: String(take.probe.bitDepth), plate: String(plate.bitDepth) },
  ];
  if (recording) {
    rows.push(
      { field: 'rate', take: `${take.fps.toFixed(2)} fps`, plate: `${recording.fps.toFixed(2)} fps` },
      { field: 'codec', take: take.probe.codec, plate: plate.codec },
    );
  }
  // A still of 16 bits made from 10 loses nothing.
  return rows.filter((r) => r.take !== r.plate && !(plate.still && r.field === 'bit depth'));
}
