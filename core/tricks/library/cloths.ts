import type { Trick } from '../types';
import { lockedWithPlate, need, part, trick } from './builders';

const EARLY = part('plate', 'Plate', 'plate', 5, 'The empty frame before or after, in the same roll.');

/** Tricks with a cloth, real or mimed. */
export const CLOTHS: Trick[] = [
  trick('cloth-drop', 'Cloth drop', 'A cloth is thrown up and falls, and the performer is gone.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      EARLY,
      part(
        'pass',
        'Pass',
        'pass',
        10,
        'The cloth goes up in front of the performer, who leaves while it falls or crouches behind it.',
      ),
    ],
    requirements: [
      ...lockedWithPlate(['pass']),
      need(
        'cloth-hides',
        ['pass'],
        'The switch lies in the frame in which the cloth hides them whole.',
        'Larger cloth, thrown higher and nearer to the lens.',
        'Draw the part that shows.',
      ),
      need(
        'inside-frame',
        ['pass'],
        'A cloth that leaves the frame cannot be followed by the mask.',
        'Go wider, throw straight up.',
        'Push in later than the throw.',
      ),
      need(
        'rate-at-least',
        ['pass'],
        'A falling cloth is followed edge by edge.',
        'Raise the rate.',
        'Blend frames.',
        50,
      ),
    ],
    script: [
      {
        part: 'pass',
        say: 'Throw straight up; step back the moment it covers your eyes. Do not let it land on your feet.',
      },
      { part: 'pass', say: 'Leave the cloth where it fell.' },
      { part: 'plate', say: 'Five seconds with nobody, the cloth as it lies.' },
    ],
    sums: ['retime', 'softness', 'mask-work'],
    mistakes: ['The cloth left the frame.', 'It landed on the feet.', 'Its shadow was forgotten.'],
  }),
  trick('cover-pull', 'Cover pull', 'A cloth is pulled off, and there is nothing, or something else, under it.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part(
        'pass',
        'Pass',
        'pass',
        10,
        'The cloth is pulled off in one go, and who pulled it is out of the frame quickly.',
      ),
      part('plate', 'Plate', 'plate', 5, 'The end of the same roll: the place without the thing.', { place: 'last' }),
    ],
    requirements: [
      ...lockedWithPlate(['pass']),
      need(
        'zone-till-pulled',
        ['pass'],
        'Whoever touches the zone must be cut out of it.',
        'Others keep a step away from the cloth.',
        'Draw a moving mask while it is touched.',
      ),
      need(
        'one-roll',
        ['pass', 'plate'],
        'The plate is brought in under the moving cloth, where any step of light shows.',
        'Roll again without stopping.',
        'Bring the plate in over several frames before the reveal.',
      ),
    ],
    script: [
      { part: 'pass', say: 'One pull, straight to the side, and keep walking out.' },
      { part: 'plate', say: 'Do not stop the camera: take the thing away and give me five seconds.' },
    ],
    sums: ['light', 'mask-work'],
    mistakes: ['Somebody stands in the zone.', 'The camera was stopped before the plate.'],
  }),
  trick('mime-screen', 'Mime screen', 'A performer mimes raising a cloth, and vanishes from the edge down.', {
    camera: 'still',
    oneRoll: true,
    parts: [EARLY, part('pass', 'Pass', 'pass', 12, 'Both hands raise an imagined cloth, slowly and level.')],
    requirements: [
      ...lockedWithPlate(['pass']),
      need(
        'beats-marked',
        ['pass'],
        'The edge follows the hands from beat to beat.',
        'Call the beats aloud.',
        'Find the beats by eye.',
      ),
      need('inside-frame', ['pass'], 'Hands that leave the frame take the edge with them.', 'Go wider.', null),
    ],
    script: [{ part: 'pass', say: 'Thumbs up, fingers closed, hands level. Up on four, hold on two.' }],
    sums: ['mask-work', 'light'],
    mistakes: ['The hands cross the body, and the edge cannot be read.', 'One hand is higher than the other.'],
  }),
  trick('dialled-fade', 'Dialled fade', 'A gesture makes an object fade in or out.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part('pass', 'Pass', 'pass', 12, 'The hand gestures beside the object, never across it.'),
      part('plate', 'Plate', 'plate', 5, 'The same picture without the object.', { place: 'last' }),
    ],
    requirements: [
      ...lockedWithPlate(['pass']),
      need(
        'zone-free',
        ['pass'],
        'A hand across the object must be cut out while it fades.',
        'Mark the zone with tape out of frame.',
        'Draw a moving mask for the frames that cross.',
      ),
      need(
        'beats-marked',
        ['pass'],
        'The fade follows the hand.',
        'Call start and stop aloud.',
        'Find the beats by eye.',
      ),
    ],
    script: [
      {
        part: 'pass',
        say: 'Turn the hand as at a dial, a hand’s breadth beside the lantern. Start on my word, stop on my word.',
      },
      { part: 'plate', say: 'Keep rolling; take the lantern away, touch nothing else.' },
    ],
    sums: ['retime', 'light'],
    mistakes: ['The hand crosses the object.', 'The object’s shadow stays in the plate.'],
  }),
];
