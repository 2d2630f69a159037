import { View } from 'react-native';
import type { PassBenchPage, PassTake } from '../../api/passes';
import { Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { VerdictCard } from '../components/verdict-card';
import { Soft } from '../components/words';
import { useMakeAgain } from '../data/measure-hooks';

/** What says where two takes meet, in words. */
const MOMENTS = {
  spot: { what: 'Holding the two places against each other', of: 'Spot', frameWord: 'Held against it, frame' },
  meet: { what: 'Looking for when they would meet', of: 'Meeting', frameWord: 'The last before it, frame' },
  stills: { what: 'Looking for frames to hold', of: 'Held frame', frameWord: 'The best, frame' },
  cloth: { what: 'Telling the cloth from the performer', of: 'Cloth', frameWord: 'From frame' },
} as const;

interface Props {
  bench: PassBenchPage;
  first: PassTake;
  second: PassTake;
  onFrame: (frame: number) => void;
}

/** What was measured of the two: whether they ever meet, or when somebody is hidden. */
export function PassFindings({ bench: { pair, hide, how, wants, moment }, first, second, onFrame }: Props) {
  const again = useMakeAgain();
  if (wants) {
    const { what, of, frameWord } = MOMENTS[wants];
    if (!moment || moment.state === 'waiting' || moment.state === 'working')
      return <UnderWay work={moment} what={what} />;
    if (!moment.result || !moment.verdict)
      return (
        <Failed error={new Error(moment.failure ?? 'It could not be told.')} onAgain={() => again.mutate(moment.id)} />
      );
    return (
      <VerdictCard
        verdict={moment.verdict}
        of={of}
        onFrame={onFrame}
        worstFrame={moment.verdict.reasons[0]?.frames[0]?.start ?? null}
        frameWord={frameWord}
      />
    );
  }
  if (how === 'switch') {
    if (!hide || hide.state === 'waiting' || hide.state === 'working')
      return <UnderWay work={hide} what="Looking for when they are hidden" />;
    if (!hide.result || !hide.verdict)
      return (
        <Failed error={new Error(hide.failure ?? 'It could not be told.')} onAgain={() => again.mutate(hide.id)} />
      );
    return (
      <VerdictCard
        verdict={hide.verdict}
        of="Hidden"
        onFrame={onFrame}
        worstFrame={hide.result.switch_frame}
        frameWord="Hidden from frame"
        footing="Shadows count as the performer."
      />
    );
  }
  // Beside a plate there is nobody to be kept apart from.
  if (second.plate || first.plate) return null;
  if (!pair || pair.state === 'waiting' || pair.state === 'working')
    return <UnderWay work={pair} what="Looking for what parts the two" />;
  if (!pair.result || !pair.verdict)
    return (
      <Failed
        error={new Error(pair.failure ?? 'The two could not be held against each other.')}
        onAgain={() => again.mutate(pair.id)}
      />
    );
  return (
    <View>
      <VerdictCard
        verdict={pair.verdict}
        of="Apart"
        onFrame={onFrame}
        worstFrame={pair.result.closest_frame}
        frameWord="Nearest in frame"
        footing="Shadows count as the performer."
      />
      {pair.take_id !== first.id && <Soft>Measured the other way round: its frames are those of the second.</Soft>}
    </View>
  );
}
