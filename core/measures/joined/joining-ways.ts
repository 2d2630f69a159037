import { strengthAt, type JoinedHow, type JoinedWish } from './joined';

/** What makes a part of a layer's picture see-through, where something does. */
export type LayerMask = 'seam' | 'opening' | 'figure' | 'cover' | 'cloth' | 'strength';

/** A thing without which two takes cannot be joined: as a sentence, and in a few words. */
interface Missing {
  sentence: string;
  briefly: string;
}

/** The parts of a wish that some ways cannot do without. */
type Needed = 'line' | 'outline' | 'at';

/** All that a way of joining two takes means: to whoever chooses it, in the preview, in a proof, and in a pack. */
export interface JoiningWay {
  /** Its name to whoever chooses. */
  name: string;
  needs: Partial<Record<Needed, Missing>>;
  /** Whether it may turn on a frame of the first. */
  turns: boolean;
  /** Whether both must be there in every frame, unless it turns on one: two performers, where a plate may stand still. */
  together: boolean;
  /** Whether it may be kept to what was drawn on the setup. */
  inZone: boolean;
  /** What parts the two in a frame: a line, an opening of the first; a part told from the pictures; nothing. */
  parts: 'line' | 'opening' | 'told' | 'nothing';
  /** Whether the second may be the empty frame by which that part is told. */
  toldByEmpty: boolean;
  /** Whether the second may stand still where it is too short. */
  stands: 'never' | 'if-empty' | 'always';
  /** The measure that says where the two meet; null for none. */
  moment: 'spot' | 'meet' | 'stills' | 'cloth' | null;
  /**
   * How they lie in a timeline: a frame of the first held over the second; the first over an empty picture, whole or until
   * it turns; one after the other; both at once, the second, the first, or the one in front above.
   */
  layers:
    | { lie: 'held' }
    | { lie: 'follows' }
    | { lie: 'over-empty'; until: 'end' | 'turn' }
    | { lie: 'both'; upper: 'first' | 'second' | 'front' };
  /** What masks the layer in which one of them is cut. */
  mask: LayerMask | null;
  /** How strongly the second shows in all of a frame, 0 to 1; null where that differs from place to place. */
  evenly: (wish: Pick<JoinedWish, 'at' | 'strength'>, frame: number) => number | null;
  /** What is said of a proof after its name. */
  says: (wish: JoinedWish, first: string, second: string) => string;
}

const nowhere = () => null;

