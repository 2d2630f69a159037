import { REQUIREMENT_KINDS } from '../requirement-kinds';
import type { PartRole, Requirement, RequirementKind, Trick, TrickPart } from '../types';

/** A part of a library trick. */
export function part(
  key: string,
  name: string,
  role: PartRole,
  seconds: number,
  what: string,
  more: Partial<Pick<TrickPart, 'place' | 'optional'>> = {},
): TrickPart {
  return {
    key,
    name,
    role,
    seconds,
    what,
    place: more.place ?? (role === 'plate' ? 'first' : 'any'),
    optional: more.optional ?? false,
  };
}

/** A requirement with its kind's usual tolerance unless another is given. */
export function need(
  kind: RequirementKind,
  parts: string[],
  why: string,
  remedySet: string,
  remedyEdit: string | null,
  tolerance?: number,
): Requirement {
  return {
    key: `${kind}-${parts.join('-')}`,
    kind,
    parts,
    tolerance: tolerance ?? REQUIREMENT_KINDS[kind].tolerance?.usual ?? null,
    why,
    remedySet,
    remedyEdit,
  };
}

/** What is laid over something else, or has something laid over it: its light, white and focus stay as they are. */
export function steady(parts: string[], light = true): Requirement[] {
  const ofLight = need(
    'steady-light',
    parts,
    'Light that changes within a take shows as a seam that comes and goes.',
    'Set exposure by hand, wait for steady light, and roll again.',
    'Grade the change out along the take.',
  );
  return [
    ...(light ? [ofLight] : []),
    need(
      'steady-white',
      parts,
      'A shift of white shows as a coloured half of the picture.',
      'Set white by hand and roll again.',
      'Balance the shift out along the take.',
    ),
    need(
      'steady-focus',
      parts,
      'A soft half of the picture beside a sharp one gives the mask away.',
      'Set focus by hand and roll again.',
      'Use the frames in which it is sharp, or soften the other take to match.',
    ),
  ];
}

/** What a locked-off trick with a plate asks for: one position, one light, one setting, an empty plate. */
export function lockedWithPlate(passes: string[], plate = 'plate', room = 0.35): Requirement[] {
  const all = [...passes, plate];
  return [
    ...all.map((p) =>
      need(
        'locked',
        [p],
        'What is masked out of one take must lie exactly on the other.',
        'Weight the tripod, hands off, and roll this part again.',
        'Hold the take still with a small crop, if it was recorded larger.',
        room,
      ),
    ),
    ...steady(all),
    need(
      'same-position',
      all,
      'A shifted plate shows as a double edge all along the mask.',
      'Line the camera up with the reference frame and roll the plate again.',
      'Shift and turn the plate to fit, if nothing in it has depth.',
    ),
    need(
      'same-light',
      all,
      'A step of light shows as a seam.',
      'Lock exposure and white by hand; roll the plate again in the present light.',
      'Bring the plate in over several frames and match its light.',
    ),
    need(
      'same-settings',
      all,
      'Another size or rate makes the frames fall between each other.',
      'Set the camera back as noted on the sheet and roll again.',
      null,
    ),
    need(
      'clean-plate',
      [plate],
      'Whatever stands in the plate stands in the finished shot.',
      'Clear the frame, mind the shadows, and roll five seconds.',
      'Stitch an empty picture from the frames in which each spot was free.',
    ),
  ];
}

export function trick(
  key: string,
  name: string,
  summary: string,
  rest: Omit<Trick, 'key' | 'name' | 'summary'>,
): Trick {
  return { key, name, summary, ...rest };
}
