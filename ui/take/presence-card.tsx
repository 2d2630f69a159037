import { Pressable, StyleSheet, View } from 'react-native';
import type { PresenceMeasure, Run } from '../../core/report/types';
import { Body, Heading, Mono, Soft } from '../components/words';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface Props {
  presence: PresenceMeasure;
  onFrame: (frame: number) => void;
}

const MOST_RUNS = 4;

/** When somebody is in the picture and when it is empty; each run leads to its first frame. */
export function PresenceCard({ presence, onFrame }: Props) {
  const p = usePalette();
  const edges = (['left', 'right', 'top', 'bottom'] as const).filter((e) => presence.edge_runs[e].length > 0);
  const lines = (name: string, runs: Run[], long = true) =>
    (long ? [...runs].sort((a, b) => b.end - b.start - (a.end - a.start)) : runs)
      .slice(0, MOST_RUNS)
      .sort((a, b) => a.start - b.start)
      .map((r) => (
        <Pressable
          key={`${name}${r.start}`}
          role="button"
          onPress={() => onFrame(r.start)}
          style={[styles.line, { borderTopColor: p.line }]}
        >
          <Body>{name}</Body>
          <Mono>{`frames ${r.start} to ${r.end}`}</Mono>
        </Pressable>
      ));
  return (
    <View style={[styles.card, { backgroundColor: p.card, borderColor: p.line }]} testID="presence-card">
      <Heading>
        {presence.unjudged
          ? 'Who is in: unjudged'
          : presence.clear_runs.length === 0
            ? 'The picture is never clear'
            : presence.present_runs.length === 0
              ? 'The picture is clear all through'
              : 'Who is in, and when it is clear'}
      </Heading>
      {presence.unjudged && <Body>{presence.unjudged}</Body>}
      {lines('Clear', presence.clear_runs)}
      {lines('Somebody is in', presence.present_runs)}
      {lines('Only a shadow is in', presence.shadow_runs)}
      {edges.length > 0 && <Soft>{`Touches the frame’s edge: ${edges.join(', ')}.`}</Soft>}
      {presence.restless.length > 0 && (
        <Soft>
          {`${(100 * presence.restless_share).toFixed(1)} % of the picture moves by itself (leaves, water, ` +
            `a screen) and is not taken for somebody.`}
        </Soft>
      )}
      {!presence.unjudged && (
        <Soft>Whoever stands in the same place from the first frame to the last counts as background.</Soft>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  card: { borderWidth: 1.5, borderRadius: 4, padding: 16, gap: 8 },
  line: {
    borderTopWidth: 1,
    minHeight: TOUCH,
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: 12,
  },
});
