import { createElement } from 'react';
import { StyleSheet, View } from 'react-native';
import { Mono, Strong } from '../components/words';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface Props {
  label: string;
  /** The value in words, with its unit. */
  said: string;
  value: number;
  least: number;
  most: number;
  step: number;
  onChange: (value: number) => void;
  testID?: string;
}

/** A value under the thumb, moved by keys too. */
export function SlideField({ label, said, value, least, most, step, onChange, testID }: Props) {
  const p = usePalette();
  return (
    <View style={styles.field}>
      <View style={styles.words}>
        <Mono>{label}</Mono>
        <Strong>{said}</Strong>
      </View>
      {createElement('input', {
        type: 'range',
        min: least,
        max: most,
        step,
        value: Math.max(least, Math.min(most, value)),
        disabled: most <= least,
        onChange: (e: { target: { value: string } }) => onChange(Number(e.target.value)),
        'aria-label': label,
        'aria-valuetext': said,
        'data-testid': testID,
        style: { width: '100%', height: TOUCH, margin: 0, accentColor: p.ink, touchAction: 'pan-y' },
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  field: { paddingTop: 4 },
  words: { flexDirection: 'row', justifyContent: 'space-between', alignItems: 'baseline', gap: 12 },
});
