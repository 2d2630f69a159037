import { StyleSheet, Text, View } from 'react-native';
import type { DecidingNumber } from '../../core/report/types';
import { FONT } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { plain } from './plain-number';

/** A number to be read from arm's length, with its limit beside it. */
export function BigNumber({ number }: { number: DecidingNumber }) {
  const p = usePalette();
  const what = number.frame === null ? number.name : `${number.name} at ${number.frame}`;
  return (
    <View style={styles.box}>
      <Text style={[styles.number, { color: p.ink }]}>
        {plain(number.value)}
        <Text style={[styles.unit, { color: p.soft }]}> {number.unit}</Text>
      </Text>
      <Text style={[styles.note, { color: p.soft }]}>{what}</Text>
      {number.limit !== null && (
        <Text style={[styles.note, { color: p.soft }]}>{`limit ${plain(number.limit)} ${number.unit}`}</Text>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  box: { flexShrink: 1, minWidth: 110 },
  number: { fontFamily: FONT.monoBold, fontSize: 29, letterSpacing: -1.4, lineHeight: 36 },
  unit: { fontFamily: FONT.mono, fontSize: 13, letterSpacing: 0 },
  note: { fontFamily: FONT.mono, fontSize: 12, lineHeight: 17 },
});
