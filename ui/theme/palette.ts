import { DAY, type Palette } from '../../core/packs/colours';

export { DAY, type Palette };

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
