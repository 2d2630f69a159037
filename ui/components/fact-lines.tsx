import { StyleSheet, View } from 'react-native';
import { usePalette } from '../theme/theme';
import { Mono, Soft } from './words';

/** Names with their values, line by line. */
export function FactLines({ lines }: { lines: readonly (readonly [string, string])[] }) {
  const p = usePalette();
  return (
    <View>
      {lines.map(([name, value]) => (
        <View key={name} style={[styles.line, { borderBottomColor: p.line }]}>
          <Soft>{name}</Soft>
          <Mono style={styles.value}>{value}</Mono>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', justifyContent: 'space-between', gap: 16, paddingVertical: 7, borderBottomWidth: 1 },
  value: { fontSize: 13, textAlign: 'right', flexShrink: 1 },
});
