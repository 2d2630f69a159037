import { Pressable, StyleSheet, View } from 'react-native';
import Svg, { Circle } from 'react-native-svg';
import type { MeasureSent } from '../../api/measures';
import { listRuns } from '../../core/judge/runs';
import type { FigureFound, OutlineRead } from '../../core/report/figure-types';
import { Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { useMakeAgain } from '../data/measure-hooks';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface Props {
  /** Null where no trick asks how the thing hangs, or how somebody jumps. */
  figure: MeasureSent<object, FigureFound> | null;
  onFrame: (frame: number) => void;
}

/** So many frames whose outline is lost the most are listed: of somebody who is to be cut out, and of what hangs. */
const WORST = { jumps: 3, hangs: 1 };

/** How a held thing hangs, or when somebody who jumps can be cut out; each line leads to its frame. */
export function FigureFacts({ figure, onFrame }: Props) {
  const again = useMakeAgain();
  if (!figure) return null;
  if (figure.state === 'waiting' || figure.state === 'working')
    return <UnderWay work={figure} what="Looking how it hangs or jumps" />;
  if (!figure.result)
    return (
      <Failed error={new Error(figure.failure ?? 'It could not be told.')} onAgain={() => again.mutate(figure.id)} />
    );
  const { drift, run, lifted_runs: lifted, clear_runs: clear, outline, unjudged } = figure.result;
  const worst = [...outline].sort((a, b) => a.share - b.share).slice(0, lifted.length ? WORST.jumps : WORST.hangs);
  if (unjudged) return <Soft>{unjudged}</Soft>;
  return (
    <View testID="figure-facts">
      <Heading>{lifted.length ? 'Off the ground' : 'Held or hung'}</Heading>
      {lifted.map((r) => (
        <Line
          key={r.start}
          title={`Off the ground and whole, frames ${listRuns([r])}`}
          said={`outline stands out in ${clear.reduce((n, c) => n + within(c, r), 0)} of ${r.end - r.start + 1} frames`}
          onPress={() => onFrame(Math.round((r.start + r.end) / 2))}
        />
      ))}
      {lifted.length === 0 && drift && run && (
        <Line
          title={`Drifts by ${drift.px.toFixed(1)} px, ${(100 * drift.share).toFixed(1)} % of its size`}
          said={
            (drift.turn_deg === null ? '' : `turns by ${drift.turn_deg.toFixed(1)}° · `) +
            `${drift.speed_px_per_s.toFixed(1)} px a second as shot · farthest at frame ${drift.frame}`
          }
          onPress={() => onFrame(drift.frame)}
        />
      )}
      {lifted.length === 0 && !drift && <Body>Nothing that is whole in the picture was seen to be held or hung.</Body>}
      {worst.map((o) => (
        <Line
          key={o.frame}
          title={`Frame ${o.frame}`}
          said={`${Math.round(100 * (1 - o.share))} % of the outline would have to be guessed`}
          onPress={() => onFrame(o.frame)}
        />
      ))}
    </View>
  );
}

const within = (a: { start: number; end: number }, b: { start: number; end: number }) =>
  Math.max(0, Math.min(a.end, b.end) - Math.max(a.start, b.start) + 1);

function Line({ title, said, onPress }: { title: string; said: string; onPress: () => void }) {
  const p = usePalette();
  return (
    <Pressable
      role="button"
      onPress={onPress}
      accessibilityLabel={`${title}. ${said}. Show it`}
      style={[styles.row, { borderBottomColor: p.line }]}
    >
      <Strong>{title}</Strong>
      <Mono>{said}</Mono>
    </Pressable>
  );
}

/** Where an outline is lost the most, ringed over its frame. */
export function LostOutline({ read, width, sourceWidth }: { read: OutlineRead; width: number; sourceWidth: number }) {
  if (!read.weakest) return null;
  const k = width / sourceWidth;
  const at = { cx: read.weakest.x_px * k, cy: read.weakest.y_px * k, r: 18, fill: 'none' };
  return (
    <Svg style={styles.over} width="100%" height="100%" role="img" aria-label="Where the outline is lost the most">
      <Circle {...at} stroke="#000" strokeOpacity={0.6} strokeWidth={4} />
      <Circle {...at} stroke="#FFF" strokeWidth={1.6} strokeDasharray="6 5" />
    </Svg>
  );
}

const styles = StyleSheet.create({
  row: { minHeight: TOUCH + 8, justifyContent: 'center', borderBottomWidth: 1, paddingHorizontal: 4 },
  over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
});
