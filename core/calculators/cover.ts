import { ask, numberOf, tidy, type SumSheet } from './kinds';
import { usedArea } from './sensors';

/** What the lens sees at a distance, metres (pinhole: size = distance * sensor / focal length). */
export function fieldAt(distance: number, focalMm: number, sensorMm: number): number {
  return (distance * sensorMm) / focalMm;
}

/** Angle of view across a side of the sensor, degrees (pinhole, focused far away). */
export function angleOfView(focalMm: number, sensorMm: number): number {
  return (2 * Math.atan(sensorMm / (2 * focalMm)) * 180) / Math.PI;
}

export interface CoverInput {
  /** The object, metres; `base` is its lower edge over ground. */
  width: number;
  height: number;
  base: number;
  /** From the lens to where it crosses, metres. */
  distance: number;
  focalMm: number;
  /** The part of the sensor that makes the picture, mm. */
  sensorWidth: number;
  sensorHeight: number;
  /** Height of the lens over ground, metres; the camera is level. */
  cameraHeight: number;
  /** Speed across the picture, m/s, and frames a second. */
  speed: number;
  fps: number;
}

export interface Cover {
  /** Share of the frame's width and height the object takes up when it stands in the middle, 0 to 1. */
  across: number;
  down: number;
  /** Farthest distance at which it covers the whole frame, metres; 0 when it never does (lens above or below it). */
  coversFrom: number;
  /** Frames of full cover; 0 when it does not cover. */
  fullFrames: number;
  /** Frames in which an edge of it is in the picture: those to be masked. */
  edgeFrames: number;
}

/** How much of the frame an object covers that crosses in front of a level camera. */
export function cover(i: CoverInput): Cover {
  const fieldWidth = fieldAt(i.distance, i.focalMm, i.sensorWidth);
  const fieldHeight = fieldAt(i.distance, i.focalMm, i.sensorHeight);
  const low = Math.max(i.base, i.cameraHeight - fieldHeight / 2);
  const high = Math.min(i.base + i.height, i.cameraHeight + fieldHeight / 2);
  const reach = Math.min(i.cameraHeight - i.base, i.base + i.height - i.cameraHeight);
  const coversFrom =
    reach <= 0 ? 0 : Math.min((i.width * i.focalMm) / i.sensorWidth, (2 * reach * i.focalMm) / i.sensorHeight);
  const covers = i.distance <= coversFrom;
  const frames = (metres: number) => (i.speed > 0 ? (metres / i.speed) * i.fps : 0);
  const full = covers ? Math.max(0, frames(i.width - fieldWidth)) : 0;
  return {
    across: Math.min(1, i.width / fieldWidth),
    down: Math.max(0, high - low) / fieldHeight,
    coversFrom,
    fullFrames: Math.floor(full),
    edgeFrames: Math.ceil(frames(i.width + fieldWidth) - full),
  };
}

/** The inputs every sum about a lens asks for. */
export const LENS_INPUTS = [
  ask('focal', 'Focal length', 'mm', 35, 1, 2000),
  ask('sensor_width', 'Sensor width', 'mm', 36, 1, 100),
  ask('sensor_height', 'Sensor height', 'mm', 24, 1, 100),
  ask('aspect', 'Width by height', '', 1.778, 0.4, 4),
];

/** The used area of the sensor from the inputs above. */
export function lensArea(sheet: SumSheet, values: Parameters<typeof numberOf>[1]) {
  return usedArea(
    numberOf(sheet, values, 'sensor_width'),
    numberOf(sheet, values, 'sensor_height'),
    numberOf(sheet, values, 'aspect'),
  );
}

export const COVER: SumSheet = {
  kind: 'cover',
  name: 'Cover by something that crosses',
  answers: 'Can it fill the frame from there, for how many frames, and how many must be masked?',
  inputs: [
    ask('width', 'Object’s width', 'm', 1.2, 0.01, 100),
    ask('height', 'Object’s height', 'm', 1.9, 0.01, 100),
    ask('base', 'Lower edge is at', 'm', 0, 0, 50),
    ask('distance', 'Distance from the lens', 'm', 0.9, 0.05, 1000),
    ask('camera_height', 'Lens over ground', 'm', 1.3, 0, 50),
    ask('speed', 'Speed of crossing', 'm/s', 1.4, 0.01, 100),
    ask('fps', 'Rate', 'fps', 25, 1, 1000),
    ...LENS_INPUTS,
  ],
  work: (values) => {
    const n = (key: string) => numberOf(COVER, values, key);
    const area = lensArea(COVER, values);
    const input: CoverInput = {
      width: n('width'),
      height: n('height'),
      base: n('base'),
      distance: n('distance'),
      focalMm: n('focal'),
      sensorWidth: area.width,
      sensorHeight: area.height,
      cameraHeight: n('camera_height'),
      speed: n('speed'),
      fps: n('fps'),
    };
    const r = cover(input);
    const cautions: string[] = [];
    if (r.coversFrom === 0)
      cautions.push('The lens looks past it: raise or lower the camera to the middle of the object.');
    else if (r.fullFrames < 1)
      cautions.push(
        `It does not cover the frame. Let it cross at ${tidy(r.coversFrom, 2)} m or nearer, or use a longer lens.`,
      );
    else if (r.fullFrames < 3)
      cautions.push(`Only ${r.fullFrames} frames are covered: slower, nearer or wider makes the cut safer.`);
    return {
      answers: [
        { label: 'of the width', value: tidy(r.across * 100), unit: '%', main: true },
        { label: 'of the height', value: tidy(r.down * 100), unit: '%', main: true },
        { label: 'covers from', value: tidy(r.coversFrom), unit: 'm' },
        { label: 'fully covered', value: String(r.fullFrames), unit: 'frames' },
        { label: 'frames to mask', value: String(r.edgeFrames), unit: 'frames' },
      ],
      working:
        `the lens sees ${tidy(fieldAt(input.distance, input.focalMm, area.width))} × ` +
        `${tidy(fieldAt(input.distance, input.focalMm, area.height))} m there (${tidy(input.distance)} m × ` +
        `${tidy(area.width)} mm ÷ ${tidy(input.focalMm)} mm)`,
      cautions,
      curve: {
        xLabel: 'distance, m',
        yLabel: 'least cover, %',
        at: { x: input.distance, y: 100 * Math.min(r.across, r.down) },
        points: Array.from({ length: 20 }, (_, i) => {
          const distance = ((i + 1) / 20) * Math.max(2 * input.distance, 2 * r.coversFrom);
          const c = cover({ ...input, distance });
          return { x: distance, y: 100 * Math.min(c.across, c.down) };
        }),
      },
    };
  },
};
