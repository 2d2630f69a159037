import type { PairFound } from '../report/pair-types';
import { fieldAt, lensArea, LENS_INPUTS } from './cover';
import { ask, numberOf, tidy, type SumSheet } from './kinds';

export interface DoubleRoom {
  /** Width of the picture at the performers' distance, m. */
  field: number;
  /** From mark to mark, m, for the wished feather between the two. */
  marks: number;
  /** What is left between the performers and the frame's edges together, m; below 0 they do not fit. */
  spare: number;
}

/** Room between two marks so that a seam of a wished feather fits between the performers. */
export function doubleRoom(
  distance: number,
  focalMm: number,
  sensorWidth: number,
  performerWidth: number,
  featherPx: number,
  deliveryWidth: number,
): DoubleRoom {
  const field = fieldAt(distance, focalMm, sensorWidth);
  const marks = performerWidth + (featherPx * field) / deliveryWidth;
  return { field, marks, spare: field - marks - performerWidth };
}

/** What two passes that were rolled say of this sum. */
export interface RoomInTakes {
  /** Room that the wider of the two takes, m, and the widest feather that fits between them, px at delivery. */
  performer: number | null;
  feather: number | null;
}

/**
 * The room that two passes take and leave.
 * @param field width of the picture at the performers' distance, m
 * @param width of the recording, px
 */
export function roomInTakes(
  { widest_px: { a, b }, seam }: Pick<PairFound, 'widest_px' | 'seam'>,
  { field, width, deliveryWidth }: { field: number; width: number; deliveryWidth: number },
): RoomInTakes {
  const widest = a === null || b === null ? (a ?? b) : Math.max(a, b);
  return {
    performer: widest === null ? null : (widest / width) * field,
    feather: seam?.fixed ? Math.floor((seam.feather_px * deliveryWidth) / width) : null,
  };
}

export const DOUBLE_ROOM: SumSheet = {
  kind: 'double-room',
  name: 'Room for a double',
  answers: 'How far apart must the marks be for a seam this soft?',
  inputs: [
    ask('distance', 'Distance to the performers', 'm', 4, 0.2, 1000),
    ask('performer', 'Room one performer takes, arms out', 'm', 0.9, 0.1, 10),
    ask('feather', 'Feather of the seam', 'px', 120, 0, 4000),
    ask('delivery_width', 'Delivery width', 'px', 1920, 16, 16384),
    ...LENS_INPUTS,
  ],
  work: (values) => {
    const n = (key: string) => numberOf(DOUBLE_ROOM, values, key);
    const area = lensArea(DOUBLE_ROOM, values);
    const r = doubleRoom(n('distance'), n('focal'), area.width, n('performer'), n('feather'), n('delivery_width'));
    const at = (feather: number) =>
      doubleRoom(n('distance'), n('focal'), area.width, n('performer'), feather, n('delivery_width')).marks;
    return {
      answers: [
        { label: 'between the marks', value: tidy(r.marks), unit: 'm', main: true },
        { label: 'picture is wide', value: tidy(r.field), unit: 'm' },
        { label: 'spare at the sides', value: tidy(r.spare), unit: 'm' },
      ],
      working: `${tidy(n('performer'))} m + ${tidy(n('feather'))} px × ${tidy(r.field)} m ÷ ${tidy(n('delivery_width'), 5)} px`,
      cautions:
        r.spare < 0
          ? [
              'The two do not fit into the frame with this seam: go farther back, use a shorter lens or a narrower seam.',
            ]
          : [],
      curve: {
        xLabel: 'feather, px',
        yLabel: 'between the marks, m',
        at: { x: n('feather'), y: r.marks },
        points: Array.from({ length: 11 }, (_, i) => ({ x: 40 * i, y: at(40 * i) })),
      },
    };
  },
};
