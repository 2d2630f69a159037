import { ask, numberOf, textOf, tidy, type SumSheet } from './kinds';

/** A counting rate: frames to the second as counted, and whether numbers are dropped to keep pace with the clock. */
export interface TimecodeRate {
  nominal: number;
  drop: boolean;
}

/** Numbers left out at the start of each minute but every tenth: two at 30, four at 60. */
const dropped = (rate: TimecodeRate) => (rate.drop ? rate.nominal / 15 : 0);

function check(rate: TimecodeRate): void {
  if (!Number.isInteger(rate.nominal) || rate.nominal < 1 || rate.nominal > 240)
    throw new RangeError('A timecode counts a whole number of frames to the second, 1 to 240.');
  if (rate.drop && rate.nominal % 30 !== 0)
    throw new RangeError('Numbers are dropped only when counting 30 or 60 frames to the second.');
}

/**
 * A frame's timecode, hh:mm:ss:ff, with a semicolon before the frames when numbers are dropped (SMPTE ST 12-1).
 * @param frame from 0, a whole number below 24 hours
 * @throws RangeError
 */
export function toTimecode(frame: number, rate: TimecodeRate): string {
  check(rate);
  if (!Number.isInteger(frame) || frame < 0) throw new RangeError('Frames are counted from 0 in whole numbers.');
  const { nominal } = rate;
  let n = frame;
  const d = dropped(rate);
  if (d) {
    const tenMinutes = nominal * 600 - 9 * d;
    const minute = nominal * 60 - d;
    const tens = Math.floor(frame / tenMinutes);
    const rest = frame % tenMinutes;
    n += 9 * d * tens + (rest > d ? d * Math.floor((rest - d) / minute) : 0);
  }
  const two = (v: number) => String(v).padStart(2, '0');
  const seconds = Math.floor(n / nominal);
  const clock = [Math.floor(seconds / 3600) % 24, Math.floor(seconds / 60) % 60, seconds % 60].map(two).join(':');
  return `${clock}${rate.drop ? ';' : ':'}${two(n % nominal)}`;
}

/** The frame of a timecode. @throws RangeError when it is no timecode of this rate */
export function fromTimecode(text: string, rate: TimecodeRate): number {
  check(rate);
  const match = /^(\d{1,2}):(\d{2}):(\d{2})[:;](\d{2,3})$/.exec(text.trim());
  if (!match) throw new RangeError(`"${text}" is not a timecode. Write it like 01:02:03:04.`);
  const [h, m, s, f] = match.slice(1).map(Number);
  const { nominal } = rate;
  const d = dropped(rate);
  if (m > 59 || s > 59 || f >= nominal || h > 23)
    throw new RangeError(`"${text}" does not exist at ${nominal} frames to the second.`);
  if (d && s === 0 && f < d && m % 10 !== 0)
    throw new RangeError(
      `"${text}" is one of the numbers that are left out. The next is ${h}:${m}:00;${String(d).padStart(2, '0')}.`,
    );
  const minutes = h * 60 + m;
  return (minutes * 60 + s) * nominal + f - d * (minutes - Math.floor(minutes / 10));
}

/** Rates one meets, with how they are counted. */
export const TIMECODE_RATES: Record<string, TimecodeRate & { fps: number; label: string }> = {
  '23.976': { nominal: 24, drop: false, fps: 24000 / 1001, label: '23.976' },
  24: { nominal: 24, drop: false, fps: 24, label: '24' },
  25: { nominal: 25, drop: false, fps: 25, label: '25' },
  '29.97': { nominal: 30, drop: false, fps: 30000 / 1001, label: '29.97, no numbers dropped' },
  '29.97-drop': { nominal: 30, drop: true, fps: 30000 / 1001, label: '29.97, drop-frame' },
  30: { nominal: 30, drop: false, fps: 30, label: '30' },
  50: { nominal: 50, drop: false, fps: 50, label: '50' },
  '59.94-drop': { nominal: 60, drop: true, fps: 60000 / 1001, label: '59.94, drop-frame' },
  60: { nominal: 60, drop: false, fps: 60, label: '60' },
};

export const TIMECODE: SumSheet = {
  kind: 'timecode',
  name: 'Seconds, frames, timecode',
  answers: 'How many frames is that, and what does the counter show?',
  inputs: [
    {
      key: 'rate',
      label: 'Rate',
      kind: 'choice',
      usual: '25',
      options: Object.entries(TIMECODE_RATES)
        .map(([value, r]) => ({ value, label: r.label }))
        .sort((a, b) => parseFloat(a.label) - parseFloat(b.label)),
    },
    {
      key: 'from',
      label: 'Start from',
      kind: 'choice',
      usual: 'seconds',
      options: [
        { value: 'seconds', label: 'seconds' },
        { value: 'frames', label: 'frames' },
        { value: 'timecode', label: 'a timecode' },
      ],
    },
    ask('seconds', 'Seconds', 's', 60, 0, 86399),
    ask('frames', 'Frames', '', 1500, 0, 10_000_000),
    { key: 'timecode', label: 'Timecode', kind: 'text', usual: '00:01:00:00', hint: 'hh:mm:ss:ff' },
  ],
  work: (values) => {
    const rate = TIMECODE_RATES[textOf(TIMECODE, values, 'rate')];
    const from = textOf(TIMECODE, values, 'from');
    const frames =
      from === 'seconds'
        ? Math.round(numberOf(TIMECODE, values, 'seconds') * rate.fps)
        : from === 'frames'
          ? Math.round(numberOf(TIMECODE, values, 'frames'))
          : fromTimecode(textOf(TIMECODE, values, 'timecode'), rate);
    const seconds = frames / rate.fps;
    const shown = toTimecode(frames, rate);
    return {
      answers: [
        { label: 'timecode', value: shown, unit: '', main: true },
        { label: 'frames', value: String(frames), unit: '' },
        { label: 'real time', value: tidy(seconds, 6), unit: 's' },
      ],
      working:
        `${frames} frames ÷ ${tidy(rate.fps, 5)} fps = ${tidy(seconds, 6)} ` +
        `s${rate.drop ? '; counted without the first numbers of each minute but every tenth' : ''}`,
      cautions:
        rate.fps !== rate.nominal && !rate.drop && seconds > 30
          ? [`This counter falls behind the clock by ${tidy(seconds - frames / rate.nominal, 3)} s here.`]
          : [],
    };
  },
};
