import { StyleSheet, View } from 'react-native';
import { differences } from '../../core/plan/differences';
import { ChangedHere } from '../data/client';
import { usePalette } from '../theme/theme';
import { Body, Mono, Soft, Strong } from './words';

/** So many differences are shown; more are counted. */
const MOST_SHOWN = 6;

/** What somebody else made of it meanwhile, and what one's own change would make of it: shown before either is lost. */
export function ChangedMeanwhile({ here, yours, text }: { here: object; yours: object; text: string }) {
  const p = usePalette();
  const found = differences(here, yours);
  return (
    <View
      role="alert"
      testID="changed-meanwhile"
      style={[styles.box, { borderColor: p.workable, backgroundColor: p.card }]}
    >
      <Strong>{text}</Strong>
      {found.length === 0 && <Body>Both say the same. Save it, or leave it.</Body>}
      {found.slice(0, MOST_SHOWN).map((d) => (
        <View key={d.where}>
          <Soft>{d.where}</Soft>
          <View style={styles.sides}>
            <View style={styles.side}>
              <Soft>Theirs</Soft>
              <Mono>{d.theirs}</Mono>
            </View>
            <View style={styles.side}>
              <Soft>Yours</Soft>
              <Mono>{d.yours}</Mono>
            </View>
          </View>
        </View>
      ))}
      {found.length > MOST_SHOWN && <Soft>{`and ${found.length - MOST_SHOWN} more`}</Soft>}
    </View>
  );
}

/** The version to send along: the one that was seen, or, once both sides were shown, the one that stands. */
export const versionToSend = (error: Error | null, seen: number): number =>
  error instanceof ChangedHere ? error.here.version : seen;

const styles = StyleSheet.create({
  box: { borderWidth: 1.5, borderRadius: 4, padding: 14, gap: 12, marginVertical: 8 },
  sides: { flexDirection: 'row', gap: 16 },
  side: { flex: 1, minWidth: 0 },
});
