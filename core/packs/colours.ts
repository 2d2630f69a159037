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
