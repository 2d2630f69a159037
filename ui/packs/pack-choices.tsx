import { StyleSheet, View } from 'react-native';
import { SegmentedButtons, Switch } from 'react-native-paper';
import type { PackWish } from '../../core/packs/types';
import { bytesInWords } from '../../core/base/numeric/bytes';
import { Cautions } from '../components/notice';
import { Soft, Strong } from '../components/words';
import { TOUCH } from '../theme/palette';

interface Props {
  wish: PackWish;
  /** Bytes of the recordings that would go along. */
  recordings: number;
  /** Those of all takes. */
  allRecordings: number;
  /** What would not go along although all takes did. */
  leftByAll: readonly string[];
  onWish: (wish: PackWish) => void;
}

const NO_BACKUP = 'All takes without the recordings are no backup: let the recordings go along.';

/** What goes along in a pack. */
export function PackChoices({ wish, recordings, allRecordings, leftByAll, onWish }: Props) {
  const rows = [
    ['plates', 'Plates and stills', 'as PNG, full and delivery size, and as still clips'],
    ['mattes', 'Rough mattes', 'of whoever is in, and of what covers: some minutes a take'],
    [
      'recordings',
      'The recordings',
      `${bytesInWords(wish.takes === 'all' ? allRecordings : recordings)}; without them the pack is small`,
    ],
  ] as const;
  return (
    <View>
      {rows.map(([key, title, text]) => (
        <View key={key} style={styles.row}>
          <View style={styles.words}>
            <Strong>{title}</Strong>
            <Soft>{text}</Soft>
          </View>
          <Switch
            accessibilityLabel={title}
            testID={`wish-${key}`}
            value={wish[key]}
            onValueChange={(on) => onWish({ ...wish, [key]: on })}
          />
        </View>
      ))}
      <View style={styles.takes}>
        <SegmentedButtons
          value={wish.takes}
          onValueChange={(takes) => onWish({ ...wish, takes: takes as PackWish['takes'] })}
          buttons={[
            { value: 'circled', label: 'Circled takes', testID: 'takes-circled' },
            { value: 'standing', label: 'Best of each', testID: 'takes-standing' },
            { value: 'all', label: 'All takes', testID: 'takes-all' },
          ]}
        />
      </View>
      {wish.takes === 'all' && (
        <Cautions
          testID="left-by-all"
          texts={[...(wish.recordings ? [] : [NO_BACKUP]), ...leftByAll.map((text) => `Not in it. ${text}`)]}
        />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: TOUCH + 8 },
  words: { flex: 1, minWidth: 0 },
  takes: { paddingVertical: 8 },
});
