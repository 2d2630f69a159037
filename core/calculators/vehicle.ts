import { ask, numberOf, tidy, type SumSheet } from './kinds';

export interface VehicleSpeed {
  /** Speed in the edit, per cent of real. */
  retime_pct: number;
  /** Exposure that keeps the blur of the wished look, s, and the longest this rate allows, s. */
  shutter: number;
  longest: number;
  /** The look of the blur with the shutter that is possible, degrees. */
  look_deg: number;
  /** Rate at which every recorded frame is used once, fps. */
  evenRate: number;
}

/**
 * A vehicle or runner filmed at a safe speed and sped up: with the factor k = wanted / safe, an exposure of k * angle
 * / 360 / delivery smears it as the wanted speed would. No exposure is longer than the time from frame to frame.
 */
export function vehicleSpeed(
  safe: number,
  wanted: number,
  capture: number,
  delivery: number,
  angle_deg: number,
): VehicleSpeed {
  const factor = wanted / safe;
  const shutter = (factor * angle_deg) / 360 / delivery;
  const longest = 1 / capture;
  return {
    retime_pct: factor * 100,
    shutter,
    longest,
    look_deg: (360 * delivery * Math.min(shutter, longest)) / factor,
    evenRate: delivery / factor,
  };
}

export const VEHICLE: SumSheet = {
  kind: 'vehicle',
  name: 'Vehicle or runner',
  answers: 'How much must a safe pass be sped up, and which shutter keeps its blur right?',
  inputs: [
    ask('safe', 'Safe speed on set', 'km/h', 10, 0.1, 400),
    ask('wanted', 'Speed wanted on screen', 'km/h', 40, 0.1, 1000),
    ask('capture', 'Recorded at', 'fps', 25, 1, 1000),
    ask('delivery', 'Delivery', 'fps', 25, 1, 240),
    ask('angle', 'Look of the blur', '°', 180, 1, 360),
  ],
  work: (values) => {
    const n = (key: string) => numberOf(VEHICLE, values, key);
    const r = vehicleSpeed(n('safe'), n('wanted'), n('capture'), n('delivery'), n('angle'));
    const possible = Math.min(r.shutter, r.longest);
    return {
      answers: [
        { label: 'speed in the edit', value: tidy(r.retime_pct), unit: '%', main: true },
        { label: 'shutter', value: `1/${tidy(1 / possible)}`, unit: 's', main: true },
        { label: 'blur looks like', value: tidy(r.look_deg), unit: '°' },
        { label: 'every frame used once at', value: tidy(r.evenRate), unit: 'fps' },
      ],
      working:
        `${tidy(n('wanted'))} ÷ ${tidy(n('safe'))} = ${tidy(r.retime_pct / 100)} ×; blur wants ` +
        `${tidy(r.retime_pct / 100)} × ${tidy(n('angle'))}° ÷ 360° ÷ ${tidy(n('delivery'))} fps = ${tidy(r.shutter)} s`,
      cautions:
        r.shutter > r.longest * 1.0001
          ? [
              `At ${tidy(n('capture'))} fps no shutter is that long. Record at ${tidy(r.evenRate)} fps, or add blur in the edit.`,
            ]
          : [],
    };
  },
};
