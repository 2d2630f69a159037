import { need, steady } from './builders';
import type { Purpose, Requirement } from '../types';

/** The part that a purpose's requirements speak of. */
export const TAKE_KEY = 'take';

export interface PurposeFacts {
  /** For a choice of purposes. */
  name: string;
  /** Inside a sentence: "a locked pass". */
  called: string;
  /** What is asked of a take with this purpose. */
  requirements: readonly Requirement[];
}

const locked = need(
  'locked',
  [TAKE_KEY],
  'What is masked out of one take must lie exactly on the other.',
  'Put the camera on a tripod, hands off, and roll this part again.',
  'Hold the take still with a small crop, if it was recorded larger.',
);

/** What a take may be for where no trick says it. */
export const PURPOSES: Record<Purpose, PurposeFacts> = {
  locked: { name: 'Locked pass', called: 'a locked pass', requirements: [locked, ...steady([TAKE_KEY])] },
  plate: {
    name: 'Plate',
    called: 'a plate',
    requirements: [
      locked,
      need(
        'clean-plate',
        [TAKE_KEY],
        'Whatever stands in the plate stands in the finished shot.',
        'Clear the frame, mind the shadows, and roll five seconds.',
        'Stitch an empty picture from the frames in which each spot was free.',
      ),
      ...steady([TAKE_KEY]),
    ],
  },
  out: {
    name: 'Out side',
    called: 'the out side of a wipe',
    requirements: [
      need(
        'covers-frame',
        [TAKE_KEY],
        'Where it misses a corner, the mask must be drawn by hand.',
        'Bring the object nearer to the lens, or use something larger, and roll again.',
        'Push in until the gap is outside the frame, if there is headroom.',
      ),
      need(
        'leaves-frame',
        [TAKE_KEY],
        'What stays in the picture must be masked to the end of the shot.',
        'Let it pass right out of the picture, hold the camera half a second longer, and roll again.',
        null,
      ),
    ],
  },
  in: { name: 'In side', called: 'the in side of a wipe', requirements: [] },
  moving: { name: 'Moving shot', called: 'a moving shot', requirements: [] },
  still: { name: 'Still', called: 'a still', requirements: steady([TAKE_KEY]) },
};

const NAMED: [RegExp, Purpose][] = [
  [/\b(plate|empty|clean)\b/i, 'plate'],
  [/\bout[- ]?side\b|^out\b/i, 'out'],
  [/\bin[- ]?side\b|^in\b/i, 'in'],
  [/\b(still|photo(graph)?)\b/i, 'still'],
  [/\b(moving|move|pan|tilt|dolly|slide|track(ing)?|hand-?held|walk-?through|crane)\b/i, 'moving'],
];

/** What a part of this name is likely for; a locked pass where the name says nothing. */
export function proposedPurpose(partName: string): Purpose {
  return NAMED.find(([name]) => name.test(partName))?.[1] ?? 'locked';
}
