import { BODY, type DemoSetup } from './demo-types';

/** Setups of the demo in which somebody jumps, falls, mimes, or passes something. */
export const ACTED_SETUPS: DemoSetup[] = [
  {
    name: 'Kiosk front, jumping, 50 mm',
    place: 'Ticket kiosk',
    notes: 'Mat left of the frame; the clothes on a thread at the top of the jump.',
    scene: 'kiosk',
    camera: {
      ...BODY,
      lens: '50 mm',
      focal_mm: 50,
      fps: 50,
      shutter_s: 1 / 150,
      focus_m: 5,
      height_m: 1.2,
      tilt_deg: 0,
    },
    tricks: [
      {
        key: 'mid-air-vanish',
        sums: [
          {
            kind: 'double-room',
            inputs: {
              distance: 5,
              performer: 0.9,
              feather: 90,
              delivery_width: 1280,
              focal: 50,
              sensor_width: 24.9,
              sensor_height: 18.7,
              aspect: 1.778,
            },
          },
        ],
      },
      { key: 'pulled-in' },
    ],
    takes: {
      Jump: [{ act: 'jumps', fps: 50, seconds: 3, seed: 111, circled: true }],
      'Prop alone': [
        { act: 'clothes-drop', act_fault: 'elsewhere', fps: 50, seconds: 3, seed: 111 },
        { act: 'clothes-drop', fps: 50, seconds: 3, seed: 111, circled: true },
      ],
      Plate: [{ fps: 50, seconds: 3, seed: 112, circled: true }],
      'Jump (Pulled in)': [
        { act: 'leaps', act_fault: 'cut-off', fps: 50, seconds: 3.5, seed: 113 },
        { act: 'leaps', fps: 50, seconds: 3, seed: 114, circled: true },
      ],
    },
  },
  {
    name: 'Bench, mid-fall, 35 mm',
    place: 'Bench',
    notes: 'Mats behind the bench; the walker keeps to the chalk.',
    scene: 'bench',
    camera: { ...BODY, lens: '35 mm', focal_mm: 35, shutter_s: 1 / 400, focus_m: 4, height_m: 1.3, tilt_deg: 0 },
    tricks: [{ key: 'held-moment' }, { key: 'mime-screen' }],
    takes: {
      'Fall or jump': [
        { act: 'falls', act_fault: 'blurred', seconds: 5, seed: 121 },
        { act: 'falls', seconds: 6, seed: 122, circled: true },
      ],
      'Walk-round': [{ crossing: 'right-to-left', seed: 123, circled: true }],
      Plate: [{ seconds: 3, seed: 124, circled: true }],
      Pass: [
        {
          ...{ act: 'mimes', seconds: 6, seed: 125, circled: true },
          marks: [
            { frame: 38, name: 'Up' },
            { frame: 68, name: 'Held' },
          ],
        },
      ],
    },
  },
  {
    name: 'Railing at the ramp, 50 mm',
    place: 'Ramp to the ferry',
    notes: 'Somebody passes behind the pillar as if through it.',
    scene: 'pillar',
    camera: { ...BODY, lens: '50 mm', focal_mm: 50, focus_m: 5, height_m: 1.4, tilt_deg: 0 },
    tricks: [{ key: 'over-the-bars' }],
    takes: {
      Pass: [{ crossing: 'left-to-right', seed: 131, circled: true }],
      'Empty frame': [{ seconds: 3, seed: 132, circled: true }],
    },
  },
];
