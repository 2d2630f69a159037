import { StyleSheet, View } from 'react-native';
import type { PassTake } from '../../api/passes';
import { Action } from '../components/action';
import { Body, Soft } from '../components/words';
import { useAsk } from '../data/measure-hooks';
import { ChoiceField } from '../forms/fields';
import { SlideField } from '../forms/slide-field';
import type { Passing } from './use-passing';

interface Props {
  passing: Passing;
  first: PassTake;
  second: PassTake;
}

/** On which frame of the first the two are joined: cut there, held from there, or the second behind the cloth. */
export function MomentChoice({
  passing,
  first,
  second,
  frame,
  onFrame,
}: Props & { frame: number; onFrame: (frame: number) => void }) {
  const spot = useAsk('spot', ['passes', 'setups']);
  const { wish, change } = passing;
  const { how, at } = wish;
  const under = passing.under(frame);
  const words = {
    cut:
      at === null
        ? `Choose the frame from which ${second.label} is shown.`
        : `${first.label} until frame ${at - 1}, then ${second.label} from its frame ${passing.under(at)} on.`,
    held:
      at === null
        ? `Choose the frame of ${first.label} that is held.`
        : `Frame ${at} of ${first.label} stands in ${second.label}.`,
    cloth:
      at === null
        ? `Choose the frame from which ${second.label} stands behind the cloth.`
        : `From frame ${at} on ${second.label} stands behind the cloth.`,
    edge:
      at === null
        ? `Below the hands ${second.label} shows from first to last. Choose the frame in which they take hold of the edge.`
        : `From frame ${at} on ${second.label} shows below the line of the hands.`,
  };
  const label = {
    cut: `Cut at frame ${frame}`,
    held: `Hold frame ${frame}`,
    cloth: `Switch at frame ${frame}`,
    edge: `From frame ${frame} on`,
  };
  if (how !== 'cut' && how !== 'held' && how !== 'cloth' && how !== 'edge') return null;
  return (
    <View style={styles.stack}>
      <Body>{words[how]}</Body>
      <View style={styles.row}>
        <Action
          quiet
          label={label[how]}
          style={styles.half}
          onPress={() => change({ at: frame })}
          testID="moment-here"
        />
        {at !== null && at !== frame && (
          <Action quiet label={`Show frame ${at}`} style={styles.half} onPress={() => onFrame(at)} />
        )}
      </View>
      {how === 'cut' && (
        <Action
          quiet
          label={spot.isPending ? 'Asking for it' : `Hold frames ${frame} and ${under} against each other`}
          disabled={spot.isPending}
          onPress={() =>
            spot.mutate(
              { takes: [first.id, second.id], wish: { at_a: frame, at_b: under } },
              { onSuccess: () => change({ at: frame + 1, slide: frame - under }) },
            )
          }
          testID="spot-here"
        />
      )}
      {how !== 'cut' && <Soft>What is cut out is seen in the proof; here both are mixed half and half.</Soft>}
    </View>
  );
}

/** Which of the two lies over the other, and how fast the second is. */
export function OverChoice({ passing, first, second }: Props) {
  const { wish, change } = passing;
  return (
    <View style={styles.stack}>
      <ChoiceField
        name="In front"
        value={wish.front}
        onChange={(front) => change({ front })}
        options={[
          { value: 'first', label: first.label },
          { value: 'second', label: second.label },
        ]}
        testID="in-front"
      />
      <SlideField
        label={`Speed of ${second.label}`}
        said={`${wish.rate_pct.toFixed(0)} %`}
        value={Math.round(wish.rate_pct)}
        least={25}
        most={400}
        step={1}
        onChange={(rate_pct) => change({ rate_pct })}
        testID="rate"
      />
      <Soft>Who lies over the other is seen in the proof; here both are mixed half and half.</Soft>
    </View>
  );
}

const styles = StyleSheet.create({ stack: { gap: 8 }, row: { flexDirection: 'row', gap: 8 }, half: { flex: 1 } });
