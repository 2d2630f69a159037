import type { Trick } from '../types';
import { lockedWithPlate, need, part, steady, trick } from './builders';

const PLATE = part('plate', 'Plate', 'plate', 5, 'The empty frame: nobody, nothing loose, no shadow.');

/** Locked-off tricks in which one picture is laid over another of the same place. */
export const DOUBLES: Trick[] = [
  trick('double', 'Double', 'One performer in two places at once.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      PLATE,
      part('pass-a', 'Pass A', 'pass', 20, 'The performer at the first mark, looking to where the other will stand.'),
      part('pass-b', 'Pass B', 'pass', 20, 'The performer at the second mark, answering the first pass beat by beat.'),
    ],
    requirements: [
      ...lockedWithPlate(['pass-a', 'pass-b']),
      need(
        'apart',
        ['pass-a', 'pass-b'],
        'Between two that never overlap one fixed soft seam is enough.',
        'Move the marks apart, or keep the arms on their own side.',
        'Slide one pass in time, or draw a moving mask for the frames that meet.',
      ),
      need(
        'one-roll',
        ['pass-a', 'pass-b', 'plate'],
        'Stopping the camera can change its exposure.',
        'Roll all parts again without stopping.',
        'Match the light between the takes.',
      ),
    ],
    script: [
      { part: null, say: 'We roll once and do not stop. Nobody touches the tripod, the table or the lamp.' },
      { part: 'plate', say: 'Everybody out, five seconds of nothing.' },
      { part: 'pass-a', say: 'Stay on your side of the tape, arms too. Look at the cross on the stick.' },
      { part: 'pass-b', say: 'Change over behind the camera. Answer on my count.' },
    ],
    sums: ['double-room', 'light', 'mask-work'],
    mistakes: [
      'Arms cross the seam.',
      'The shadow of one falls on the other.',
      'The tripod was knocked at the change-over.',
      'The camera was stopped and came back brighter.',
    ],
  }),
  trick('slip-behind', 'Slip-behind', 'A performer goes behind something narrow and is gone.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      PLATE,
      part('pass', 'Pass', 'pass', 10, 'Walk behind the pillar and stay there, hidden whole, until the call.'),
    ],
    requirements: [
      ...lockedWithPlate(['pass']),
      need(
        'hidden-at',
        ['pass'],
        'While they are hidden whole, a straight split along the edge is enough.',
        'Stand behind it side on, nearer to it, bags and coat too.',
        'Draw the part that shows over a few frames.',
      ),
    ],
    script: [
      { part: 'pass', say: 'Walk on as if you went past, then stop dead behind it and pull in your elbows.' },
      { part: 'plate', say: 'Now come out behind the camera, and five seconds of the empty place.' },
    ],
    sums: ['mask-work', 'light'],
    mistakes: ['A sleeve shows on the wrong side.', 'The plate was forgotten.'],
  }),
  trick('see-through', 'See-through figure', 'A figure one can see through, mixed with the place behind.', {
    camera: 'still',
    oneRoll: true,
    parts: [PLATE, part('pass', 'Pass', 'pass', 15, 'The figure acts slowly; even light on it and behind it.')],
    requirements: [...lockedWithPlate(['pass'], 'plate', 0.25)],
    script: [
      {
        part: 'pass',
        say: 'Slow, and do not move anything in the room: what you move is moved in the other picture too.',
      },
    ],
    sums: ['light', 'headroom'],
    mistakes: ['Something was moved between the takes.', 'A cloud came.', 'The figure touches the furniture.'],
  }),
  trick(
    'framed-visitor',
    'Framed visitor',
    'Somebody appears in a window, a doorway or a picture who was never there with the others.',
    {
      camera: 'still',
      oneRoll: false,
      parts: [
        part('base', 'Base', 'pass', 15, 'The scene with the opening empty.'),
        part('visitor', 'Visitor', 'pass', 15, 'The visitor in the opening, everything outside it as before.'),
      ],
      requirements: [
        need(
          'locked',
          ['base'],
          'The opening’s edge is the mask.',
          'Weight the tripod and roll again.',
          'Hold the take still with a small crop.',
        ),
        need(
          'locked',
          ['visitor'],
          'The opening’s edge is the mask.',
          'Weight the tripod and roll again.',
          'Hold the take still with a small crop.',
        ),
        ...steady(['base', 'visitor']),
        need(
          'same-position',
          ['base', 'visitor'],
          'Outside the opening the two must be identical.',
          'Line the camera up with the reference frame.',
          'Shift one to fit.',
        ),
        need(
          'same-light',
          ['base', 'visitor'],
          'The wall round the opening must not change.',
          'Lock exposure by hand; light only the visitor.',
          'Match the light outside the opening.',
        ),
        need(
          'same-settings',
          ['base', 'visitor'],
          'Another size or rate does not fit.',
          'Set the camera back as noted.',
          null,
        ),
        need(
          'zone-free',
          ['base'],
          'Whoever crosses the opening must be cut out frame by frame.',
          'Keep the opening free in the base.',
          'Draw a moving mask while it is crossed.',
        ),
        need(
          'inside-zone',
          ['visitor'],
          'The opening’s edge is the mask: whoever leaves it is cut off there, and an edge lost in the dark cannot be followed.',
          'Stay inside the frame of the opening, hands off the sill.',
          'Cut them out by hand where they leave it.',
        ),
        need(
          'light-inside',
          ['visitor'],
          'A light that the visitor brings shows as a step on the wall that the base does not have.',
          'Shade their light towards the lens’ side of the opening.',
          'Lighten the wall of the base on the same frame.',
        ),
        need(
          'same-outside',
          ['base', 'visitor'],
          'What hangs or stands differently beside the opening gives the join away.',
          'Put everything back as it was.',
          'Draw the mask closer to the opening.',
        ),
        need(
          'headroom-at-least',
          ['base'],
          'A push to the window needs room.',
          'Record larger than delivery.',
          null,
          20,
        ),
      ],
      script: [
        { part: 'base', say: 'Nobody walks between the camera and the window.' },
        { part: 'visitor', say: 'Stay inside the frame of the window, hands off the sill.' },
      ],
      sums: ['headroom', 'light', 'double-room'],
      mistakes: ['The edge of the opening is lost in the dark.', 'The curtain hangs differently.'],
    },
  ),
  trick('over-the-bars', 'Over the bars', 'Somebody passes through or over something solid, such as a fence.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      part('pass', 'Pass', 'pass', 10, 'The move, with an empty frame before or after it in the same clip.'),
      part(
        'empty',
        'Empty frame',
        'plate',
        3,
        'The empty frame in the same clip, before anybody comes in or after all have left.',
      ),
    ],
    requirements: [
      need(
        'locked',
        ['pass'],
        'The bars are laid back over the performer.',
        'Fix the camera, or hold it against something solid.',
        'Hold the take still with a small crop.',
        1,
      ),
      ...steady(['pass', 'empty']),
      need(
        'one-roll',
        ['pass', 'empty'],
        'The bars must stand in the same light and place.',
        'Roll both without stopping.',
        'Line up and match.',
      ),
      need(
        'clean-plate',
        ['empty'],
        'The empty bars are what is laid on top.',
        'Wait until everybody, shadows too, has left.',
        'Stitch it from free frames.',
      ),
    ],
    script: [
      {
        part: 'pass',
        say: 'Wait two seconds after “rolling” before you come in, and leave the frame wholly at the end.',
      },
    ],
    sums: ['mask-work', 'headroom'],
    mistakes: ['There is no clear frame in the clip.', 'The shadow below the bar was forgotten.'],
  }),
  trick('pulled-in', 'Pulled in', 'A performer is pulled into a picture, a puddle or a case.', {
    camera: 'still',
    oneRoll: true,
    parts: [
      PLATE,
      part(
        'jump',
        'Jump',
        'pass',
        8,
        'The jump towards the target, the whole figure in frame and clear of the background.',
      ),
    ],
    requirements: [
      ...lockedWithPlate(['jump']),
      need(
        'inside-frame',
        ['jump'],
        'A hand cut off by the frame cannot be shrunk.',
        'Go wider or jump shorter.',
        'Hide the cut with the squeeze.',
      ),
      need(
        'sharp-at',
        ['jump'],
        'The figure is cut out as a still for some frames.',
        'Shorter shutter, more light.',
        'Use a frame nearer the top of the jump.',
      ),
      need(
        'cut-out-frames',
        ['jump'],
        'The figure is cut out by hand from these frames.',
        'Jump higher, before something lighter or darker.',
        'Draw the rest of the outline by hand.',
      ),
      need(
        'rate-at-least',
        ['jump'],
        'The squeeze is timed by hand from many frames.',
        'Raise the rate.',
        'Blend frames.',
        50,
      ),
    ],
    script: [{ part: 'jump', say: 'Jump with arms close, and land on the mat outside the mark.' }],
    sums: ['softness', 'retime', 'headroom'],
    mistakes: ['Hands leave the frame.', 'The figure has the colour of the wall behind.'],
  }),
];
