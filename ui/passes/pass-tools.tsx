import { StyleSheet, View } from 'react-native';
import type { LineCut } from '../../core/measures/joined/drawn';
import { asLine } from '../../core/formats/shapes-in';
import { listRuns } from '../../core/judge/runs';
import type { PassTake } from '../../api/passes';
import { LayByMarks, slideWords } from '../compare/lay-by-marks';
import { Action } from '../components/action';
import { ToolButton } from '../components/tool-button';
import { Body, Heading, Mono, Soft } from '../components/words';
import { SlideField } from '../forms/slide-field';
import { usePalette } from '../theme/theme';
import { pointAdded, pointDropped, sidesChanged } from './line-by-hand';
import { ShapeFile } from './shape-file';
import type { Passing } from './use-passing';

interface Props {
  passing: Passing;
  first: PassTake;
  second: PassTake;
  onFrame: (frame: number) => void;
}

/** The line by hand: what it cuts, its points, and its feather, which ends where the corridor does. */
export function LineTools({ passing, first, second, onFrame }: Props) {
  const { line, against, most, feather, picked, own, measured } = passing;
  if (!line) return null;
  const inner = picked !== null && picked > 0 && picked < line.points.length - 1;
  const add = () => {
    const made = pointAdded(line, picked ?? 0);
    passing.setLine(made.line);
    passing.pick(made.index);
  };
  return (
    <View style={styles.stack} testID="line-tools">
      <Heading>
        {own
          ? 'The line, drawn by hand'
          : measured
            ? 'The line, as measured'
            : passing.looking
              ? 'The line'
              : 'No line parts them'}
      </Heading>
      {!own && !measured && !passing.looking && (
        <Soft>A straight one is shown to start with. Drag its points where the two are kept apart best.</Soft>
      )}
      <CutLines passing={passing} first={first} second={second} onFrame={onFrame} />
      {passing.moves.length > 0 && (
        <View style={styles.cut} testID="line-moves">
          <Body style={styles.words}>
            {`In frames ${listRuns(passing.moves)} it moves: there ` +
              `${passing.moves.length === 1 ? 'another line takes over' : `${passing.moves.length} other lines take over`}.` +
              (passing.glides.length ? ` It glides there over frames ${listRuns(passing.glides)}.` : '')}
          </Body>
          <Action quiet label={`Frame ${passing.moves[0].start}`} onPress={() => onFrame(passing.moves[0].start)} />
        </View>
      )}
      <ShapeFile
        label="Take a line in, as SVG"
        size={first}
        onPoints={(points) => {
          passing.setLine(asLine(points, first, line.first_side));
          passing.pick(null);
        }}
        testID="line-in"
      />
      <SlideField
        label="Feather"
        said={
          against === null || most === null
            ? `${feather.toFixed(0)} px`
            : `${feather.toFixed(0)} of ${Math.floor(most)} px there are`
        }
        value={Math.round(feather)}
        least={0}
        most={Math.floor(most ?? first.width / 4)}
        step={1}
        onChange={(v) => passing.change({ feather_px: v })}
        testID="feather"
      />
      <View style={styles.tools}>
        <ToolButton icon="vector-polyline-plus" label="One more point" onPress={add} testID="point-more" />
        <ToolButton
          icon="vector-polyline-minus"
          label="Drop the point that is held"
          onPress={() => {
            if (!inner) return;
            passing.setLine(pointDropped(line, picked));
            passing.pick(null);
          }}
          testID="point-less"
        />
        <ToolButton
          icon="swap-horizontal"
          label="Change the sides"
          onPress={() => passing.setLine(sidesChanged(line))}
          testID="line-sides"
        />
        <Mono style={styles.held}>
          {picked === null
            ? 'touch a point to hold it'
            : `point ${picked + 1} of ${line.points.length}: ${line.points[picked]?.map((v) => v.toFixed(0)).join(', ')} px`}
        </Mono>
      </View>
      {own && measured && (
        <Action quiet label="The line as measured" onPress={() => passing.setLine(null)} testID="line-measured" />
      )}
    </View>
  );
}

