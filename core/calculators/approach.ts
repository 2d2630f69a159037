import { angleOfView, fieldAt, lensArea, LENS_INPUTS } from './cover';
import { ask, numberOf, textOf, tidy, type SumSheet } from './kinds';

export interface PanPast {
  /** Angle the object takes up and the lens sees, degrees. */
  objectDeg: number;
  viewDeg: number;
  fullFrames: number;
  edgeFrames: number;
  /** Frames from its first edge in view until it fills the frame; null when it never does. */
  fillFrame: number | null;
}

/**
 * A pan past a near object in the middle of its width: frames of full cover and frames with an edge in view.
 * @param rate degrees a second
 */
export function panPast(
  width: number,
  distance: number,
  focalMm: number,
  sensorWidth: number,
  rate: number,
  fps: number,
): PanPast {
  const objectDeg = (2 * Math.atan(width / (2 * distance)) * 180) / Math.PI;
  const viewDeg = angleOfView(focalMm, sensorWidth);
  const full = (Math.max(0, objectDeg - viewDeg) / rate) * fps;
  return {
    objectDeg,
    viewDeg,
    fullFrames: Math.floor(full),
    edgeFrames: Math.ceil(((objectDeg + viewDeg) / rate) * fps - full),
    fillFrame: objectDeg >= viewDeg ? Math.ceil((viewDeg / rate) * fps) : null,
  };
}

export interface WalkIn {
  /** Distance at which the flat thing fills the frame, metres, and the frame at which it is reached; null when the walk starts nearer. */
  fillsAt: number;
  fillFrame: number | null;
  /** Share of the frame's area it covers at the start, 0 to 1. */
  startShare: number;
}

/** Walking up to a flat thing, square to it and to its middle. */
export function walkIn(
  width: number,
  height: number,
  start: number,
  speed: number,
  fps: number,
  focalMm: number,
  sensorWidth: number,
  sensorHeight: number,
): WalkIn {
  const fillsAt = Math.min((width * focalMm) / sensorWidth, (height * focalMm) / sensorHeight);
  const startShare =
    Math.min(1, width / fieldAt(start, focalMm, sensorWidth)) *
    Math.min(1, height / fieldAt(start, focalMm, sensorHeight));
  return { fillsAt, startShare, fillFrame: start <= fillsAt ? null : Math.ceil(((start - fillsAt) / speed) * fps) };
}

export const PAN_PAST: SumSheet = {
  kind: 'pan-past',
  name: 'Pan or slide past something',
  answers: 'Does the near object fill the frame on the way, and for how long?',
  inputs: [
    {
      key: 'move',
      label: 'The camera',
      kind: 'choice',
      usual: 'pan',
      options: [
        { value: 'pan', label: 'pans' },
        { value: 'slide', label: 'slides sideways' },
      ],
    },
    ask('width', 'Object’s width', 'm', 0.6, 0.01, 100),
    ask('distance', 'Distance from the lens', 'm', 0.5, 0.05, 1000),
    ask('rate', 'Speed of the pan', '°/s', 40, 0.1, 1000),
    ask('speed', 'Speed of the slide', 'm/s', 0.4, 0.01, 50),
    ask('fps', 'Rate', 'fps', 25, 1, 1000),
    ...LENS_INPUTS,
  ],
  work: (values) => {
    const n = (key: string) => numberOf(PAN_PAST, values, key);
    const area = lensArea(PAN_PAST, values);
    const pans = textOf(PAN_PAST, values, 'move') === 'pan';
    const field = fieldAt(n('distance'), n('focal'), area.width);
    const pan = panPast(n('width'), n('distance'), n('focal'), area.width, n('rate'), n('fps'));
    const fullSlide = (Math.max(0, n('width') - field) / n('speed')) * n('fps');
    const full = pans ? pan.fullFrames : Math.floor(fullSlide);
    const edge = pans ? pan.edgeFrames : Math.ceil(((n('width') + field) / n('speed')) * n('fps') - fullSlide);
    const fill = pans ? pan.fillFrame : n('width') >= field ? Math.ceil((field / n('speed')) * n('fps')) : null;
    const share = pans ? pan.objectDeg / pan.viewDeg : n('width') / field;
    return {
      answers: [
        { label: 'of the width', value: tidy(Math.min(1, share) * 100), unit: '%', main: true },
        { label: 'fully covered', value: String(full), unit: 'frames', main: true },
        { label: 'frames to mask', value: String(edge), unit: 'frames' },
        { label: 'fills, from its first edge on', value: fill === null ? 'never' : `frame ${fill}`, unit: '' },
      ],
      working: pans
        ? `the object spans ${tidy(pan.objectDeg)}°, the lens sees ${tidy(pan.viewDeg)}°; ` +
          `(${tidy(pan.objectDeg)} − ${tidy(pan.viewDeg)})° ÷ ${tidy(n('rate'))} °/s × ${tidy(n('fps'))} fps`
        : `the lens sees ${tidy(field)} m there; (${tidy(n('width'))} − ${tidy(field)}) m ÷ ${tidy(n('speed'))} ` +
          `m/s × ${tidy(n('fps'))} fps`,
      cautions:
        full < 1
          ? ['It does not fill the frame on the way: go nearer, or use a longer lens.']
          : full < 3
            ? ['Few frames are covered: move slower past it.']
            : [],
    };
  },
};

export const WALK_IN: SumSheet = {
  kind: 'walk-in',
  name: 'Walking up to something',
  answers: 'How near must one go until it fills the frame, and at which frame is that?',
  inputs: [
    ask('width', 'Width of the flat thing', 'm', 0.9, 0.01, 100),
    ask('height', 'Its height', 'm', 2, 0.01, 100),
    ask('start', 'Start at', 'm', 4, 0.05, 1000),
    ask('speed', 'Walking speed', 'm/s', 1, 0.01, 50),
    ask('fps', 'Rate', 'fps', 25, 1, 1000),
    ...LENS_INPUTS,
  ],
  work: (values) => {
    const n = (key: string) => numberOf(WALK_IN, values, key);
    const area = lensArea(WALK_IN, values);
    const r = walkIn(n('width'), n('height'), n('start'), n('speed'), n('fps'), n('focal'), area.width, area.height);
    return {
      answers: [
        { label: 'fills the frame at', value: tidy(r.fillsAt), unit: 'm', main: true },
        { label: 'that is frame', value: r.fillFrame === null ? '0' : String(r.fillFrame), unit: '', main: true },
        { label: 'covered at the start', value: tidy(r.startShare * 100), unit: '%' },
      ],
      working:
        `the smaller of ${tidy(n('width'))} m × ${tidy(n('focal'))} ÷ ${tidy(area.width)} and ` +
        `${tidy(n('height'))} m × ${tidy(n('focal'))} ÷ ${tidy(area.height)}`,
      cautions:
        r.fillFrame === null
          ? ['It fills the frame from the start.']
          : r.fillsAt < 0.3
            ? [`${tidy(r.fillsAt)} m is nearer than most lenses focus: use something larger, or a longer lens.`]
            : [],
      curve: {
        xLabel: 'distance, m',
        yLabel: 'covered, %',
        at: { x: n('start'), y: 100 * r.startShare },
        points: Array.from({ length: 20 }, (_, i) => {
          const d = (n('start') * (i + 1)) / 20;
          return {
            x: d,
            y: 100 * walkIn(n('width'), n('height'), d, 1, 25, n('focal'), area.width, area.height).startShare,
          };
        }),
      },
    };
  },
};
