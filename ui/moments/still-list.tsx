import { useState } from 'react';
import { Image, Pressable, StyleSheet, View } from 'react-native';
import type { MeasureSent } from '../../api/measures';
import { listRuns } from '../../core/judge/runs';
import type { Still, StillsFound } from '../../core/report/moment-types';
import { Action } from '../components/action';
import { Disc, VERDICT_WORDS } from '../components/disc';
import { Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { Heading, Mono, Soft, Strong } from '../components/words';
import { useMakeAgain } from '../data/measure-hooks';
import { ChoiceField } from '../forms/fields';
import { saveFile } from '../data/save-file';
import { usePalette } from '../theme/theme';
import { framePicture } from '../viewer/frame-picture';

interface Props {
  takeId: string;
  stills: MeasureSent<object, StillsFound> | null;
  shape: number;
  delivery: { width: number; height: number };
  frame: number;
  onFrame: (frame: number) => void;
}

/** Where a still's picture or cut-out is served. */
export const stillAddress = (takeId: string, frame: number, of: 'picture' | 'cutout') =>
  `/api/takes/${takeId}/stills/${frame}/${of}`;

/** The frames worth holding, the best first, each with how far it is smeared; the one shown can be saved. */
export function StillList({ takeId, stills, shape, delivery, frame, onFrame }: Props) {
  const [size, setSize] = useState<'full' | 'delivery'>('full');
  const p = usePalette();
  const again = useMakeAgain();
  if (!stills || stills.state === 'waiting' || stills.state === 'working')
    return <UnderWay work={stills} what="Looking for frames to hold" />;
  if (!stills.result)
    return (
      <Failed error={new Error(stills.failure ?? 'It could not be told.')} onAgain={() => again.mutate(stills.id)} />
    );
  const here = stills.result.stills.find((s) => s.frame === frame);
  const [said] = stills.verdict?.reasons ?? [];
  return (
    <View style={styles.stack} testID="stills">
      <Heading>Frames to hold</Heading>
      {said && <Soft>{said.text}</Soft>}
      {stills.result.stills.map((s) => (
        <Pressable
          key={s.frame}
          role="button"
          onPress={() => onFrame(s.frame)}
          accessibilityLabel={`Frame ${s.frame}: ${VERDICT_WORDS[s.hold].toLowerCase()}. Show it`}
          style={[styles.row, { borderBottomColor: p.line }, s === here && { backgroundColor: p.card }]}
          testID={`still-${s.frame}`}
        >
          <Image
            source={{ uri: framePicture(takeId, s.frame) }}
            style={[styles.picture, { aspectRatio: shape }]}
            resizeMode="cover"
          />
          <View style={styles.words}>
            <Strong>{`Frame ${s.frame}`}</Strong>
            <Mono>{stillWords(s)}</Mono>
            {s.crossed_runs.length > 0 && <Soft>{`crossed in frames ${listRuns(s.crossed_runs)}`}</Soft>}
          </View>
          <Disc verdict={s.hold} size={24} />
        </Pressable>
      ))}
      {here && (
        <ChoiceField
          name={`Save frame ${frame} at`}
          value={size}
          onChange={setSize}
          options={[
            { value: 'full', label: 'Full size' },
            { value: 'delivery', label: `${delivery.width} × ${delivery.height}` },
          ]}
          testID="still-size"
        />
      )}
      {here && (
        <View style={styles.save}>
          <Action
            quiet
            label="Save picture"
            style={styles.half}
            onPress={() => saveFile(`${stillAddress(takeId, frame, 'picture')}?save=true&size=${size}`)}
            testID="save-picture"
          />
          <Action
            quiet
            label="Save cut-out"
            style={styles.half}
            onPress={() => saveFile(`${stillAddress(takeId, frame, 'cutout')}?save=true&size=${size}`)}
            testID="save-cutout"
          />
        </View>
      )}
    </View>
  );
}

/** What a still is like: "2.1 px of blur · whole · 6.1 % of the picture". */
function stillWords({ motion_blur_px: blur, whole, touches, area_share: area }: Still): string {
  return [
    blur === null ? 'blur not told' : `${blur.toFixed(1)} px of blur`,
    whole ? 'whole' : `cut off at the ${touches.join(' and ')}`,
    `${(100 * area).toFixed(1)} % of the picture`,
  ].join(' · ');
}

const styles = StyleSheet.create({
  stack: { gap: 4 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    paddingVertical: 6,
    paddingHorizontal: 4,
    borderBottomWidth: 1,
  },
  picture: { width: 96 },
  words: { flex: 1, minWidth: 0 },
  save: { flexDirection: 'row', gap: 10, paddingTop: 8 },
  half: { flex: 1 },
});
