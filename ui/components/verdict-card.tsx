import { StyleSheet, View } from 'react-native';
import { Pressable } from 'react-native';
import type { Reason, Said } from '../../core/report/types';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { BigNumber } from './big-number';
import { Disc, VERDICT_WORDS, verdictColor } from './disc';
import { Body, Heading, Mono, Soft, Strong } from './words';

interface Props {
  /** Nobody asked where its verdict is null: then it is a plain fact. */
  verdict: Said;
  /** What was judged, in a word: "Lock". */
  of: string;
  /** Leads to a frame of the take. */
  onFrame: (frame: number) => void;
  /** The frame that shows the worst. */
  worstFrame: number | null;
  /** What that frame is, when it is not the worst. */
  frameWord?: string;
  /** Small print on how sure the measure is. */
  footing?: string;
}

/** A verdict: disc and word, one sentence, the two numbers that decided it, what to do now, then evidence. */
export function VerdictCard({ verdict, of, onFrame, worstFrame, frameWord = 'Worst frame', footing }: Props) {
  const p = usePalette();
  const word = verdict.verdict;
  const color = word ? verdictColor(p, word) : p.line;
  const [first, ...others] = verdict.reasons;
  return (
    <View style={[styles.card, { backgroundColor: p.card, borderColor: color }]} testID={`verdict-${of.toLowerCase()}`}>
      <View style={styles.head}>
        {word && <Disc verdict={word} size={40} />}
        <View style={styles.words}>
          <Heading>{word ? `${of}: ${VERDICT_WORDS[word].toLowerCase()}` : `${of}, not asked for`}</Heading>
          {first && <Body>{first.text}</Body>}
        </View>
      </View>
      <View style={styles.numbers}>
        {verdict.deciding.map((n) => (
          <BigNumber key={n.name} number={n} />
        ))}
      </View>
      {first?.fix && (
        <View style={[styles.fix, { borderTopColor: p.line }]}>
          <Strong>{first.fix}</Strong>
        </View>
      )}
      {worstFrame !== null && word !== 'unjudged' && word !== null && (
        <Pressable
          role="button"
          onPress={() => onFrame(worstFrame)}
          style={[styles.link, { borderTopColor: p.line }]}
          testID={`worst-${of.toLowerCase()}`}
        >
          <Strong>{`${frameWord}: ${worstFrame}`}</Strong>
          <Mono>show</Mono>
        </Pressable>
      )}
      {others.map((reason) => (
        <Evidence key={`${reason.code}${reason.frames[0]?.start}`} reason={reason} onFrame={onFrame} />
      ))}
      {footing && <Soft style={styles.footing}>{footing}</Soft>}
    </View>
  );
}

function Evidence({ reason, onFrame }: { reason: Reason; onFrame: (frame: number) => void }) {
  const p = usePalette();
  const at = reason.frames[0]?.start;
  return (
    <Pressable
      role={at === undefined ? undefined : 'button'}
      disabled={at === undefined}
      style={[styles.link, { borderTopColor: p.line }]}
      onPress={() => at !== undefined && onFrame(at)}
    >
      <Body style={styles.words}>{reason.text}</Body>
      {at !== undefined && <Mono>{`frame ${at}`}</Mono>}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  card: { borderWidth: 1.5, borderRadius: 4, padding: 16, gap: 12 },
  head: { flexDirection: 'row', gap: 12, alignItems: 'flex-start' },
  words: { flex: 1, minWidth: 0 },
  numbers: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 26, rowGap: 10 },
  fix: { borderTopWidth: 1, paddingTop: 12 },
  link: {
    borderTopWidth: 1,
    minHeight: TOUCH,
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: 12,
    paddingTop: 6,
  },
  footing: { paddingTop: 2 },
});
