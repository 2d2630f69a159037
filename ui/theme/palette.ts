/** Colours of the two themes. Text meets 7:1 on both background and card in Day, 4.5:1 and more in Stage's dim light. */
export interface Palette {
  background: string;
  card: string;
  ink: string;
  soft: string;
  line: string;
  holds: string;
  workable: string;
  reshoot: string;
  unjudged: string;
  action: string;
  onAction: string;
}

/** Warm paper and ink, for sun on a phone. */
export const DAY: Palette = {
  background: '#F4EFE4',
  card: '#FBF8F1',
  ink: '#20201C',
  soft: '#4E4A40',
  line: '#CFC6B2',
  holds: '#1F4E79',
  workable: '#7A4F00',
  reshoot: '#8F2716',
  unjudged: '#57564F',
  action: '#20201C',
  onAction: '#FBF8F1',
};

/** Near black with dim amber, so that the phone throws no light on the set. */
export const STAGE: Palette = {
  background: '#0E0C09',
  card: '#17130D',
  ink: '#E0A24A',
  soft: '#B98A49',
  line: '#3A2E1B',
  holds: '#7FA8CF',
  workable: '#E0A24A',
  reshoot: '#E2725B',
  unjudged: '#9C9080',
  action: '#E0A24A',
  onAction: '#17130D',
};

export const FONT = {
  regular: 'Atkinson-Regular',
  semibold: 'Atkinson-SemiBold',
  bold: 'Atkinson-Bold',
  mono: 'Martian-Regular',
  monoBold: 'Martian-SemiBold',
} as const;

/** Least side of anything that is tapped. */
export const TOUCH = 48;

/** From this width on, list, picture and findings stand side by side. */
export const WIDE = 900;