/** What the line cuts off of each, with a way to the first frame of it. */
function CutLines({ passing: { against }, first, second, onFrame }: Props) {
  const p = usePalette();
  if (!against) return <Soft>Who stands where is being looked for.</Soft>;
  const cut: [PassTake, LineCut][] = [
    [first, against.a],
    [second, against.b],
  ];
  const some = cut.filter(([, c]) => c.runs.length > 0);
  if (some.length === 0)
    return (
      <View testID="line-cuts">
        <Body>
          {against.room_px === null
            ? 'Nobody is in, so it cuts nobody.'
            : `It cuts nobody. It has ${against.room_px.toFixed(0)} px of room at its narrowest.`}
        </Body>
      </View>
    );
  return (
    <View testID="line-cuts">
      {some.map(([take, { runs }]) => (
        <View key={take.id} style={styles.cut}>
          <Body style={[styles.words, { color: p.workable }]}>
            {`It cuts ${take.label} in frames ${listRuns(runs)}, hatched.`}
          </Body>
          <Action quiet label={`Frame ${runs[0].start}`} onPress={() => onFrame(runs[0].start)} />
        </View>
      ))}
    </View>
  );
}

/** The second laid later or earlier; how near the two come then is answered at once. */
export function SlideTools({ passing, first, second }: Omit<Props, 'onFrame'>) {
  const p = usePalette();
  const { trace, pair, change } = passing;
  const { slide } = passing.wish;
  // One that only follows on the other may be laid anywhere.
  const whole = Math.max(second.frame_count, first.frame_count) - 1;
  const half = Math.min(Math.floor(second.frame_count / 2), Math.floor(first.frame_count / 2));
  const reach = Math.max(1, passing.wish.how === 'line' || passing.wish.how === 'opening' ? half : whole);
  const set = (v: number) => change({ slide: Math.max(-reach, Math.min(reach, v)) });
  const near = trace?.filter((g): g is number => g !== null) ?? [];
  const least = near.length ? Math.min(...near) : null;
  const over = near.filter((g) => g === 0).length;
  const fps = first.fps ?? 25;
  const frees = pair?.slide ?? null;
  // The pair's own slide is of the take that was second when the two were measured.
  const turned = frees ? (passing.turned ? -frees.frames : frees.frames) : 0;
  return (
    <View testID="slide-tools">
      <SlideField
        label={`${second.label} starts`}
        said={slideWords(slide, fps)}
        value={slide}
        least={-reach}
        most={reach}
        step={1}
        onChange={set}
        testID="slide"
      />
      <View style={styles.tools}>
        <ToolButton icon="minus" label="One frame earlier" onPress={() => set(slide - 1)} testID="slide-less" />
        <ToolButton icon="plus" label="One frame later" onPress={() => set(slide + 1)} testID="slide-more" />
        <View style={styles.words} testID="slide-says">
          <Body style={over > 0 && { color: p.workable }}>
            {trace === null
              ? ''
              : least === null
                ? 'The two are never in together.'
                : over > 0
                  ? `The two overlap in ${over} ${over === 1 ? 'frame' : 'frames'}.`
                  : `The two come as near as ${least.toFixed(0)} px.`}
          </Body>
        </View>
      </View>
      {slide !== 0 && <Soft>{`What is done in answer to ${first.label} comes ${slideWords(slide, fps)} too.`}</Soft>}
      {frees && slide !== turned && (
        <Action
          quiet
          label={`Slide it ${slideWords(turned, fps)}: that frees the two`}
          onPress={() => set(turned)}
          testID="slide-free"
        />
      )}
      <LayByMarks
        first={first.marks}
        second={second.marks}
        isLaid={(by) => by.slide === slide}
        said={(by) => slideWords(by.slide, fps)}
        onLay={(by) => set(by.slide)}
      />
      {slide !== 0 && <Action quiet label="As shot" onPress={() => set(0)} testID="slide-none" />}
    </View>
  );
}

const styles = StyleSheet.create({
  stack: { gap: 8 },
  tools: { flexDirection: 'row', alignItems: 'center' },
  held: { flex: 1, textAlign: 'right' },
  words: { flex: 1, minWidth: 0 },
  cut: { flexDirection: 'row', alignItems: 'center', gap: 12 },
});
