import { StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { VerdictCard } from '../components/verdict-card';
import { Heading, Mono } from '../components/words';
import type { WipeBenchPage } from '../../api/wipes';
import { CoverFacts, CutFacts } from './cover-facts';
import { WaysChart } from './ways-chart';

/** What covers the picture: the verdict, its numbers, and what to do. */
export function CoverFinding({
  bench: { cover },
  onFrame,
  onHand,
  onAgain,
}: {
  bench: WipeBenchPage;
  onFrame: (f: number) => void;
  onHand: () => void;
  onAgain: () => void;
}) {
  if (!cover || (cover.state !== 'done' && cover.state !== 'failed'))
    return (
      <View testID="cover-measuring">
        <Heading>Looking for what covers the picture</Heading>
        <UnderWay work={cover} what="frames gone through" />
      </View>
    );
  if (cover.state === 'failed' || !cover.verdict || !cover.result)
    return (
      <Failed error={new Error(cover.failure ?? 'What covers the picture could not be measured.')} onAgain={onAgain} />
    );
  return (
    <View style={styles.stack}>
      <VerdictCard
        verdict={cover.verdict}
        of="Cover"
        onFrame={onFrame}
        worstFrame={cover.result.peak_frame}
        frameWord="Fullest frame"
        footing={
          cover.wish.hand
            ? 'From edges set by hand.'
            : `What lies behind was well seen in ${(100 * cover.result.sure_share).toFixed(0)} % of the frames that show it.`
        }
      />
      {cover.verdict.verdict === 'unjudged' && (
        <Action label="Set the edge by hand" onPress={onHand} testID="to-hand" />
      )}
      <CoverFacts measure={cover.result} />
    </View>
  );
}

/** How both sides move against each other. */
export function CutFinding({
  bench: { cut, sides, outId, inId },
  onAgain,
}: {
  bench: WipeBenchPage;
  onAgain: () => void;
}) {
  if (!cut || (cut.state !== 'done' && cut.state !== 'failed'))
    return (
      <View testID="cut-measuring">
        <Heading>Holding both sides against each other</Heading>
        <UnderWay work={cut} what="following the picture" />
      </View>
    );
  const noted = (id: string | null) => sides.find((s) => s.id === id)?.shutter_s ?? null;
  if (cut.state === 'failed' || !cut.verdict || !cut.result)
    return <Failed error={new Error(cut.failure ?? 'The two sides could not be compared.')} onAgain={onAgain} />;
  return (
    <View style={styles.stack}>
      <VerdictCard verdict={cut.verdict} of="Cut" onFrame={() => undefined} worstFrame={null} />
      <View style={styles.ways}>
        <WaysChart cut={cut.result} />
        <Mono style={styles.legend}>{'drawn through: out side\ndashed: in side\nlength: speed of the picture'}</Mono>
      </View>
      <CutFacts measure={cut.result} shutters={[noted(outId), noted(inId)]} />
    </View>
  );
}

const styles = StyleSheet.create({
  stack: { gap: 14 },
  ways: { flexDirection: 'row', alignItems: 'center', gap: 14 },
  legend: { flex: 1 },
});
