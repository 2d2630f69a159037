import type { Zone } from '../../core/tricks/zones';
import { ACTED_SETUPS } from './demo-acts';
import { BODY, type DemoSetup } from './demo-types';

/** What the stand-in camera records where the demo does not say otherwise. */
export const USUAL = {
  tripod: 'still',
  crossing: 'nobody',
  seconds: 6,
  fps: 25,
  width: 1280,
  grain: 2,
  seed: 1,
} as const;

/** The kiosk's first window, as shares of the picture. */
const WINDOW: Zone = [
  [0.5781, 0.4028],
  [0.6781, 0.4028],
  [0.6781, 0.5611],
  [0.5781, 0.5611],
];

/** The lantern's place, as shares of the picture. */
const LANTERN: Zone = [
  [0.664, 0.5],
  [0.717, 0.5],
  [0.717, 0.67],
  [0.664, 0.67],
];

/** How far the lamp beside it lights, and where the covered thing stands. */
const LAMPLIGHT: Zone = [
  [0.5, 0.22],
  [0.88, 0.22],
  [0.88, 0.94],
  [0.5, 0.94],
];
const COVERED: Zone = [
  [0.43, 0.62],
  [0.63, 0.62],
  [0.63, 0.91],
  [0.43, 0.91],
];

/** The made-up shoot "Night Ferry" planned in full; some takes are sound, some have one fault. */
export const DEMO_SHOOT = {
  name: 'Night Ferry',
  place: 'Quay of the island ferry',
  delivery_width: 1280,
  delivery_height: 720,
  delivery_fps: 25,
  demo: true,
  latitude: 59.4,
  longitude: 10.5,
  time_zone: 'Europe/Oslo',
  days: ['2027-10-05', '2027-10-06'],
};

