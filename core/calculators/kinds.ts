/** The sums, by their key. */
export const SUM_KINDS = [
  'retime',
  'timecode',
  'cover',
  'pan-past',
  'walk-in',
  'softness',
  'headroom',
  'double-room',
  'mask-work',
  'vehicle',
  'light',
  'flicker',
] as const;
export type SumKind = (typeof SUM_KINDS)[number];

/** Something a sum asks for. */
export type SumInput =
  | { key: string; label: string; kind: 'number'; unit: string; usual: number; least: number; most: number }
  | { key: string; label: string; kind: 'choice'; usual: string; options: { value: string; label: string }[] }
  | { key: string; label: string; kind: 'text'; usual: string; hint: string };

/** Values as typed: numbers as numbers, everything else as text. */
export type SumValues = Record<string, number | string>;

/** One answer, ready to be read out. */
export interface SumAnswer {
  label: string;
  value: string;
  unit: string;
  /** Larger than the others: what the sum is done for. */
  main?: boolean;
}

export interface SumCurve {
  xLabel: string;
  yLabel: string;
  points: { x: number; y: number }[];
  /** Where the present values lie. */
  at: { x: number; y: number } | null;
}

export interface SumResult {
  answers: SumAnswer[];
  /** The working, in one line. */
  working: string;
  /** What to do or to mind; empty when all is well. */
  cautions: string[];
  curve?: SumCurve;
}

/** One sum as a screen needs it. */
export interface SumSheet {
  kind: SumKind;
  name: string;
  /** What it answers, in one sentence. */
  answers: string;
  inputs: SumInput[];
  /** @throws RangeError with a sentence when the values have no answer */
  work: (values: SumValues) => SumResult;
}

/** The value of a number input. @throws RangeError with a sentence when it is missing or outside its bounds */
export function numberOf(sheet: Pick<SumSheet, 'inputs'>, values: SumValues, key: string): number {
  const input = sheet.inputs.find((i) => i.key === key);
  if (!input || input.kind !== 'number') throw new RangeError(`This sum knows no number "${key}".`);
  const raw = values[key] ?? input.usual;
  const value = typeof raw === 'string' ? (raw.trim() === '' ? NaN : Number(raw.replace(',', '.'))) : raw;
  if (!Number.isFinite(value)) throw new RangeError(`${input.label}: a number is missing.`);
  if (value < input.least || value > input.most) {
    throw new RangeError(
      `${input.label}: ${input.least} to ${input.most}${input.unit ? ` ${input.unit}` : ''} can be worked with.`,
    );
  }
  return value;
}

/** The value of a text or choice input. */
export function textOf(sheet: Pick<SumSheet, 'inputs'>, values: SumValues, key: string): string {
  const input = sheet.inputs.find((i) => i.key === key);
  if (!input || input.kind === 'number') throw new RangeError(`This sum knows no "${key}".`);
  const value = String(values[key] ?? input.usual);
  if (input.kind === 'choice' && !input.options.some((o) => o.value === value))
    throw new RangeError(`${input.label}: choose one of the list.`);
  return value;
}

/** A number input, short. */
export function ask(key: string, label: string, unit: string, usual: number, least: number, most: number): SumInput {
  return { key, label, kind: 'number', unit, usual, least, most };
}

/** Digits that suit the size of a number, without needless zeros. */
export function tidy(value: number, digits = 3): string {
  if (!Number.isFinite(value)) return '∞';
  if (value === 0) return '0';
  const size = Math.floor(Math.log10(Math.abs(value)));
  const places = Math.max(0, Math.min(digits, digits - 1 - size));
  const text = value.toFixed(places);
  return places > 0 ? text.replace(/\.?0+$/, '') : text;
}
