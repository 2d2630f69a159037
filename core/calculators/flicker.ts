import { ask, numberOf, textOf, tidy, type SumSheet } from './kinds';

export interface LampFlicker {
  /** Lamps on the mains pulse at twice its frequency, Hz. */
  pulse_hz: number;
  /** Share of a lamp's pulsing that is left after the exposure's averaging, 0 to 1. */
  left: number;
  /** Frequency at which it is seen in the clip, Hz; 0 when every frame meets the same phase. */
  seen_hz: number;
}

/** What an exposure leaves of a lamp's pulsing: |sin(pi f T) / (pi f T)|, seen at the alias of f by the frame rate. */
export function lampFlicker(mains_hz: number, fps: number, shutter: number): LampFlicker {
  const pulse_hz = 2 * mains_hz;
  const x = Math.PI * pulse_hz * shutter;
  return {
    pulse_hz,
    left: x === 0 ? 1 : Math.abs(Math.sin(x) / x),
    seen_hz: Math.abs(pulse_hz - Math.round(pulse_hz / fps) * fps),
  };
}

/** Exposures that hold whole pulses of the lamps, s, longest first, none longer than a frame. */
export function steadyShutters(mains_hz: number, fps: number): number[] {
  const out: number[] = [];
  for (let k = Math.floor((2 * mains_hz) / fps + 1e-9); k >= 1; k--) out.push(k / (2 * mains_hz));
  return out;
}

/** Less of a lamp's pulsing than this is not seen. */
const SEEN = 0.02;

export const FLICKER: SumSheet = {
  kind: 'flicker',
  name: 'Mains flicker',
  answers: 'Which shutters do not flicker under these lamps?',
  inputs: [
    {
      key: 'mains',
      label: 'Mains',
      kind: 'choice',
      usual: '50',
      options: [
        { value: '50', label: '50 Hz' },
        { value: '60', label: '60 Hz' },
      ],
    },
    ask('fps', 'Rate', 'fps', 25, 1, 1000),
    ask('shutter', 'Shutter: one over', '1/s', 60, 1, 8000),
  ],
  work: (values) => {
    const mains = Number(textOf(FLICKER, values, 'mains'));
    const fps = numberOf(FLICKER, values, 'fps');
    const shutter = numberOf(FLICKER, values, 'shutter');
    const r = lampFlicker(mains, fps, 1 / shutter);
    const steady = steadyShutters(mains, fps);
    const safe = steady.length ? steady.map((s) => `1/${tidy(1 / s)}`).join(', ') : 'none at this rate';
    const calm = r.left < SEEN || r.seen_hz < 0.02;
    return {
      answers: [
        {
          label: calm ? 'steady' : 'flickers at',
          value: calm ? 'yes' : tidy(r.seen_hz),
          unit: calm ? '' : 'Hz',
          main: true,
        },
        { label: 'of the pulsing is left', value: tidy(r.left * 100), unit: '%' },
        { label: 'steady shutters', value: safe, unit: 's' },
      ],
      working:
        `lamps pulse at 2 × ${mains} = ${r.pulse_hz} Hz; an exposure of a whole number of pulses ` +
        `(1/${r.pulse_hz} s) averages them out`,
      cautions: calm
        ? []
        : [
            steady.length
              ? `Use one of these: ${safe} s.`
              : `At ${tidy(fps)} fps every exposure is shorter than a pulse: use lamps that do not pulse, or daylight.`,
          ],
    };
  },
};
