import { ask, numberOf, tidy, type SumSheet } from './kinds';

export interface Headroom {
  /** Recorded pixels across the picture at 100 % of push, after cutting to the delivery's shape. */
  fittedWidth: number;
  /** What is left at the end of the push: per cent of the delivery's width, and pixels; below 0 it must be enlarged. */
  left_pct: number;
  left_px: number;
  /** The largest push that needs no enlarging, per cent. */
  mostPush_pct: number;
}

/**
 * Pixels left when a picture recorded larger than delivery is pushed into.
 * @param push_pct largest push of the two ends, 100 is the whole picture
 * @param edge_pct share of the width lost to a warp or to steadying, per cent
 */
export function headroom(
  captureWidth: number,
  captureHeight: number,
  deliveryWidth: number,
  deliveryHeight: number,
  push_pct: number,
  edge_pct: number,
): Headroom {
  const aspect = deliveryWidth / deliveryHeight;
  const fittedWidth = Math.min(captureWidth, captureHeight * aspect);
  const usable = fittedWidth * (1 - edge_pct / 100);
  const shown = usable / (push_pct / 100);
  return {
    fittedWidth,
    left_pct: (shown / deliveryWidth - 1) * 100,
    left_px: shown - deliveryWidth,
    mostPush_pct: (100 * usable) / deliveryWidth,
  };
}

export const HEADROOM: SumSheet = {
  kind: 'headroom',
  name: 'Headroom for a push',
  answers: 'Is the picture recorded large enough for the push, with something spare for the edges?',
  inputs: [
    ask('capture_width', 'Recorded width', 'px', 3840, 16, 16384),
    ask('capture_height', 'Recorded height', 'px', 2160, 16, 16384),
    ask('delivery_width', 'Delivery width', 'px', 1920, 16, 16384),
    ask('delivery_height', 'Delivery height', 'px', 1080, 16, 16384),
    ask('start', 'Push starts at', '%', 100, 100, 1000),
    ask('end', 'Push ends at', '%', 140, 100, 1000),
    ask('edge', 'Lost at the edges (warp, steadying)', '%', 4, 0, 50),
  ],
  work: (values) => {
    const n = (key: string) => numberOf(HEADROOM, values, key);
    const most = Math.max(n('start'), n('end'));
    const r = headroom(
      n('capture_width'),
      n('capture_height'),
      n('delivery_width'),
      n('delivery_height'),
      most,
      n('edge'),
    );
    return {
      answers: [
        { label: 'left at the end', value: tidy(r.left_pct), unit: '%', main: true },
        { label: 'that is', value: tidy(r.left_px, 5), unit: 'px across' },
        { label: 'largest clean push', value: tidy(r.mostPush_pct), unit: '%' },
      ],
      working:
        `${tidy(r.fittedWidth, 5)} px × ${tidy(1 - n('edge') / 100)} ÷ ${tidy(most / 100)} = ` +
        `${tidy(r.left_px + n('delivery_width'), 5)} px for ${tidy(n('delivery_width'), 5)} px`,
      cautions:
        r.left_pct < 0
          ? [
              `The picture must be enlarged by ${tidy((-100 * r.left_pct) / (100 + r.left_pct))} % at the end. ` +
                `Record larger, or push to ${tidy(r.mostPush_pct)} % at most.`,
            ]
          : [],
    };
  },
};
