import { ask, numberOf, textOf, tidy, type SumSheet } from './kinds';

/** Minutes for one key frame of a mask, by its shape. Starting points from which a team goes on with its own. */
export const SHAPES: Record<string, { label: string; minutes: number }> = {
  line: { label: 'a straight edge', minutes: 0.7 },
  solid: { label: 'a box, a cart', minutes: 1.5 },
  body: { label: 'a figure', minutes: 4 },
  fine: { label: 'hair, leaves, cloth', minutes: 9 },
};

export interface MaskWork {
  keys: number;
  low_h: number;
  high_h: number;
}

/**
 * Time to draw a moving mask, as a range.
 * @param spacing frames from one key to the next
 * @param perKey minutes a key frame
 * @param perFrame seconds to look over one frame
 * @param spread the range reaches from 1/spread to spread times the middle
 */
export function maskWork(frames: number, spacing: number, perKey: number, perFrame: number, spread: number): MaskWork {
  const keys = frames <= 0 ? 0 : Math.ceil(frames / spacing) + 1;
  const hours = (keys * perKey + (frames * perFrame) / 60) / 60;
  return { keys, low_h: hours / spread, high_h: hours * spread };
}

export const MASK_WORK: SumSheet = {
  kind: 'mask-work',
  name: 'Work of masking',
  answers: 'How many hours will the mask take?',
  inputs: [
    ask('frames', 'Frames with a moving edge', 'frames', 40, 0, 100000),
    {
      key: 'shape',
      label: 'Shape',
      kind: 'choice',
      usual: 'body',
      options: Object.entries(SHAPES).map(([value, s]) => ({ value, label: s.label })),
    },
    ask('spacing', 'A key frame every', 'frames', 4, 1, 1000),
    ask('per_key', 'Minutes a key frame; 0 takes the shape’s', 'min', 0, 0, 600),
    ask('per_frame', 'Looking over one frame', 's', 6, 0, 600),
    ask('spread', 'The range: up to this many times', '×', 1.8, 1, 10),
  ],
  work: (values) => {
    const n = (key: string) => numberOf(MASK_WORK, values, key);
    const shape = SHAPES[textOf(MASK_WORK, values, 'shape')];
    const perKey = n('per_key') || shape.minutes;
    const r = maskWork(n('frames'), n('spacing'), perKey, n('per_frame'), n('spread'));
    return {
      answers: [
        { label: 'from', value: tidy(r.low_h, 2), unit: 'h', main: true },
        { label: 'to', value: tidy(r.high_h, 2), unit: 'h', main: true },
        { label: 'key frames', value: String(r.keys), unit: '' },
      ],
      working:
        `${r.keys} keys × ${tidy(perKey)} min + ${tidy(n('frames'), 6)} frames × ${tidy(n('per_frame'))} ` +
        `s, times and over ${tidy(n('spread'))}`,
      cautions: [],
      curve: {
        xLabel: 'frames with a moving edge',
        yLabel: 'hours, middle',
        at: { x: n('frames'), y: Math.sqrt(r.low_h * r.high_h) },
        points: Array.from({ length: 11 }, (_, i) => {
          const frames = (Math.max(20, 2 * n('frames')) * i) / 10;
          const w = maskWork(frames, n('spacing'), perKey, n('per_frame'), n('spread'));
          return { x: frames, y: Math.sqrt(w.low_h * w.high_h) };
        }),
      },
    };
  },
};
