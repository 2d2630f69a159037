import { StyleSheet, View } from 'react-native';
import type { RateRow } from '../../core/judge/rates';
import { Disc } from '../components/disc';
import { Heading, Mono, Soft, Strong } from '../components/words';
import { usePalette } from '../theme/theme';

/** The rates of what was rolled, against each other and the plan, with what to do where they do not fit. */
export function RateCard({ rates }: { rates: RateRow[] }) {
  const p = usePalette();
  if (rates.length === 0) return null;
  return (
    <View testID="rates">
      <Heading style={styles.head}>Frame rate across parts</Heading>
      {rates.map((r) => (
        <View key={r.name} style={[styles.row, { borderBottomColor: p.line }]}>
          <Disc verdict={r.verdict} size={26} />
          <View style={styles.words}>
            <Strong>{`${r.name}: ${r.rate}`}</Strong>
            <Mono>{[r.shutter, r.pattern].filter(Boolean).join(' · ')}</Mono>
            {r.findings.map((f) => (
              <Soft key={f.text}>{`${f.text} ${f.fix}`}</Soft>
            ))}
          </View>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 20 },
  row: { flexDirection: 'row', gap: 12, paddingVertical: 9, borderBottomWidth: 1, alignItems: 'flex-start' },
  words: { flex: 1, minWidth: 0, gap: 2 },
});
