import { MaterialCommunityIcons } from '@expo/vector-icons';
import { useCallback, useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Dialog, Portal } from 'react-native-paper';
import type { TakeReport } from '../../core/report/types';
import { Action } from '../components/action';
import { plain } from '../components/big-number';
import { Body, Mono } from '../components/words';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { FramePicture } from './frame-picture';
import { Ribbon, type Band } from './ribbon';
import { frameTime } from './trace';
import { TAKE_KEYS, useKeys } from './use-keys';

interface Props { takeId: string; report: TakeReport; frame: number; onFrame: (frame: number) => void; maxHeight?: number; bleed: number }

/** The take: picture first, then where in the take, the steps, and the ribbon. */
export function TakeViewer({ takeId, report, frame, onFrame, maxHeight, bleed }: Props) {
  const p = usePalette();
  const { media, lock } = report;
  const count = media.frame_count;
  const [patches, setPatches] = useState(false);
  const [loupe, setLoupe] = useState(false);
  const [keys, setKeys] = useState(false);
  const go = useCallback((to: number) => onFrame(Math.max(0, Math.min(count - 1, to))), [onFrame, count]);
  useKeys(useCallback((key: string, shift: boolean) => {
    const step = shift ? 10 : 1;
    if (key === 'ArrowLeft') go(frame - step);
    else if (key === 'ArrowRight') go(frame + step);
    else if (key === 'Home') go(0);
    else if (key === 'End') go(count - 1);
    else if (key.toLowerCase() === 'w' && lock.peak_frame !== null) go(lock.peak_frame);
    else if (key.toLowerCase() === 'p') setPatches((v) => !v);
    else if (key.toLowerCase() === 'l') setLoupe((v) => !v);
    else if (key === '?') setKeys((v) => !v);
    else return false;
    return true;
  }, [frame, go, count, lock.peak_frame]));

  const bands = useMemo<Band[]>(() => [{
    name: 'movement', unit: 'px', values: lock.path.displacement_px, limit: lock.deciding.find((n) => n.name === 'peak')?.limit ?? null,
    sentence: lock.peak_px === null ? 'The movement could not be measured.'
      : `The picture moves by at most ${plain(lock.peak_px)} pixels, in frame ${lock.peak_frame}.`,
  }], [lock]);
  const faults = useMemo(() => lock.reasons.filter((r) => r.code === 'knock').flatMap((r) => r.frames), [lock]);
  const here = lock.path.displacement_px[frame];
  const tool = (icon: keyof typeof MaterialCommunityIcons.glyphMap, label: string, on: boolean, press: () => void, id?: string) => (
    <Pressable role="button" aria-pressed={on} accessibilityLabel={label} onPress={press} testID={id} style={[styles.tool, on && { backgroundColor: p.line }]}>
      <MaterialCommunityIcons name={icon} size={24} color={p.ink} />
    </Pressable>
  );
  return (
    <View>
      <View style={{ marginHorizontal: -bleed }}>
        <FramePicture
          takeId={takeId} frame={frame} frameCount={count} width={media.width} height={media.height} maxHeight={maxHeight}
          patches={patches ? lock.patches : null} loupe={loupe} onLoupe={setLoupe}
        />
      </View>
      <View style={styles.line}>
        <Mono>{`frame ${frame} of ${count - 1}`}</Mono>
        <Mono>{here === null || here === undefined ? 'not measured here' : `${plain(here)} px off`}</Mono>
        <Mono>{frameTime(frame, media.measured_fps ?? 25)}</Mono>
      </View>
      <Ribbon bands={bands} faults={faults} frame={frame} onFrame={go} />
      <View style={styles.tools}>
        {tool('chevron-double-left', 'Ten frames back', false, () => go(frame - 10))}
        {tool('chevron-left', 'One frame back', false, () => go(frame - 1), 'step-back')}
        {tool('chevron-right', 'One frame on', false, () => go(frame + 1), 'step-on')}
        {tool('chevron-double-right', 'Ten frames on', false, () => go(frame + 10))}
        <View style={styles.gap} />
        {tool('vector-square', 'Patches the lock rests on', patches, () => setPatches(!patches), 'patches')}
        {tool('magnify', 'Loupe', loupe, () => setLoupe(!loupe), 'loupe-tool')}
        {tool('keyboard-outline', 'Keys', keys, () => setKeys(true))}
      </View>
      {patches && <Mono style={styles.caption}>white: still patches the lock rests on, as they lie in frame {lock.reference_frame ?? 0}; dotted: moving or hidden, left out</Mono>}
      <Portal>
        <Dialog visible={keys} onDismiss={() => setKeys(false)} style={styles.dialog}>
          <Dialog.Title>Keys</Dialog.Title>
          <Dialog.Content>
            {TAKE_KEYS.map(([key, what]) => (
              <View key={key} style={styles.key}>
                <Mono style={styles.keyName}>{key}</Mono>
                <Body>{what}</Body>
              </View>
            ))}
            <Action label="Close" onPress={() => setKeys(false)} />
          </Dialog.Content>
        </Dialog>
      </Portal>
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', justifyContent: 'space-between', paddingTop: 8, paddingBottom: 4 },
  tools: { flexDirection: 'row', alignItems: 'center', paddingVertical: 4 },
  tool: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center', borderRadius: 4, flexShrink: 1 },
  gap: { flex: 1 },
  caption: { paddingBottom: 8 },
  dialog: { maxWidth: 420, alignSelf: 'center', width: '90%' },
  key: { flexDirection: 'row', gap: 14, paddingVertical: 6 },
  keyName: { width: 96, fontSize: 13 },
});
