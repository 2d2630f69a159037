import { taken, type Assembly, type Cue, type Layer, type Piece, type Rate } from './assembly';

/**
 * Timelines in OpenTimelineIO's JSON, by its documented schema: Timeline.1, Stack.1, Track.1, Clip.2, Gap.1,
 * ExternalReference.1, LinearTimeWarp.1, FreezeFrame.1, Marker.2, TimeRange.1, RationalTime.1.
 */

/** The recording behind a take. */
export interface TimelineMedia {
  label: string;
  /** Where it lies, from the folder of the timeline, with "/" between folders. */
  path: string;
  rate: Rate;
  frames: number;
  /** The number of its first frame, as its own timecode counts; 0 where it has none. */
  first: number;
}

export interface TimelineOf {
  name: string;
  assembly: Assembly;
  media: ReadonlyMap<string, TimelineMedia>;
  cues: readonly Cue[];
  /** Said with the whole, for whoever reads it. */
  about: Record<string, unknown>;
}

const COLOURS = { cut: 'RED', beat: 'YELLOW', worst: 'ORANGE', key: 'CYAN' } as const;

const asNumber = ([over, under]: Rate) => over / under;
const time = (value: number, rate: Rate) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: asNumber(rate), value });
const range = (start: number, duration: number, rate: Rate) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(duration, rate),
});
/** Rates as doubles are read back by some; the fraction is said too. */
const fraction = ([over, under]: Rate) => `${over}/${under}`;

/** The timeline of a trick as JSON text. */
export function otioTimeline({ name, assembly, media, cues, about }: TimelineOf): string {
  const { rate, layers } = assembly;
  return JSON.stringify(
    {
      OTIO_SCHEMA: 'Timeline.1',
      name,
      metadata: { umbrastat: { ...about, rate: fraction(rate), cut_frame: assembly.cut } },
      global_start_time: null,
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        name: 'layers, the lowest first',
        metadata: {},
        source_range: null,
        effects: [],
        markers: [],
        enabled: true,
        children: layers.map((layer) => track(layer, rate, media, cues)),
      },
    },
    null,
    2,
  );
}

function track(layer: Layer, rate: Rate, media: TimelineOf['media'], cues: readonly Cue[]) {
  let at = 0;
  const children = layer.pieces.flatMap((piece) => {
    const gap = piece.start > at ? [gapOf(piece.start - at, rate)] : [];
    at = piece.start + piece.frames;
    return [...gap, clip(piece, rate, media.get(piece.take)!, cues)];
  });
  return {
    OTIO_SCHEMA: 'Track.1',
    name: layer.name,
    kind: 'Video',
    metadata: { umbrastat: { mask: layer.mask } },
    source_range: null,
    effects: [],
    markers: [],
    enabled: true,
    children,
  };
}

const gapOf = (frames: number, rate: Rate) => ({
  OTIO_SCHEMA: 'Gap.1',
  name: '',
  metadata: {},
  source_range: range(0, frames, rate),
  effects: [],
  markers: [],
  enabled: true,
});

function clip(piece: Piece, rate: Rate, media: TimelineMedia, cues: readonly Cue[]) {
  const own = media.rate;
  // What it lasts is said in its own rate: as much of it as would be shown at its own speed.
  const frames = taken({ ...piece, speed: 1 }, own, rate);
  const used = Math.max(1, taken(piece, own, rate));
  const shown = cues.filter((c) => c.take === piece.take && c.frame >= piece.from && c.frame < piece.from + used);
  return {
    OTIO_SCHEMA: 'Clip.2',
    name: media.label,
    metadata: { umbrastat: { rate: fraction(own), first_frame: piece.from } },
    source_range: range(media.first + piece.from, frames, own),
    effects: piece.speed === 1 ? [] : [warp(piece.speed)],
    markers: shown.map((c) => ({
      OTIO_SCHEMA: 'Marker.2',
      name: c.name,
      metadata: { umbrastat: { kind: c.kind, frame: c.frame } },
      color: COLOURS[c.kind],
      comment: '',
      marked_range: range(media.first + c.frame, 1, own),
    })),
    enabled: true,
    active_media_reference_key: 'DEFAULT_MEDIA',
    media_references: {
      DEFAULT_MEDIA: {
        OTIO_SCHEMA: 'ExternalReference.1',
        name: media.label,
        metadata: {},
        target_url: media.path.split('/').map(encodeURIComponent).join('/'),
        available_range: range(media.first, media.frames, own),
        available_image_bounds: null,
      },
    },
  };
}

const warp = (speed: number) => ({
  OTIO_SCHEMA: speed === 0 ? 'FreezeFrame.1' : 'LinearTimeWarp.1',
  name: '',
  metadata: {},
  effect_name: speed === 0 ? 'FreezeFrame' : 'LinearTimeWarp',
  time_scalar: speed,
});
