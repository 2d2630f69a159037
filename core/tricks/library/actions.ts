import type { Trick } from '../types';
import { lockedWithPlate, need, part, steady, trick } from './builders';

const PLATE = part('plate', 'Plate', 'plate', 5, 'The empty frame: nobody, nothing loose, no shadow.');

/** Tricks of movement: runs, jumps, falls, floating things, vehicles. */
export const ACTIONS: Trick[] = [
  trick('streak-run', 'Streak run', 'A performer is here, then a streak, then there.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part('start', 'Start pass', 'pass', 6, 'The take-off: lean, and leave the frame or the mark fast.'),
      part('end', 'End pass', 'pass', 6, 'The landing: slide into the mark and settle.'),
      PLATE,
    ],
    requirements: [
      ...lockedWithPlate(['start', 'end']),
      need(
        'sharp-at',
        ['start'],
        'A sharp frame can be smeared on purpose; a blurred one cannot be made sharp.',
        'Shorter shutter.',
        'Choose a frame before the take-off.',
      ),
      need(
        'sharp-at',
        ['end'],
        'The landing is smeared backwards from a sharp frame.',
        'Shorter shutter.',
        'Choose a frame after the landing.',
      ),
      need(
        'same-settings',
        ['start', 'end'],
        'The gap must be a whole number of frames.',
        'Set one rate for both.',
        null,
      ),
    ],
    script: [
      { part: 'start', say: 'Freeze, lean, go: out of frame without slowing down.' },
      { part: 'end', say: 'Come in fast and stop on the tape; let the coat swing.' },
    ],
    sums: ['retime', 'softness'],
    mistakes: ['The frames to smear are already blurred.', 'The plate is in another light.'],
  }),
  trick('mid-air-vanish', 'Mid-air vanish', 'A performer vanishes in the jump, and only a prop falls down.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part('jump', 'Jump', 'pass', 6, 'The jump with the prop in hand, mat out of frame.'),
      part('prop', 'Prop alone', 'pass', 6, 'The prop dropped from the place and height of the jump’s top.'),
      part('pick-up', 'Pick-up', 'pass', 8, 'What happens with the prop on the ground.', { optional: true }),
      PLATE,
    ],
    requirements: [
      ...lockedWithPlate(['jump', 'prop']),
      need(
        'same-spot',
        ['jump', 'prop'],
        'The prop starts where the performer was: place, height and size.',
        'Hold the prop at the mark on the reference frame, on a string, and drop it again.',
        'Shift the prop’s take by the difference.',
      ),
      need(
        'rate-at-least',
        ['jump'],
        'The switch lies between two frames; more of them make it invisible.',
        'Raise the rate.',
        null,
        50,
      ),
    ],
    script: [
      { part: 'jump', say: 'Jump straight up on three, the hat in your right hand.' },
      { part: 'prop', say: 'Hat up to the mark … a hand higher … drop.' },
    ],
    sums: ['retime', 'softness', 'light'],
    mistakes: ['The prop stood a hand’s breadth off.', 'The mat is in the picture.'],
  }),
  trick('held-moment', 'Held moment', 'The world holds still in mid-fall while somebody walks round it.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part('fall', 'Fall or jump', 'pass', 6, 'The fall, in good light and with a short shutter.'),
      part('walk', 'Walk-round', 'pass', 15, 'The other performer walks through, round the place of the fall.'),
      part(
        'still',
        'Still',
        'still',
        1,
        'The frame to be held, taken from the fall; roll a photograph of it when the fall is too blurred.',
        { optional: true },
      ),
    ],
    requirements: [
      need(
        'locked',
        ['fall'],
        'The held figure stands in the walker’s picture.',
        'Weight the tripod.',
        'Hold the take still with a small crop.',
      ),
      need(
        'locked',
        ['walk'],
        'The held figure stands in the walker’s picture.',
        'Weight the tripod.',
        'Hold the take still with a small crop.',
      ),
      ...steady(['fall', 'walk', 'still']),
      need(
        'one-roll',
        ['fall', 'walk'],
        'Stopping the camera can change its exposure.',
        'Roll again without stopping.',
        'Match the light.',
      ),
      need(
        'sharp-at',
        ['fall'],
        'The frame is looked at for seconds.',
        'Shorter shutter, more light, and fall again.',
        'Choose a sharper frame.',
        2,
      ),
      need('inside-frame', ['fall'], 'The figure and its shadow must be whole.', 'Go wider.', null),
      need(
        'same-light',
        ['fall', 'walk'],
        'The figure is lit as the walker is.',
        'Roll both close together.',
        'Match the light.',
      ),
    ],
    script: [
      { part: 'fall', say: 'Fall towards the window, face to the lens. We keep rolling.' },
      { part: 'walk', say: 'Walk round the tape, never across it; look at where his face was.' },
    ],
    sums: ['softness', 'light', 'mask-work'],
    mistakes: ['The held frame is blurred.', 'The walker crosses where the figure hangs.', 'The shadow is missing.'],
  }),
  trick('floater', 'Floater', 'A thing floats in the air.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      PLATE,
      part('pass', 'Pass', 'pass', 10, 'The object held or hung, let go or moved little, at a high rate.'),
    ],
    requirements: [
      ...lockedWithPlate(['pass']),
      need(
        'rate-at-least',
        ['pass'],
        'It is slowed down in the edit.',
        'Raise the rate before you roll.',
        'Blend or interpolate frames.',
        50,
      ),
      need(
        'headroom-at-least',
        ['pass'],
        'A push and a warp at the edges need room.',
        'Record larger than delivery.',
        null,
        25,
      ),
      need('inside-frame', ['pass'], 'An object cut off by the frame does not float.', 'Go wider.', null),
      need(
        'drifts-little',
        ['pass'],
        'Slowed down, every drift is seen for longer; a warp follows small ones only.',
        'Hold it by a stand, or on two strings, and roll it again.',
        'Follow it and hold it still.',
      ),
    ],
    script: [
      { part: 'pass', say: 'Hold it by the far side; the hand stays behind it. Little moves only.' },
      { part: 'plate', say: 'Hand and lantern out, five seconds.' },
    ],
    sums: ['retime', 'headroom', 'softness'],
    mistakes: ['Too slow a rate for the planned slow motion.', 'Fingers show in front of the object.'],
  }),
  trick('staged-impact', 'Staged impact', 'A vehicle seems to hit a performer.', {
    camera: 'still',
    oneRoll: false,
    parts: [
      part('react', 'Performer reacts', 'pass', 8, 'The performer is thrown aside at the mark, nobody else near.'),
      part(
        'vehicle',
        'Vehicle passes',
        'pass',
        10,
        'The vehicle passes the same mark at a safe speed with nobody in its way.',
      ),
      PLATE,
    ],
    requirements: [
      ...lockedWithPlate(['react', 'vehicle']),
      need(
        'opposite-direction',
        ['react', 'vehicle'],
        'The push must come from where the vehicle comes.',
        'Turn the performer round.',
        'Mirror one take, if nothing in it can be read.',
      ),
      need(
        'rate-at-least',
        ['vehicle'],
        'It is sped up: blur must suit the speed on screen.',
        'Shorter shutter or a higher rate.',
        'Add blur.',
        25,
      ),
      need('beats-marked', ['react'], 'The frame of the hit joins the two.', 'Clap on the hit.', 'Find it by eye.'),
    ],
    script: [
      { part: null, say: 'The performer is off the road before the vehicle moves. Marshal gives the word.' },
      { part: 'react', say: 'Thrown to the left on the clap.' },
      { part: 'vehicle', say: 'Walking pace, over the mark, do not brake.' },
    ],
    sums: ['vehicle', 'retime', 'light'],
    mistakes: ['The performer flies towards the vehicle.', 'The shutter blur does not suit the speed.'],
  }),
  trick('lit-prop', 'Lit prop', 'A prop lights up, and its light falls on the performer.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part(
        'pass',
        'Pass',
        'pass',
        15,
        'A real lamp beside the prop is switched on at the beat, shining on the performer.',
      ),
      { ...PLATE, optional: true },
    ],
    requirements: [
      need(
        'locked',
        ['pass'],
        'The glow is painted over a picture that stands still.',
        'Weight the tripod.',
        'Hold the take still with a small crop.',
      ),
      ...steady(['pass'], false),
      need(
        'beats-marked',
        ['pass'],
        'The light starts on the frame.',
        'Switch on the word, and say it aloud.',
        'Find the step in the light by eye.',
      ),
      need(
        'light-on-beat',
        ['pass'],
        'The painted glow starts where and when the real light does.',
        'Flag the lamp, so that it lights the performer alone, and switch it on the word.',
        'Retime the glow to the light.',
      ),
    ],
    script: [
      { part: 'pass', say: 'On “light”: the lamp goes up, you look into it, the rest of the room stays as it is.' },
    ],
    sums: ['light', 'retime'],
    mistakes: [
      'Exposure on automatic follows the lamp.',
      'The whole room gets brighter.',
      'The lamp’s cable shows, or the hand that switches it.',
    ],
  }),
];
