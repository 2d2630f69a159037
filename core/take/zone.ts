import { UnusableMedia } from './unusable';
import type { Against, MeasuredTake } from './measured-take';
import { fineBackground } from '../presence/fine-background';
import { kindsIn } from '../presence/kinds';
import type { ZoneFound } from '../report/zone-types';
import { readEdge } from '../measures/zone/edge';
import { ZoneLight } from '../measures/zone/light';
import { measureZone } from '../measures/zone/measure';
import { ZonePull } from '../measures/zone/pulled';
import { insideOf, type ZoneOutline } from '../base/geometry/outline';
import { withFineFrames } from './fine-outlines';
import { whoIsIn } from './who-is-in';

export interface ZoneOptions {
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/**
 * Looks at a zone of a take: who enters it, what light falls into it, and whether its edge can be read.
 * @param outline corners in source pixels of the take's reference frame
 * @throws UnusableMedia when a file cannot be used, or the zone lies outside the picture
 */
export async function findZone(
  take: MeasuredTake,
  outline: ZoneOutline,
  plate: Against | null,
  { signal, onProgress }: ZoneOptions = {},
): Promise<ZoneFound> {
  const { analysis, source, name } = take;
  const { probe, scene, figures, fps } = analysis;
  onProgress?.('outlining who is in');
  const found = await withFineFrames(
    source,
    analysis,
    async (frames, fine) => {
      const { width, height, factor, count } = frames;
      const who = await whoIsIn({ ...take, analysis: { ...analysis, fine } }, plate, signal);
      const own = outline.map(([x, y]): [number, number] => [x / factor, y / factor]);
      const zone = insideOf(own, width, height);
      if (!zone.includes(1)) throw outside(name, probe);
      onProgress?.('watching the zone');
      const light = scene!.light.stops;
      const behind = fineBackground(frames, figures, light, scene!.background, scene!.curve);
      const meter = new ZoneLight(zone, width, height, behind, scene!.curve);
      const { curve } = scene!;
      const pull = new ZonePull({ zone, count, fps, read: frames.read, light, curve, sigma: behind.sigma });
      const kinds = new Uint8Array(width * height);
      for (let f = 0; f < count; f++) {
        signal?.throwIfAborted();
        const known = kindsIn(who, f, kinds);
        const picture = known === null ? null : frames.read(f);
        meter.frame(picture, light[f], known === null ? null : kinds);
        pull.frame(f, picture, known === null ? null : kinds);
      }
      return {
        ...measureZone({ ...who, zone }),
        changes: meter.changes(),
        pulled: pull.found(),
        edge: readEdge(own, behind, width, height, factor),
      };
    },
    signal,
  );
  if (found) return { ...found, unjudged: analysis.unjudged };
  const none = figures.map(() => null);
  const nothing = {
    entered_runs: [],
    first_frame: null,
    closest_px: null,
    closest_frame: null,
    entered: [],
    outside: [],
    changes: [],
    pulled: null,
  };
  return { ...nothing, edge: null, known_share: 0, unjudged: analysis.unjudged, path: { share: none, gap_px: none } };
}

function outside(name: string, { width, height }: { width: number; height: number }): UnusableMedia {
  return new UnusableMedia(
    `The zone lies outside the picture of "${name}", which is ${width} x ${height}, or is smaller than a few pixels.`,
    'zone',
  );
}
