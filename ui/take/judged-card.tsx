import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Chip } from 'react-native-paper';
import type { TakePage } from '../../api/takes';
import type { TakeReport } from '../../core/report/types';
import { PURPOSES } from '../../core/tricks/library/purposes';
import type { Purpose } from '../../core/tricks/types';
import { Disc, VERDICT_WORDS, verdictColor } from '../components/disc';
import { Failed } from '../components/states';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { useChangePart } from '../data/plan-hooks';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

/** What a take was judged for, the verdict on it, and what is asked of it: what holds is folded to one line. */
export function JudgedCard({
  take,
  report,
  onFrame,
}: {
  take: TakePage;
  report: TakeReport;
  onFrame: (f: number) => void;
}) {
  const p = usePalette();
  const [open, setOpen] = useState(false);
  const { verdict, text, fix, judged_for, findings, file } = report.take;
  const holding = findings.filter((f) => f.verdict === 'holds');
  const shown = open ? findings : findings.filter((f) => f.verdict !== 'holds');
  const others = (file?.reasons ?? []).filter((r) => !text.startsWith(r.text));
  return (
    <View style={[styles.card, { backgroundColor: p.card, borderColor: verdictColor(p, verdict) }]} testID="judged">
      <View style={styles.head}>
        <Disc verdict={verdict} size={40} />
        <View style={styles.words}>
          <Heading>{VERDICT_WORDS[verdict]}</Heading>
          <Mono>{`judged as ${judged_for}`}</Mono>
        </View>
      </View>
      <Body>{text}</Body>
      {fix && <Strong>{fix}</Strong>}
      {others.map((r) => (
        <Pressable
          key={r.code}
          role={r.frames.length ? 'button' : undefined}
          disabled={!r.frames.length}
          onPress={() => r.frames[0] && onFrame(r.frames[0].start)}
          style={[styles.line, { borderTopColor: p.line }]}
        >
          <Body style={styles.words}>{r.text}</Body>
        </Pressable>
      ))}
      {shown.map((f) => (
        <View key={`${f.kind}${f.trick}`} style={[styles.line, { borderTopColor: p.line }]}>
          <Disc verdict={f.verdict} size={22} />
          <View style={styles.words}>
            <Strong>{f.name}</Strong>
            <Soft>{f.text === text ? f.says : f.text}</Soft>
          </View>
        </View>
      ))}
      {holding.length > 0 && (
        <Pressable
          role="button"
          aria-expanded={open}
          onPress={() => setOpen(!open)}
          style={[styles.line, { borderTopColor: p.line }]}
          testID="holding"
        >
          <Body style={styles.words}>
            {holding.length === findings.length
              ? `${holding.length} of ${findings.length} asked for hold`
              : `${holding.length} more of ${findings.length} hold`}
          </Body>
          <Mono>{open ? 'fold' : 'show'}</Mono>
        </Pressable>
      )}
      {take.purpose && <PurposeChips take={take} purpose={take.purpose} />}
    </View>
  );
}

/** What the part's takes are for where no trick says it: changed with one tap. */
function PurposeChips({ take, purpose }: { take: TakePage; purpose: Purpose }) {
  const change = useChangePart();
  return (
    <>
      <Soft>What is it for?</Soft>
      <View style={styles.chips}>
        {(Object.keys(PURPOSES) as Purpose[]).map((key) => (
          <Chip
            key={key}
            selected={key === purpose}
            showSelectedOverlay
            disabled={change.isPending}
            onPress={() =>
              key !== purpose && change.mutate({ id: take.part.id, seen: take.part.version, purpose: key })
            }
            style={styles.chip}
            testID={`purpose-${key}`}
          >
            {PURPOSES[key].name}
          </Chip>
        ))}
      </View>
      {change.error && <Failed error={change.error} />}
    </>
  );
}

const styles = StyleSheet.create({
  card: { borderWidth: 1.5, borderRadius: 4, padding: 16, gap: 12 },
  head: { flexDirection: 'row', gap: 12, alignItems: 'center' },
  words: { flex: 1, minWidth: 0 },
  line: { flexDirection: 'row', gap: 10, alignItems: 'center', borderTopWidth: 1, paddingTop: 8, minHeight: TOUCH },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  chip: { minHeight: 40, justifyContent: 'center' },
});
