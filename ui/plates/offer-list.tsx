import { Image, Pressable, ScrollView, StyleSheet, View } from 'react-native';
import type { Plate, PlateOffer } from '../../api/plates';
import { platePicture } from '../data/plate-hooks';
import { Disc } from '../components/disc';
import { Mono, Soft, Strong } from '../components/words';
import { usePalette } from '../theme/theme';
import { framePicture } from '../viewer/frame-picture';

/** How an offer lies to the take it is for, in a few words. */
export function offerWords(o: PlateOffer): string {
  const light =
    o.stops === null
      ? 'light not compared yet'
      : Math.abs(o.stops) < 0.02
        ? 'same light'
        : `${Math.abs(o.stops).toFixed(2)} stop ${o.stops > 0 ? 'brighter' : 'darker'}`;
  const when = o.minutes < 1 ? '' : `${Math.round(o.minutes)} min apart`;
  const grain = o.grain !== null && Math.abs(Math.log2(o.grain)) > 0.4 ? `grain ${o.grain.toFixed(1)} times` : '';
  return [
    o.occupied ? 'something stands in it all through' : '',
    o.kind === 'stitched' ? 'never empty: stitched' : `${o.seconds.toFixed(1)} s empty`,
    light,
    when,
    grain,
  ]
    .filter(Boolean)
    .join(' · ');
}

interface Props {
  offers: PlateOffer[];
  across: boolean;
  chosen: string | null;
  onChoose: (offer: PlateOffer) => void;
}

export const offerKey = (o: { takeId: string; run: { start: number } | null }) =>
  `${o.takeId}-${o.run?.start ?? 'stitched'}`;

/** Empty pictures the takes offer, the best first. */
export function OfferList({ offers, across, chosen, onChoose }: Props) {
  const p = usePalette();
  return (
    <ScrollView horizontal={across} contentContainerStyle={across ? styles.across : styles.down} testID="plate-offers">
      {offers.map((o, i) => (
        <Pressable
          key={offerKey(o)}
          role="button"
          onPress={() => onChoose(o)}
          testID={`offer-${i}`}
          aria-pressed={chosen === offerKey(o)}
          style={[
            across ? styles.card : styles.line,
            { borderColor: chosen === offerKey(o) ? p.ink : p.line, backgroundColor: p.card },
          ]}
        >
          <Image
            source={{ uri: framePicture(o.takeId, o.frame) }}
            style={across ? styles.wide : styles.small}
            resizeMode="cover"
            accessibilityLabel={`Frame ${o.frame} of ${o.partName}, take ${o.takeNumber}`}
          />
          <View style={styles.words}>
            <Strong lines={1}>{`${o.partName}, take ${o.takeNumber}`}</Strong>
            <Mono lines={1}>{o.run ? `frames ${o.run.start} to ${o.run.end}` : 'from many frames'}</Mono>
            <Soft lines={2}>{i === 0 ? `best · ${offerWords(o)}` : offerWords(o)}</Soft>
          </View>
        </Pressable>
      ))}
    </ScrollView>
  );
}

/** Plates that were made, the newest first. */
export function PlateList({
  plates,
  chosen,
  onChoose,
  nameOf,
}: {
  plates: Plate[];
  chosen: string | null;
  onChoose: (id: string) => void;
  nameOf: (plate: Plate) => string;
}) {
  const p = usePalette();
  return (
    <View style={styles.down} testID="made-plates">
      {plates.map((plate) => (
        <Pressable
          key={plate.id}
          role="button"
          aria-pressed={plate.id === chosen}
          onPress={() => onChoose(plate.id)}
          style={[styles.line, { borderColor: plate.id === chosen ? p.ink : p.line, backgroundColor: p.card }]}
          testID={`plate-${plate.id}`}
        >
          {plate.state === 'done' ? (
            <Image source={{ uri: platePicture(plate.id) }} style={styles.small} accessibilityLabel="The plate" />
          ) : (
            <View style={[styles.small, { backgroundColor: p.line }]} />
          )}
          <View style={styles.words}>
            <Strong lines={2}>{nameOf(plate)}</Strong>
            <Soft lines={2}>
              {plate.state === 'failed'
                ? (plate.failure ?? 'could not be made')
                : plate.state === 'done'
                  ? `${plate.kept_as ? 'kept as the plate · ' : ''}${plate.verdict?.reasons[0]?.text ?? ''}`
                  : plate.doing || 'waiting for its turn'}
            </Soft>
          </View>
          {plate.verdict && <Disc verdict={plate.verdict.verdict} size={26} />}
        </Pressable>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  across: { gap: 10, paddingVertical: 6 },
  down: { gap: 8, paddingVertical: 6 },
  card: { width: 216, borderWidth: 1.5, borderRadius: 4, overflow: 'hidden' },
  line: {
    flexDirection: 'row',
    alignItems: 'center',
    borderWidth: 1.5,
    borderRadius: 4,
    overflow: 'hidden',
    paddingRight: 8,
  },
  wide: { width: '100%', aspectRatio: 16 / 9 },
  small: { width: 112, minHeight: 76, alignSelf: 'stretch' },
  words: { padding: 8, gap: 2, flex: 1, minWidth: 0 },
});
