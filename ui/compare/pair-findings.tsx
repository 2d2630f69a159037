import { View } from 'react-native';
import type { TakesCompared } from '../../api/takes';
import { Action } from '../components/action';
import { Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { VerdictCard } from '../components/verdict-card';
import { Soft } from '../components/words';
import { useAsk, useFoundMeasure, useMakeAgain } from '../data/measure-hooks';

/** Whether two passes ever meet, and what parts them: measured for tricks that want it, and for any two when asked. */
export function PairFindings({ data, onFrame }: { data: TakesCompared; onFrame: (frame: number) => void }) {
  const takes = [data.take.id, data.against.id];
  const pair = useFoundMeasure('pair', takes);
  const ask = useAsk('pair', []);
  const again = useMakeAgain();
  const found = pair.data;
  if (pair.isPending) return null;
  if (!found)
    return (
      <View testID="pair-unasked">
        {ask.error && <Failed error={ask.error} />}
        <Soft>Are these two passes of one trick? Then look whether the two ever meet, and which line parts them.</Soft>
        <Action
          quiet
          label="Look for what parts them"
          disabled={ask.isPending}
          onPress={() => ask.mutate({ takes })}
          testID="ask-pair"
        />
      </View>
    );
  if (found.state === 'waiting' || found.state === 'working')
    return <UnderWay work={found} what="Looking for what parts the two" />;
  if (!found.result || !found.verdict)
    return (
      <Failed
        error={new Error(found.failure ?? 'The two could not be held against each other.')}
        onAgain={() => again.mutate(found.id)}
      />
    );
  const { closest_frame: nearest } = found.result;
  return (
    <VerdictCard
      verdict={found.verdict}
      of="Apart"
      onFrame={onFrame}
      worstFrame={nearest}
      frameWord="Nearest in frame"
      footing="Shadows count as the performer. The line is drawn over the pictures when they are mixed or joined."
    />
  );
}
