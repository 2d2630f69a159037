import type { SetupPage } from '../../api/boards';
import type { RollWish } from '../../api/rolls';

/** What may be done before the stand-in camera. */
export const ACTS: { value: RollWish['act']; label: string }[] = [
  { value: 'none', label: 'Nothing special' },
  { value: 'jumps', label: 'Jumps up' },
  { value: 'clothes-drop', label: 'Clothes fall alone' },
  { value: 'leaps', label: 'Leaps across' },
  { value: 'falls', label: 'Runs and falls' },
  { value: 'runs-out', label: 'Runs out' },
  { value: 'runs-in', label: 'Runs in' },
  { value: 'reacts', label: 'Reacts to a hit' },
  { value: 'drives-by', label: 'A van drives by' },
  { value: 'taps', label: 'Taps the air' },
  { value: 'lights-lamp', label: 'A lamp comes on' },
  { value: 'throws-cloth', label: 'Throws a cloth up' },
  { value: 'pulls-cloth', label: 'Pulls a cloth off' },
  { value: 'mimes', label: 'Mimes raising a cloth' },
  { value: 'hangs', label: 'A lantern hangs' },
];

const FAULT_LABELS: Record<RollWish['act_fault'], string> = {
  none: 'Goes well',
  blurred: 'Fast and smeared',
  elsewhere: 'A hand’s breadth off',
  'on-feet': 'Lands on the feet',
  'out-of-top': 'Thrown too high',
  'arm-beside': 'An arm shows beside it',
  late: 'They leave too late',
  'wrong-way': 'Carried the wrong way',
  'cut-off': 'Out at the top',
  spills: 'Lights everything',
  swings: 'Swings on its thread',
};

const FAULTS: Partial<Record<RollWish['act'], RollWish['act_fault'][]>> = {
  'clothes-drop': ['elsewhere'],
  leaps: ['cut-off'],
  falls: ['blurred'],
  reacts: ['wrong-way'],
  taps: ['elsewhere'],
  'lights-lamp': ['spills'],
  hangs: ['swings'],
  'throws-cloth': ['on-feet', 'out-of-top', 'arm-beside', 'late'],
};

/** What may go wrong with an act. */
export function faultsOf(act: RollWish['act']): { value: RollWish['act_fault']; label: string }[] {
  return (['none', ...(FAULTS[act] ?? [])] as const).map((value) => ({ value, label: FAULT_LABELS[value] }));
}

/** What is done in a part of a trick, by their keys. */
const ACT_OF: Record<string, Record<string, RollWish['act']>> = {
  'streak-run': { start: 'runs-out', end: 'runs-in' },
  'mid-air-vanish': { jump: 'jumps', prop: 'clothes-drop' },
  'held-moment': { fall: 'falls' },
  floater: { pass: 'hangs' },
  'staged-impact': { react: 'reacts', vehicle: 'drives-by' },
  'lit-prop': { pass: 'lights-lamp' },
  'cloth-drop': { pass: 'throws-cloth' },
  'cover-pull': { pass: 'pulls-cloth' },
  'mime-screen': { pass: 'mimes' },
  'dialled-fade': { pass: 'taps' },
  'pulled-in': { jump: 'leaps' },
};

/** What is done at first in a part of a setup: what its trick asks for. */
export function actOfPart(setup: SetupPage, partId: string): RollWish['act'] {
  for (const { trick, parts } of setup.planned) {
    const key = Object.keys(parts).find((k) => parts[k] === partId);
    const act = key && ACT_OF[trick.key]?.[key];
    if (act) return act;
  }
  return 'none';
}
