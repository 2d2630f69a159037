import { StyleSheet, View } from 'react-native';
import type { Contradiction } from '../../core/plan/types';
import { usePalette } from '../theme/theme';
import { Body, Strong } from './words';

/** Where the plan contradicts itself: what, and what to change. */
export function Contradictions({ found }: { found: readonly Contradiction[] }) {
  const p = usePalette();
  if (found.length === 0) return null;
  return (
    <View
      role="alert"
      testID="contradictions"
      style={[styles.box, { borderColor: p.reshoot, backgroundColor: p.card }]}
    >
      {found.map((c) => (
        <View key={c.text} style={styles.one}>
          <Body>{c.text}</Body>
          <Strong>{c.fix}</Strong>
        </View>
      ))}
    </View>
  );
}

/** Sentences to mind, lighter than a contradiction. */
export function Cautions({ texts, testID }: { texts: readonly string[]; testID?: string }) {
  const p = usePalette();
  if (texts.length === 0) return null;
  return (
    <View role="status" testID={testID} style={[styles.box, { borderColor: p.workable, backgroundColor: p.card }]}>
      {texts.map((t) => (
        <Strong key={t}>{t}</Strong>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  box: { borderWidth: 1.5, borderRadius: 4, padding: 14, gap: 12, marginVertical: 8 },
  one: { gap: 4 },
});