/** Every way of joining two takes; adding one is adding it here, and its part of the picture where it is told. */
export const JOINING_WAYS: Readonly<Record<JoinedHow, JoiningWay>> = {
  line: {
    name: 'Along the line',
    needs: { line: { sentence: 'There is no line to join the two along. Draw one.', briefly: 'Draw the line first' } },
    ...{
      turns: false,
      together: true,
      inZone: false,
      parts: 'line',
      toldByEmpty: false,
      stands: 'never',
      moment: null,
    },
    layers: { lie: 'both', upper: 'second' },
    mask: 'seam',
    evenly: nowhere,
    says: (wish) => `feather ${wish.feather_px.toFixed(0)} px`,
  },
  switch: {
    name: 'Behind, then gone',
    needs: {
      at: { sentence: 'Choose the frame from which the plate stands alone.', briefly: 'Choose the switch frame' },
    },
    ...{
      turns: true,
      together: false,
      inZone: false,
      parts: 'line',
      toldByEmpty: false,
      stands: 'if-empty',
      moment: null,
    },
    layers: { lie: 'over-empty', until: 'turn' },
    mask: 'seam',
    evenly: ({ at }, frame) => (at !== null && frame >= at ? 1 : null),
    says: ({ at }, _, second) => `${second} alone from frame ${at} on`,
  },
  through: {
    name: 'See-through',
    needs: {},
    ...{
      turns: false,
      together: false,
      inZone: false,
      parts: 'nothing',
      toldByEmpty: false,
      stands: 'if-empty',
      moment: null,
    },
    layers: { lie: 'both', upper: 'first' },
    mask: 'strength',
    evenly: ({ strength }, frame) => 1 - strengthAt(strength, frame),
    says: ({ strength }, first) => `${first} at ${strength.map((k) => `${k.pct.toFixed(0)} %`).join(', ')}`,
  },
  opening: {
    name: 'In the opening',
    needs: {
      outline: { sentence: 'There is no opening to show the second in. Draw it.', briefly: 'Draw the opening first' },
    },
    ...{
      turns: true,
      together: true,
      inZone: true,
      parts: 'opening',
      toldByEmpty: false,
      stands: 'if-empty',
      moment: null,
    },
    layers: { lie: 'both', upper: 'second' },
    mask: 'opening',
    evenly: ({ at }, frame) => (at !== null && frame < at ? 0 : null),
    says: ({ at, lift_stops: lift }) =>
      `lifted by ${lift.toFixed(1)} stop${at === null ? '' : `, from frame ${at} on`}`,
  },
  cut: {
    name: 'One, then the other',
    needs: {
      at: { sentence: 'Choose the frame from which the second is shown.', briefly: 'Choose the frame to cut at' },
    },
    ...{
      turns: true,
      together: false,
      inZone: false,
      parts: 'nothing',
      toldByEmpty: false,
      stands: 'never',
      moment: 'spot',
    },
    layers: { lie: 'follows' },
    mask: null,
    evenly: ({ at }, frame) => (at !== null && frame >= at ? 1 : 0),
    says: ({ at }, _, second) => `${second} from frame ${at} on`,
  },
  held: {
    name: 'Held in the other',
    needs: { at: { sentence: 'Choose the frame of the first that is held.', briefly: 'Choose the frame to hold' } },
    ...{
      turns: true,
      together: false,
      inZone: false,
      parts: 'told',
      toldByEmpty: false,
      stands: 'never',
      moment: 'stills',
    },
    layers: { lie: 'held' },
    mask: 'figure',
    evenly: nowhere,
    says: ({ at }, first) => `frame ${at} of ${first} held`,
  },
  over: {
    name: 'One over the other',
    needs: {},
    ...{
      turns: false,
      together: false,
      inZone: false,
      parts: 'told',
      toldByEmpty: false,
      stands: 'always',
      moment: 'meet',
    },
    layers: { lie: 'both', upper: 'front' },
    mask: 'figure',
    evenly: nowhere,
    says: ({ front, rate_pct: rate }, first, second) =>
      `${front === 'first' ? first : second} in front, at ${(rate ?? 100).toFixed(0)} %`,
  },
  cloth: {
    name: 'Behind the cloth',
    needs: {
      at: {
        sentence: 'Choose the frame from which the second stands behind the cloth.',
        briefly: 'Choose the switch frame',
      },
    },
    ...{
      turns: true,
      together: false,
      inZone: false,
      parts: 'told',
      toldByEmpty: true,
      stands: 'if-empty',
      moment: 'cloth',
    },
    // A cloth goes on falling over the plate that has taken over behind it.
    layers: { lie: 'over-empty', until: 'end' },
    mask: 'cloth',
    evenly: nowhere,
    says: ({ at }, _, second) => `${second} behind the cloth from frame ${at} on`,
  },
  figure: {
    name: 'Cut out over it',
    needs: {},
    ...{
      turns: false,
      together: false,
      inZone: true,
      parts: 'told',
      toldByEmpty: true,
      stands: 'if-empty',
      moment: null,
    },
    layers: { lie: 'both', upper: 'second' },
    mask: 'figure',
    evenly: nowhere,
    says: ({ outline }, first) => (outline ? `what is in the zone of ${first}` : `whoever is in ${first}`),
  },
  edge: {
    name: 'Below the hands',
    needs: {},
    ...{
      turns: true,
      together: false,
      inZone: false,
      parts: 'told',
      toldByEmpty: true,
      stands: 'if-empty',
      moment: null,
    },
    layers: { lie: 'both', upper: 'second' },
    mask: 'seam',
    evenly: nowhere,
    says: ({ at }, _, second) => `${second} shows there${at === null ? '' : ` from frame ${at} on`}`,
  },
};

/** The ways in the order in which they are offered. */
export const JOINED_HOWS = Object.keys(JOINING_WAYS) as JoinedHow[];

/** What a wish still wants before two takes can be joined by it; null for nothing. */
export function missingOf({ how, ...wish }: { how: JoinedHow } & Record<Needed, unknown>): Missing | null {
  const { needs } = JOINING_WAYS[how];
  const missing = (Object.keys(needs) as Needed[]).find((need) => wish[need] === null);
  return missing ? needs[missing]! : null;
}
