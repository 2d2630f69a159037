import { StyleSheet, View } from 'react-native';
import { ActivityIndicator } from 'react-native-paper';
import { usePalette } from '../theme/theme';
import { Action } from './action';
import { Body, Heading, Mono } from './words';

export function Loading({ what }: { what: string }) {
  const p = usePalette();
  return (
    <View style={styles.box} role="status">
      <ActivityIndicator accessibilityLabel="Loading" color={p.ink} />
      <Body style={styles.middle}>Reading {what} …</Body>
    </View>
  );
}

/** Something did not work: what, and what next. */
export function Failed({ error, onAgain }: { error: Error; onAgain?: () => void }) {
  return (
    <View style={styles.box} role="alert">
      <Heading>That did not work</Heading>
      <Body style={styles.middle}>{error.message}</Body>
      {onAgain && <Action quiet label="Try again" onPress={onAgain} />}
    </View>
  );
}

export function Empty({ title, text }: { title: string; text: string }) {
  return (
    <View style={styles.box}>
      <Heading>{title}</Heading>
      <Body style={styles.middle}>{text}</Body>
    </View>
  );
}

/** How far something is, with what is being done. */
export function Progress({ what, done, total, unit }: { what: string; done: number; total: number; unit: string }) {
  const p = usePalette();
  const share = total > 0 ? Math.min(1, done / total) : 0;
  return (
    <View
      role="progressbar"
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-label={what}
      style={styles.progress}
    >
      <View style={[styles.track, { backgroundColor: p.line }]}>
        <View style={[styles.fill, { backgroundColor: p.ink, width: `${share * 100}%` }]} />
      </View>
      <Mono>{total > 0 ? `${what}: ${done} of ${total} ${unit}` : `${what} …`}</Mono>
    </View>
  );
}

const styles = StyleSheet.create({
  box: { alignItems: 'center', gap: 12, paddingVertical: 48, paddingHorizontal: 16 },
  middle: { textAlign: 'center', maxWidth: 420 },
  progress: { gap: 6, paddingVertical: 6 },
  track: { height: 8, borderRadius: 4, overflow: 'hidden' },
  fill: { height: 8 },
});
