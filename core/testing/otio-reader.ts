import Joi from 'joi';

// A reading of OpenTimelineIO's documented schema that knows nothing of what writes it: fields by name and version, a
// track's items one after the other, each as long as its source range, time warps within them.

const time = Joi.object({
  OTIO_SCHEMA: Joi.valid('RationalTime.1').required(),
  rate: Joi.number().greater(0).required(),
  value: Joi.number().required(),
});
const range = Joi.object({
  OTIO_SCHEMA: Joi.valid('TimeRange.1').required(),
  start_time: time.required(),
  duration: time.required(),
});
const COLOURS = ['RED', 'PINK', 'ORANGE', 'YELLOW', 'GREEN', 'CYAN', 'BLUE', 'PURPLE', 'MAGENTA', 'BLACK', 'WHITE'];
const name = Joi.string().allow('').required();
const metadata = Joi.object().required();
const marker = Joi.object({
  OTIO_SCHEMA: Joi.valid('Marker.2').required(),
  ...{ name, metadata, comment: Joi.string().allow('') },
  color: Joi.valid(...COLOURS).required(),
  marked_range: range.required(),
});
const effect = Joi.object({
  OTIO_SCHEMA: Joi.valid('LinearTimeWarp.1', 'FreezeFrame.1').required(),
  ...{ name, metadata, effect_name: Joi.string().required() },
  time_scalar: Joi.number().required(),
});
const item = {
  ...{ name, metadata },
  effects: Joi.array().items(effect).required(),
  markers: Joi.array().items(marker).required(),
  enabled: Joi.boolean().required(),
};
const reference = Joi.object({
  OTIO_SCHEMA: Joi.valid('ExternalReference.1').required(),
  ...{ name, metadata, target_url: Joi.string().required() },
  available_range: range.required(),
  available_image_bounds: Joi.valid(null),
});
const clip = Joi.object({
  OTIO_SCHEMA: Joi.valid('Clip.2').required(),
  ...item,
  source_range: range.required(),
  active_media_reference_key: Joi.string().required(),
  media_references: Joi.object().pattern(Joi.string(), reference).required(),
});
const gap = Joi.object({ OTIO_SCHEMA: Joi.valid('Gap.1').required(), ...item, source_range: range.required() });
const track = Joi.object({
  OTIO_SCHEMA: Joi.valid('Track.1').required(),
  ...item,
  kind: Joi.valid('Video', 'Audio').required(),
  source_range: Joi.valid(null),
  children: Joi.array().items(clip, gap).required(),
});
const timeline = Joi.object({
  OTIO_SCHEMA: Joi.valid('Timeline.1').required(),
  ...{ name, metadata },
  global_start_time: time.allow(null),
  tracks: Joi.object({
    OTIO_SCHEMA: Joi.valid('Stack.1').required(),
    ...item,
    source_range: Joi.valid(null),
    children: Joi.array().items(track).required(),
  }).required(),
});

interface Time {
  rate: number;
  value: number;
}
interface Range {
  start_time: Time;
  duration: Time;
}
interface Item {
  OTIO_SCHEMA: string;
  source_range: Range;
  effects: { time_scalar: number }[];
  markers: { name: string; marked_range: Range }[];
  active_media_reference_key: string;
  media_references: Record<string, { target_url: string; available_range: Range }>;
}

const seconds = ({ rate, value }: Time) => value / rate;

/** What a track shows at a moment: the media, and where in it, frames from its first. */
export interface Shown {
  url: string;
  frame: number;
}

export interface ReadTrack {
  name: string;
  seconds: number;
  at(moment: number): Shown | null;
  /** Markers as frames of their media from its first. */
  markers: { name: string; url: string; frame: number }[];
}

/** Reads a timeline. @throws where it is not as the schema has it */
export function readTimeline(text: string): ReadTrack[] {
  const read = Joi.attempt(JSON.parse(text), timeline) as {
    tracks: { children: { name: string; children: Item[] }[] };
  };
  return read.tracks.children.map(({ name: called, children }) => {
    let start = 0;
    const items = children.map((own) => {
      const from = start;
      start += seconds(own.source_range.duration);
      const media = own.OTIO_SCHEMA === 'Clip.2' ? own.media_references[own.active_media_reference_key] : null;
      return { own, from, to: start, media };
    });
    const frameOf = (media: Item['media_references'][string], moment: number) => {
      const { start_time: first, duration } = media.available_range;
      return (moment - seconds(first)) * duration.rate;
    };
    return {
      name: called,
      seconds: start,
      at(moment) {
        const found = items.find((i) => moment >= i.from - 1e-9 && moment < i.to - 1e-9);
        if (!found?.media) return null;
        const scalar = found.own.effects.reduce((s, e) => s * e.time_scalar, 1);
        const within = seconds(found.own.source_range.start_time) + (moment - found.from) * scalar;
        return { url: found.media.target_url, frame: frameOf(found.media, within) };
      },
      markers: items.flatMap(({ own, media }) =>
        media
          ? own.markers.map((m) => ({
              name: m.name,
              url: media.target_url,
              frame: frameOf(media, seconds(m.marked_range.start_time)),
            }))
          : [],
      ),
    };
  });
}
