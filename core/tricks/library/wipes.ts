import type { Trick } from '../types';
import { need, part, trick } from './builders';

const rateMatch = need(
  'same-settings',
  ['out', 'in'],
  'Two rates make one side stutter after the cut.',
  'Set both sides to one rate and roll the wrong one again.',
  'Convert the odd side, if it is the faster one.',
);

/** Changes of place behind something that fills the frame. */
export const WIPES: Trick[] = [
  trick(
    'passing-wipe',
    'Passing wipe',
    'Somebody or something crosses close to the lens, and behind it the place has changed.',
    {
      camera: 'still',
      oneRoll: false,
      parts: [
        part(
          'out',
          'Out side',
          'out-side',
          8,
          'The object crosses close to the lens and leaves the frame completely. Keep rolling two seconds after.',
        ),
        part(
          'in',
          'In side',
          'in-side',
          8,
          'The new scene, moving the same way at the same speed for the first seconds.',
          { place: 'last' },
        ),
      ],
      requirements: [
        need(
          'locked',
          ['out'],
          'The edge is followed against a picture that stands still.',
          'Fix the head and roll again.',
          'Hold the take still with a small crop.',
          1,
        ),
        need(
          'covers-frame',
          ['out'],
          'Where it misses a corner, the mask must be drawn by hand.',
          'Cross nearer to the lens, or use something taller.',
          'Push in until the gap is outside the frame, if there is headroom.',
        ),
        need(
          'leaves-frame',
          ['out'],
          'What stays in the picture must be masked to the end of the shot.',
          'Walk all the way out; call the end only when the frame is clear.',
          null,
        ),
        need(
          'same-direction',
          ['out', 'in'],
          'A picture that turns round at the cut gives the wipe away.',
          'Roll the in side again, moving the same way.',
          'Mirror one side, if nothing in it can be read.',
        ),
        rateMatch,
        need(
          'headroom-at-least',
          ['out'],
          'A little push repairs a cover that just misses.',
          'Record larger than delivery.',
          null,
          10,
        ),
      ],
      script: [
        { part: null, say: 'Camera is locked, nobody touches the legs.' },
        { part: 'out', say: 'Cross close to the lens at a steady pace, and keep going until I call it.' },
        { part: 'out', say: 'Keep the back, or the flat of the load, to the lens while you pass.' },
        { part: 'in', say: 'Same way, same pace as the other side.' },
      ],
      sums: ['cover', 'softness', 'mask-work', 'headroom'],
      mistakes: [
        'The top or the feet are missed.',
        'The object stops before it has left.',
        'The two sides move against each other.',
      ],
    },
  ),
  trick(
    'pan-past-wipe',
    'Pan-past wipe',
    'The camera slides behind something near that fills the frame, and comes out somewhere else.',
    {
      camera: 'moving',
      oneRoll: false,
      parts: [
        part(
          'out',
          'Out side',
          'out-side',
          8,
          'Pan or slide behind the near object at an even speed until it fills the frame and beyond.',
        ),
        part('in', 'In side', 'in-side', 8, 'The same move from behind something near in the new place.', {
          place: 'last',
        }),
      ],
      requirements: [
        need(
          'steady-move',
          ['out'],
          'An uneven move cannot be joined to another.',
          'Rehearse the move with a count, and roll it three times.',
          'Retime the out side to an even speed.',
        ),
        need(
          'steady-move',
          ['in'],
          'An uneven move cannot be joined to another.',
          'Rehearse the move with a count, and roll it three times.',
          'Retime the in side to an even speed.',
        ),
        need(
          'covers-frame',
          ['out'],
          'The cut lies under the frames that are wholly covered.',
          'Go nearer, or choose something wider.',
          'Push in, if there is headroom.',
          2,
        ),
        need(
          'same-direction',
          ['out', 'in'],
          'Two pans against each other meet at the cut.',
          'Roll one side again, panning the other way.',
          'Mirror one side, if nothing in it can be read.',
        ),
        rateMatch,
      ],
      script: [
        { part: 'out', say: 'Count four for the whole move; do not slow down behind the post.' },
        { part: 'in', say: 'Same four counts, same way.' },
      ],
      sums: ['pan-past', 'softness', 'mask-work'],
      mistakes: [
        'The pan slows down behind the object.',
        'The in side pans the other way.',
        'One side was recorded at another rate.',
      ],
    },
  ),
  trick(
    'walk-in-wipe',
    'Walk-in wipe',
    'The camera walks up to something flat until it fills the frame, and the next place opens from it.',
    {
      camera: 'moving',
      oneRoll: false,
      parts: [
        part(
          'out',
          'Out side',
          'out-side',
          8,
          'Walk straight up to the door or wall until it fills the frame; hold for a second.',
        ),
        part(
          'in',
          'In side',
          'in-side',
          8,
          'Start filled by something of the same tone, and walk back or let it open.',
          { place: 'last' },
        ),
      ],
      requirements: [
        need(
          'steady-move',
          ['out'],
          'Jerks of the approach show at the cut.',
          'Walk from the knees, or put the camera on wheels.',
          'Steady it, if it was recorded larger than delivery.',
        ),
        need(
          'covers-frame',
          ['out'],
          'The cut lies where nothing but the flat thing is seen.',
          'Go on until the last edge has left the frame.',
          'Push in over the last frames, if there is headroom.',
        ),
        need(
          'headroom-at-least',
          ['out'],
          'Sway and roll are taken out by cropping.',
          'Record larger than delivery.',
          null,
          30,
        ),
        rateMatch,
      ],
      script: [
        { part: 'out', say: 'Keep the middle of the door in the middle of the frame; no roll.' },
        { part: 'out', say: 'Walk until you see nothing but wood, then hold.' },
      ],
      sums: ['walk-in', 'headroom', 'softness'],
      mistakes: [
        'The approach ends with an edge still in the picture.',
        'The horizon rolls.',
        'Focus is lost on the last steps.',
      ],
    },
  ),
  trick('closing-wipe', 'Closing wipe', 'A lid, shutter or door closes across the picture and opens on another.', {
    camera: 'still',
    oneRoll: false,
    parts: [
      part('out', 'Out side', 'out-side', 6, 'The lid closes across the whole picture at an even speed.'),
      part('in', 'In side', 'in-side', 6, 'The scene that appears behind the edge.', { place: 'last' }),
    ],
    requirements: [
      need(
        'locked',
        ['out'],
        'The edge is a straight line only while the camera stands.',
        'Fix the camera apart from the lid, so that closing does not shake it.',
        'Hold the take still with a small crop.',
      ),
      need(
        'straight-edge',
        ['out'],
        'A straight edge is masked with two points, a bent one with many.',
        'Square the camera to the lid and use a longer lens.',
        'Undo the lens’s bending first.',
      ),
      need(
        'covers-frame',
        ['out'],
        'It must reach both sides to the end.',
        'Close it all the way; move the camera until both ends are covered.',
        'Push in, if there is headroom.',
      ),
      rateMatch,
    ],
    script: [
      { part: null, say: 'Nobody leans on what the camera stands on.' },
      { part: 'out', say: 'Close it in one move, the same speed all the way.' },
    ],
    sums: ['mask-work', 'softness', 'headroom'],
    mistakes: ['Closing shakes the camera.', 'The edge leaves a sliver on one side.'],
  }),
];