export const DEMO_SETUPS: DemoSetup[] = [
  {
    name: 'Kiosk, locked, 35 mm',
    place: 'Ticket kiosk',
    notes: 'Tripod on the flagstones, hook weighted.',
    scene: 'kiosk',
    camera: { ...BODY, lens: '35 mm', focal_mm: 35, focus_m: 4, height_m: 1.4, tilt_deg: 0 },
    tricks: [
      {
        key: 'double',
        sums: [
          {
            kind: 'double-room',
            inputs: {
              distance: 4,
              performer: 0.9,
              feather: 90,
              delivery_width: 1280,
              focal: 35,
              sensor_width: 24.9,
              sensor_height: 18.7,
              aspect: 1.778,
            },
          },
        ],
      },
    ],
    takes: {
      Plate: [
        { tripod: 'knock', seed: 11 },
        { crossing: 'shadow-only', seed: 14 },
        { seed: 16, circled: true },
      ],
      'Pass A': [
        { crossing: 'reaches-over', seed: 17 },
        { crossing: 'shadow-crosses', seed: 18 },
        { crossing: 'stands-across', seed: 12, circled: true },
      ],
      'Pass B': [
        { tripod: 'drift', crossing: 'stands', seed: 13 },
        { light: 'step', crossing: 'comes-and-stays', seed: 15 },
        { crossing: 'comes-and-stays', light: 'darker', seed: 19 },
        { crossing: 'comes-and-stays', seed: 20, circled: true },
      ],
    },
  },
  {
    name: 'Mooring pillar, locked, 50 mm',
    place: 'Mooring pillar',
    notes: 'Marks in chalk behind the pillar.',
    scene: 'pillar',
    camera: { ...BODY, lens: '50 mm', focal_mm: 50, focus_m: 5, height_m: 1.5, tilt_deg: 0 },
    tricks: [{ key: 'slip-behind' }],
    takes: {
      Pass: [
        { tripod: 'still', crossing: 'slips-before', seed: 24, prop: 'crate' },
        { tripod: 'still', crossing: 'slips-behind', seed: 21, prop: 'crate', circled: true },
      ],
      Plate: [
        { light: 'brighter', prop: 'crate-off', seed: 23 },
        { tripod: 'still', seed: 22, prop: 'crate', circled: true },
      ],
    },
  },
  {
    name: 'Bench and tarpaulin, 28 mm',
    place: 'Bench',
    notes: 'Tarpaulin folded in thirds.',
    scene: 'bench',
    camera: { ...BODY, lens: '28 mm', focal_mm: 28, focus_m: 3.5, height_m: 1.2, tilt_deg: -2 },
    tricks: [{ key: 'see-through' }],
    takes: {
      Pass: [
        { crossing: 'comes-and-stays', seed: 35, circled: true },
        { tripod: 'handheld', crossing: 'stands', seed: 31 },
        { tripod: 'breathing', crossing: 'stands', seed: 32 },
        { light: 'cloud', crossing: 'left-to-right', tree: true, seed: 33 },
      ],
      Plate: [
        { focus: 'hunt', tree: true, seed: 34 },
        { seed: 36, circled: true },
      ],
    },
  },
  {
    name: 'Freight trolley past the lens',
    place: 'Ramp to the ferry',
    notes: 'The trolley with three crates, tallest to the lens.',
    scene: 'pillar',
    camera: { ...BODY, lens: '50 mm', focal_mm: 50, focus_m: 4, height_m: 1.1, tilt_deg: 0 },
    tricks: [
      {
        key: 'passing-wipe',
        wishes: { push_pct: 110 },
        sums: [
          {
            kind: 'cover',
            inputs: {
              width: 1.3,
              height: 1.9,
              base: 0.1,
              distance: 1.2,
              camera_height: 1.1,
              speed: 1.2,
              fps: 25,
              focal: 50,
              sensor_width: 24.9,
              sensor_height: 18.7,
              aspect: 1.778,
            },
          },
        ],
      },
      {
        key: 'staged-impact',
        sums: [{ kind: 'vehicle', inputs: { safe: 5, wanted: 15, capture: 25, delivery: 25, angle: 180 } }],
      },
    ],
    takes: {
      'Out side': [
        { wipe: 'cart', wipe_fault: 'misses-corner', seconds: 4, seed: 41 },
        { wipe: 'cart', seconds: 4, width: 1920, seed: 42, circled: true },
        { wipe: 'cart', wipe_fault: 'stays-in', seconds: 4, seed: 43 },
      ],
      'In side': [
        { scene: 'kiosk', wipe: 'cart', wipe_side: 'in', seconds: 4, fps: 30, seed: 44 },
        { scene: 'kiosk', wipe: 'cart', wipe_side: 'in', width: 1920, seconds: 4, seed: 45, circled: true },
      ],
      'Performer reacts': [
        { act: 'reacts', act_fault: 'wrong-way', seconds: 5, seed: 46 },
        { act: 'reacts', seconds: 5, seed: 47, circled: true, marks: [{ frame: 63, name: 'Hit' }] },
      ],
      'Vehicle passes': [{ act: 'drives-by', seconds: 5, seed: 48, circled: true }],
      Plate: [{ seconds: 3, seed: 49, circled: true }],
    },
  },
  {
    name: 'Brass lantern, 85 mm',
    place: 'Counter of the kiosk',
    notes: 'Lantern on a thread from the boom.',
    scene: 'kiosk',
    camera: {
      ...BODY,
      lens: '85 mm',
      focal_mm: 85,
      fps: 50,
      shutter_s: 1 / 100,
      focus_m: 1.6,
      height_m: 1.3,
      tilt_deg: 0,
    },
    tricks: [
      {
        key: 'floater',
        wishes: { speed_pct: 40, push_pct: 130 },
        sums: [{ kind: 'retime', inputs: { capture: 50, delivery: 25, speed: 40, shutter: 100, seconds: 4 } }],
      },
      { key: 'dialled-fade', zone: LANTERN },
      { key: 'lit-prop', zone: LAMPLIGHT, sums: [{ kind: 'flicker', inputs: { mains: '50', fps: 25, shutter: 50 } }] },
    ],
    takes: {
      Plate: [
        { light: 'flicker', fps: 50, seconds: 3, seed: 51 },
        { rate: 'wandering', seed: 52, white: 'shift' },
        { fps: 50, width: 1920, seconds: 3, seed: 53, circled: true },
      ],
      Pass: [
        { act: 'hangs', act_fault: 'swings', fps: 50, width: 1920, seconds: 3, seed: 59 },
        { act: 'hangs', fps: 50, width: 1920, seconds: 3, seed: 54, circled: true },
      ],
      'Pass (Dialled fade)': [
        { act: 'taps', act_fault: 'elsewhere', width: 1920, seconds: 5, seed: 55 },
        {
          ...{ act: 'taps', clap: true, width: 1920, seconds: 5, seed: 56, circled: true },
          marks: [
            { frame: 38, name: 'Fade starts' },
            { frame: 88, name: 'Fade stops' },
          ],
        },
      ],
      'Plate (Dialled fade)': [{ prop: 'lantern-off', width: 1920, seconds: 3, seed: 57, circled: true }],
      'Pass (Lit prop)': [
        {
          ...{ act: 'lights-lamp', act_fault: 'spills', width: 1920, seconds: 4, seed: 60 },
          marks: [{ frame: 45, name: 'Light' }],
        },
        {
          act: 'lights-lamp',
          clap: true,
          width: 1920,
          seconds: 4,
          seed: 58,
          circled: true,
          marks: [{ frame: 45, name: 'Light' }],
        },
      ],
    },
  },
  {
    name: 'Gangway door, on wheels',
    place: 'Car deck',
    notes: 'Dolly on boards; mind the sill.',
    scene: 'bench',
    camera: { ...BODY, lens: '24 mm', focal_mm: 24, width: 3840, height: 2160, focus_m: 2, height_m: 1.5, tilt_deg: 0 },
    tricks: [
      {
        key: 'walk-in-wipe',
        sums: [
          {
            kind: 'walk-in',
            inputs: {
              width: 1.1,
              height: 2.1,
              start: 4,
              speed: 0.9,
              fps: 25,
              focal: 24,
              sensor_width: 24.9,
              sensor_height: 18.7,
              aspect: 1.778,
            },
          },
        ],
      },
    ],
    takes: {
      'Out side': [
        { wipe: 'walk-in', wipe_fault: 'uneven', seconds: 4, seed: 61 },
        { wipe: 'walk-in', width: 1920, seconds: 4, seed: 62, circled: true },
      ],
      'In side': [{ scene: 'pillar', wipe: 'cart', wipe_side: 'in', width: 1920, seconds: 4, seed: 63, circled: true }],
    },
  },
  {
    name: 'Past the ramp post, panning',
    place: 'Ramp to the ferry',
    notes: 'Fluid head; the post an arm’s length from the lens.',
    scene: 'kiosk',
    camera: { ...BODY, lens: '35 mm', focal_mm: 35, focus_m: 3, height_m: 1.5, tilt_deg: 0 },
    tricks: [{ key: 'pan-past-wipe' }],
    takes: {
      'Out side': [
        { wipe: 'pan', wipe_fault: 'uneven', seconds: 4, seed: 71 },
        { wipe: 'pan', seconds: 4, seed: 72, circled: true },
      ],
      'In side': [
        { scene: 'bench', wipe: 'pan', wipe_side: 'in', wipe_way: 'right-to-left', seconds: 4, seed: 73 },
        { scene: 'bench', wipe: 'pan', wipe_side: 'in', seconds: 4, seed: 72, circled: true },
      ],
    },
  },
  {
    name: 'From inside the crate, lid closes',
    place: 'Freight trolley',
    notes: 'Camera on the crate’s floor, fixed apart from the lid.',
    scene: 'pillar',
    camera: { ...BODY, lens: '18 mm', focal_mm: 18, focus_m: 1.5, height_m: 0.3, tilt_deg: 12 },
    tricks: [{ key: 'closing-wipe' }],
    takes: {
      'Out side': [
        { wipe: 'lid', wipe_fault: 'stays-in', seconds: 3, seed: 81 },
        { wipe: 'lid', seconds: 3, seed: 82, circled: true },
      ],
      'In side': [{ scene: 'bench', wipe: 'lid', wipe_side: 'in', seconds: 3, seed: 83, circled: true }],
    },
  },
  {
    name: 'Quay edge, low',
    place: 'Quay',
    notes: 'Cloth of two by three metres.',
    scene: 'kiosk',
    camera: {
      ...BODY,
      lens: '35 mm',
      focal_mm: 35,
      fps: 50,
      shutter_s: 1 / 100,
      focus_m: 5,
      height_m: 0.6,
      tilt_deg: 4,
    },
    tricks: [{ key: 'cloth-drop' }, { key: 'cover-pull', zone: COVERED }, { key: 'streak-run' }],
    takes: {
      Plate: [{ fps: 50, seconds: 3, seed: 101, circled: true }],
      Pass: [
        { act: 'throws-cloth', act_fault: 'late', fps: 50, seconds: 4, seed: 102 },
        { act: 'throws-cloth', act_fault: 'arm-beside', fps: 50, seconds: 4, seed: 103 },
        { act: 'throws-cloth', fps: 50, seconds: 4, seed: 104, circled: true },
      ],
      'Pass (Cover pull)': [{ act: 'pulls-cloth', seconds: 5, seed: 105, circled: true }],
      'Plate (Cover pull)': [{ seconds: 3, seed: 106, circled: true }],
      'Start pass': [{ act: 'runs-out', fps: 50, seconds: 4, seed: 107, circled: true }],
      'End pass': [{ act: 'runs-in', fps: 50, seconds: 4, seed: 108, circled: true }],
    },
  },
  {
    name: 'Kiosk window, 50 mm',
    place: 'Ticket kiosk',
    notes: 'The clerk is never there with the others.',
    scene: 'kiosk',
    camera: { ...BODY, lens: '50 mm', focal_mm: 50, focus_m: 6, height_m: 1.4, tilt_deg: 0 },
    tricks: [{ key: 'framed-visitor', zone: WINDOW }],
    takes: {
      Base: [
        { crossing: 'right-to-left', width: 1920, seed: 91 },
        { crossing: 'stands-across', width: 1920, seed: 92, circled: true },
      ],
      Visitor: [
        { crossing: 'leaves-opening', width: 1920, seed: 93 },
        { crossing: 'in-opening', tripod: 'nudged', width: 1920, seed: 94 },
        { crossing: 'in-opening', width: 1920, seed: 95, circled: true },
      ],
    },
  },
  ...ACTED_SETUPS,
];
