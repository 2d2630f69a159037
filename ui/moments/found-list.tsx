import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import type { MeasureSent } from '../../api/measures';
import type { Beat, BeatsFound } from '../../core/report/moment-types';
import { Action } from '../components/action';
import { Failed } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { UnderWay } from '../components/under-way';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { useMakeAgain } from '../data/measure-hooks';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { beatName } from './moment-words';

interface Props {
  beats: MeasureSent<object, BeatsFound> | null;
  /** Those that are not kept yet. */
  open: readonly Beat[];
  onFrame: (frame: number) => void;
  onKeep: (beat: Beat) => void;
  onNear: (beat: Beat | null) => void;
}

/** So many are shown before the rest is asked for: the clearest. */
const FIRST = 6;

/** What was found in the take on a frame, offered to be kept. */
export function FoundList({ beats, open, onFrame, onKeep, onNear }: Props) {
  const p = usePalette();
  const again = useMakeAgain();
  const [all, setAll] = useState(false);
  if (!beats || beats.state === 'waiting' || beats.state === 'working')
    return <UnderWay work={beats} what="Looking for beats" />;
  if (!beats.result)
    return (
      <Failed error={new Error(beats.failure ?? 'No beats could be told.')} onAgain={() => again.mutate(beats.id)} />
    );
  const { sound_offset_frames: off, unjudged, has_sound: sound } = beats.result;
  const clearest = [...open].sort((a, b) => b.strength - a.strength).slice(0, FIRST);
  const shown = all ? open : open.filter((b) => clearest.includes(b));
  const [said] = beats.verdict?.reasons ?? [];
  return (
    <View testID="found">
      <Heading>Found</Heading>
      {open.length === 0 && <Soft>{beats.result.beats.length ? 'All that was found is kept.' : said?.text}</Soft>}
      {unjudged && beats.result.beats.length > 0 && <Soft>{unjudged}</Soft>}
      {shown.map((b) => (
        <View key={`${b.kind} ${b.frame}`} style={[styles.row, { borderBottomColor: p.line }]}>
          <Pressable
            role="button"
            style={styles.words}
            onPress={() => {
              onFrame(b.frame);
              onNear(b);
            }}
            accessibilityLabel={`${beatName(b)}, frame ${b.frame}. Show it`}
            testID={`found-${b.kind}-${b.frame}`}
          >
            <Strong>{beatName(b)}</Strong>
            <Mono>{`frame ${b.frame} · ${b.time_s.toFixed(2)} s · ${clearWords(b)}`}</Mono>
          </Pressable>
          <ToolButton
            icon="bookmark-plus-outline"
            label={`Keep the ${beatName(b).toLowerCase()} at frame ${b.frame}`}
            onPress={() => onKeep(b)}
            testID={`keep-${b.kind}-${b.frame}`}
          />
        </View>
      ))}
      {shown.length < open.length && (
        <Action quiet label={`Show all ${open.length}`} onPress={() => setAll(true)} testID="found-all" />
      )}
      {off !== null && Math.abs(off) <= 12 && (
        <Body>
          {off === 0
            ? 'The sound is heard on the frame of the strike.'
            : `The sound comes ${Math.abs(off)} ${Math.abs(off) === 1 ? 'frame' : 'frames'} ${off > 0 ? 'after' : 'before'} the strike.`}
        </Body>
      )}
      {!sound && <Soft>The take has no sound.</Soft>}
    </View>
  );
}

const clearWords = ({ strength }: Beat) => (strength > 0.66 ? 'clear' : strength > 0.33 ? 'fairly clear' : 'faint');

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH + 8, borderBottomWidth: 1, paddingLeft: 4 },
  words: { flex: 1, minWidth: 0, justifyContent: 'center', minHeight: TOUCH },
});
