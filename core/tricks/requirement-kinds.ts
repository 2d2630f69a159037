import type { RequirementKind } from './types';

export interface KindFacts {
  name: string;
  /** The statement, with {n} for the tolerance. */
  says: string;
  /** Unit of the tolerance and its usual value; null when the kind has no tolerance. */
  tolerance: { unit: string; usual: number; least: number; most: number } | null;
  /** How many parts it speaks of, at least: with 1 it speaks of each of its parts by itself, with 2 of them together. */
  parts: 1 | 2;
  /** The measure that decides it, in words, as the sheet and the gate name it. */
  measure: string;
}

/** Every kind of requirement a trick may have. */
export const REQUIREMENT_KINDS: Record<RequirementKind, KindFacts> = {
  locked: {
    name: 'Camera locked',
    says: 'the picture moves by at most {n} px at delivery',
    tolerance: { unit: 'px', usual: 0.35, least: 0.1, most: 5 },
    parts: 1,
    measure: 'movement of the still parts',
  },
  'steady-light': {
    name: 'Steady light',
    says: 'the light changes by at most {n} stop over the frames used',
    tolerance: { unit: 'stop', usual: 0.1, least: 0.02, most: 2 },
    parts: 1,
    measure: 'light of the still parts over the take',
  },
  'steady-white': {
    name: 'Steady white',
    says: 'red and blue shift by at most {n} stop against green',
    tolerance: { unit: 'stop', usual: 0.07, least: 0.02, most: 2 },
    parts: 1,
    measure: 'white of the still parts over the take',
  },
  'steady-focus': {
    name: 'Steady focus',
    says: 'at most {n} % of fine detail is lost over the frames used',
    tolerance: { unit: '%', usual: 15, least: 5, most: 80 },
    parts: 1,
    measure: 'fine detail of the still parts over the take',
  },
  'rate-at-least': {
    name: 'Rate at least',
    says: 'at least {n} distinct pictures a second',
    tolerance: { unit: 'fps', usual: 50, least: 1, most: 1000 },
    parts: 1,
    measure: 'real rate of the file',
  },
  'headroom-at-least': {
    name: 'Headroom at least',
    says: 'recorded at least {n} % larger than delivery',
    tolerance: { unit: '%', usual: 20, least: 0, most: 400 },
    parts: 1,
    measure: 'size of the file against delivery',
  },
  'same-settings': {
    name: 'Same settings',
    says: 'size, rate and bit depth of the files agree',
    tolerance: null,
    parts: 2,
    measure: 'facts of the files',
  },
  'length-at-least': {
    name: 'Long enough',
    says: 'at least {n} s long',
    tolerance: { unit: 's', usual: 3, least: 0.5, most: 600 },
    parts: 1,
    measure: 'length of the file',
  },
  'steady-move': {
    name: 'Steady move',
    says: 'the camera moves evenly, within {n} % of its mean speed',
    tolerance: { unit: '%', usual: 15, least: 1, most: 100 },
    parts: 1,
    measure: 'evenness of the camera’s speed',
  },
  'same-position': {
    name: 'Same camera position',
    says: 'the pictures lie on each other within {n} px',
    tolerance: { unit: 'px', usual: 0.5, least: 0.1, most: 20 },
    parts: 2,
    measure: 'shift, turn and size between the takes',
  },
  'same-light': {
    name: 'Same light',
    says: 'the light agrees within {n} stop',
    tolerance: { unit: 'stop', usual: 0.1, least: 0.02, most: 2 },
    parts: 2,
    measure: 'light of the still parts',
  },
  'one-roll': {
    name: 'One roll',
    says: 'recorded without stopping the camera',
    tolerance: null,
    parts: 2,
    measure: 'the recording the parts come from',
  },
  'clean-plate': {
    name: 'Clean plate',
    says: 'nobody, nothing loose and no shadow in it',
    tolerance: null,
    parts: 1,
    measure: 'presence in the plate',
  },
  'covers-frame': {
    name: 'Covers the frame',
    says: 'the whole frame is covered for at least {n} frames',
    tolerance: { unit: 'frames', usual: 1, least: 1, most: 100 },
    parts: 1,
    measure: 'share of the frame covered',
  },
  'leaves-frame': {
    name: 'Leaves the frame',
    says: 'what covered the frame is gone at the end',
    tolerance: null,
    parts: 1,
    measure: 'the frame in which it leaves',
  },
  'same-direction': {
    name: 'Same direction',
    says: 'both sides move the same way within {n}°',
    tolerance: { unit: '°', usual: 15, least: 1, most: 90 },
    parts: 2,
    measure: 'direction of the picture on both sides',
  },
  'opposite-direction': {
    name: 'Opposite directions',
    says: 'the two move against each other within {n}°',
    tolerance: { unit: '°', usual: 60, least: 1, most: 90 },
    parts: 2,
    measure: 'direction of what moves',
  },
  apart: {
    name: 'Apart',
    says: 'the two are never nearer than {n} px, shadows included',
    tolerance: { unit: 'px', usual: 60, least: 0, most: 4000 },
    parts: 2,
    measure: 'distance between the performers',
  },
  'inside-frame': {
    name: 'Stays inside the frame',
    says: 'it never touches the frame’s edges',
    tolerance: null,
    parts: 1,
    measure: 'contact with the edges',
  },
  'hidden-at': {
    name: 'Hidden at the switch',
    says: 'hidden whole for at least {n} frames',
    tolerance: { unit: 'frames', usual: 1, least: 1, most: 100 },
    parts: 1,
    measure: 'presence at the switch frame',
  },
  'cloth-hides': {
    name: 'Hidden by the cloth',
    says: 'the cloth hides them whole for at least {n} frames',
    tolerance: { unit: 'frames', usual: 1, least: 1, most: 100 },
    parts: 1,
    measure: 'what shows beside the cloth',
  },
  'same-spot': {
    name: 'Same spot',
    says: 'it starts where the other ended, within {n} px',
    tolerance: { unit: 'px', usual: 20, least: 1, most: 500 },
    parts: 2,
    measure: 'place, height and size at the switch',
  },
  'sharp-at': {
    name: 'Sharp where it counts',
    says: 'motion blur of at most {n} px in the frames used',
    tolerance: { unit: 'px', usual: 4, least: 0.5, most: 100 },
    parts: 1,
    measure: 'sharpness of the frame',
  },
  'zone-free': {
    name: 'Zone kept free',
    says: 'nothing enters the marked zone',
    tolerance: null,
    parts: 1,
    measure: 'presence in the zone',
  },
  'zone-till-pulled': {
    name: 'Touched by the pull alone',
    says: 'nothing but the pull touches the marked zone',
    tolerance: null,
    parts: 1,
    measure: 'presence in the zone before and after what lies in it is pulled away',
  },
  'inside-zone': {
    name: 'Stays in the opening',
    says: 'nobody shows outside the marked opening, whose edge can be followed',
    tolerance: null,
    parts: 1,
    measure: 'presence outside the zone, and its edge against the grain',
  },
  'same-outside': {
    name: 'Same outside the opening',
    says: 'nothing stands elsewhere outside the marked opening',
    tolerance: null,
    parts: 2,
    measure: 'what differs between the takes outside the zone',
  },
  'beats-marked': {
    name: 'Beats marked',
    says: 'each beat is known to {n} frame',
    tolerance: { unit: 'frame', usual: 1, least: 1, most: 25 },
    parts: 1,
    measure: 'marked frames',
  },
  'drifts-little': {
    name: 'Hangs still',
    says: 'it drifts by at most {n} % of its size in the frames used',
    tolerance: { unit: '%', usual: 10, least: 1, most: 500 },
    parts: 1,
    measure: 'drift and turn of the held thing',
  },
  'cut-out-frames': {
    name: 'Can be cut out',
    says: 'whole, off the ground and clear of what is behind in at least {n} frames',
    tolerance: { unit: 'frames', usual: 8, least: 1, most: 250 },
    parts: 1,
    measure: 'height over the ground, and the outline against what lies behind',
  },
  'light-on-beat': {
    name: 'Light on its beat',
    says: 'light rises in the marked zone alone, within {n} frame of its mark',
    tolerance: { unit: 'frame', usual: 1, least: 1, most: 25 },
    parts: 1,
    measure: 'steps of light, in the zone and outside it',
  },
  'light-inside': {
    name: 'Light stays inside',
    says: 'light steps in the marked opening alone',
    tolerance: null,
    parts: 1,
    measure: 'steps of light outside the zone',
  },
  'straight-edge': {
    name: 'Edge stays straight',
    says: 'the edge bends by at most {n} px and reaches both sides',
    tolerance: { unit: 'px', usual: 6, least: 1, most: 200 },
    parts: 1,
    measure: 'straightness of the closing edge',
  },
};

/** The requirement's statement with its tolerance filled in. */
export function statement(kind: RequirementKind, tolerance: number | null): string {
  return REQUIREMENT_KINDS[kind].says.replace('{n}', String(tolerance ?? '')).replace(/\b1 frames\b/, '1 frame');
}

/** Whether a kind speaks of each of its parts by itself. */
export const eachByItself = (kind: RequirementKind): boolean => REQUIREMENT_KINDS[kind].parts === 1;
