import { ask, numberOf, tidy, type SumSheet } from './kinds';

export interface Retime {
  /** Source frames that pass for one frame of the edit. */
  step: number;
  /** Source frames used, in order, for the first second of the edit. */
  used: number[];
  /** Frames of the edit's first second that show the same source frame as the one before. */
  repeats: number[];
  /** Frames of the edit, of the first second, that a blend would mix from two source frames. */
  blends: number[];
  /** Slowest speed at which no frame is shown twice, per cent of real. */
  cleanest_pct: number;
  /** Whether every frame of the edit shows the next source frame but a whole number on. */
  even: boolean;
  /** Shutter as it looks in the edit, degrees of a turn. */
  shutter_deg: number;
  /** Sped up or short enough shuttered that the movement falls into separate pictures. */
  strobes: boolean;
}

/** Below this look of the shutter, movement reads as separate pictures. */
export const STROBE_DEG = 90;

/**
 * What a change of speed does to the frames.
 *
 * Frame n of the edit shows source frame floor(n * speed * capture / delivery).
 * @param capture pictures a second as recorded
 * @param delivery pictures a second of the edit
 * @param speed 1 is real speed, 0.4 is slow motion
 * @param shutter exposure time, s
 * @throws RangeError when a value is not above 0
 */
export function retime(capture: number, delivery: number, speed: number, shutter: number): Retime {
  for (const [name, v] of [
    ['capture rate', capture],
    ['delivery rate', delivery],
    ['speed', speed],
    ['shutter', shutter],
  ] as const) {
    if (!(v > 0)) throw new RangeError(`The ${name} must be above 0.`);
  }
  const step = (speed * capture) / delivery;
  const count = Math.ceil(delivery);
  // A hair is added so that a whole step is not rounded down by the computer's own arithmetic.
  const place = (n: number) => n * step + 1e-9 * (1 + n * step);
  const used = Array.from({ length: count }, (_, n) => Math.floor(place(n)));
  const repeats = used.flatMap((f, n) => (n > 0 && f === used[n - 1] ? [n] : []));
  const blends = used.flatMap((f, n) => (place(n) - f > 1e-6 && f + 1 - place(n) > 1e-6 ? [n] : []));
  const shutter_deg = (360 * shutter * delivery) / speed;
  return {
    step,
    used,
    repeats,
    blends,
    cleanest_pct: (100 * delivery) / capture,
    even: Math.abs(step - Math.round(step)) < 1e-6 && step > 0.5,
    shutter_deg,
    strobes: shutter_deg < STROBE_DEG,
  };
}

/** The least rate of recording at which a speed shows no frame twice, frames a second. */
export function rateNeeded(delivery: number, speed: number): number {
  return delivery / speed;
}

export const RETIME: SumSheet = {
  kind: 'retime',
  name: 'Slow-down and speed-up',
  answers: 'Is the rate high enough for the planned speed, and what happens to the frames?',
  inputs: [
    ask('capture', 'Recorded at', 'fps', 50, 1, 1000),
    ask('delivery', 'Delivery', 'fps', 25, 1, 240),
    ask('speed', 'Speed in the edit', '%', 40, 1, 2000),
    ask('shutter', 'Shutter: one over', '1/s', 100, 1, 8000),
    ask('seconds', 'Length in the edit', 's', 4, 0.1, 3600),
  ],
  work: (values) => {
    const n = (key: string) => numberOf(RETIME, values, key);
    const [capture, delivery, speed, shutter] = [n('capture'), n('delivery'), n('speed') / 100, n('shutter')];
    const r = retime(capture, delivery, speed, 1 / shutter);
    const cautions: string[] = [];
    if (r.repeats.length)
      cautions.push(
        `${r.repeats.length} of ${r.used.length} frames a second are repeats, first at frame ${r.repeats[0]}. ` +
          `Record at ${tidy(rateNeeded(delivery, speed))} fps or more, or go no slower than ${tidy(r.cleanest_pct)} %.`,
      );
    else if (!r.even)
      cautions.push(
        `The steps are uneven: ${r.blends.length} of ${r.used.length} frames a second would be blends. Even ` +
          `speeds here: ${evenSpeeds(capture, delivery)}.`,
      );
    if (r.strobes)
      cautions.push(
        `Movement will strobe: the shutter looks like ${tidy(r.shutter_deg)}°. Use ` +
          `1/${tidy((360 * delivery) / (180 * speed))} s for a usual blur.`,
      );
    return {
      answers: [
        { label: 'shown a second', value: tidy(Math.min(1, r.step) * delivery), unit: 'distinct frames', main: true },
        { label: 'repeats a second', value: String(r.repeats.length), unit: 'frames' },
        ...(r.repeats.length ? [{ label: 'repeated at, of each second', value: places(r.repeats), unit: '' }] : []),
        ...(r.blends.length ? [{ label: 'blended at, if blended', value: places(r.blends), unit: '' }] : []),
        { label: 'slowest clean speed', value: tidy(r.cleanest_pct), unit: '%' },
        { label: 'to record', value: tidy(n('seconds') * speed), unit: 's' },
        { label: 'frames used', value: tidy(Math.ceil(n('seconds') * speed * capture), 6), unit: '' },
        { label: 'shutter looks like', value: tidy(r.shutter_deg), unit: '°' },
      ],
      working: `${tidy(speed)} × ${tidy(capture)} fps ÷ ${tidy(delivery)} fps = ${tidy(r.step)} source frames for each frame of the edit`,
      cautions,
      curve: {
        xLabel: 'speed, %',
        yLabel: 'repeats a second',
        at: { x: speed * 100, y: r.repeats.length },
        points: Array.from({ length: 20 }, (_, i) => ({
          x: 5 * (i + 1),
          y: retime(capture, delivery, (i + 1) / 20, 1 / shutter).repeats.length,
        })),
      },
    };
  },
};

/** Frame numbers to be read out: the first few. */
function places(frames: readonly number[]): string {
  return `${frames.slice(0, 6).join(', ')}${frames.length > 6 ? ' …' : ''}`;
}

function evenSpeeds(capture: number, delivery: number): string {
  return [1, 2, 3, 4].map((k) => `${tidy((100 * k * delivery) / capture)} %`).join(', ');
}
