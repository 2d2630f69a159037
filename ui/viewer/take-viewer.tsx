import { MaterialCommunityIcons } from '@expo/vector-icons';
import { useCallback, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Chip, Dialog, Portal } from 'react-native-paper';
import type { TakeReport } from '../../core/report/types';
import { Action } from '../components/action';
import { useWide } from '../components/screen';
import { ToolButton } from '../components/tool-button';
import { Body, Mono } from '../components/words';
import { FramePicture } from './frame-picture';
import { useOutlines } from '../data/hooks';
import { NO_OVERLAYS, Overlays, type OverlayChoice } from './overlays';
import { Ribbon } from './ribbon';
import { atFrame, takeBands } from './take-bands';
import { frameTime } from './trace';
import { TAKE_KEYS, useKeys } from './use-keys';

interface Props {
  takeId: string;
  report: TakeReport;
  frame: number;
  onFrame: (frame: number) => void;
  maxHeight?: number;
  bleed: number;
}

const OVERLAYS: [keyof OverlayChoice, keyof typeof MaterialCommunityIcons.glyphMap, string][] = [
  ['people', 'account-outline', 'Who is in'],
  ['patches', 'vector-square', 'Patches'],
  ['restless', 'waves', 'Restless'],
  ['light', 'brightness-6', 'Light'],
];
/** An icon beside words that say the same: it is not read out. */
const hiddenIcon = (name: keyof typeof MaterialCommunityIcons.glyphMap) =>
  function HiddenIcon({ size, color }: { size: number; color: string }) {
    return <MaterialCommunityIcons name={name} size={size} color={color} aria-hidden />;
  };

const OVERLAY_KEYS: Record<string, keyof OverlayChoice> = { p: 'patches', f: 'people', r: 'restless', g: 'light' };

/** The take: picture first, then where in the take, the steps, and the ribbon. */
export function TakeViewer({ takeId, report, frame, onFrame, maxHeight, bleed }: Props) {
  const wide = useWide();
  const { media, lock, presence } = report;
  const count = media.frame_count;
  const [choice, setChoice] = useState<OverlayChoice>(NO_OVERLAYS);
  const outlines = useOutlines(takeId, choice.people || choice.light);
  const turn = useCallback((key: keyof OverlayChoice) => setChoice((c) => ({ ...c, [key]: !c[key] })), []);
  const [loupe, setLoupe] = useState(false);
  const [keys, setKeys] = useState(false);
  const go = useCallback((to: number) => onFrame(Math.max(0, Math.min(count - 1, to))), [onFrame, count]);
  useKeys(
    useCallback(
      (key: string, shift: boolean) => {
        const step = shift ? 10 : 1;
        if (key === 'ArrowLeft') go(frame - step);
        else if (key === 'ArrowRight') go(frame + step);
        else if (key === 'Home') go(0);
        else if (key === 'End') go(count - 1);
        else if (key.toLowerCase() === 'w' && lock.peak_frame !== null) go(lock.peak_frame);
        else if (OVERLAY_KEYS[key.toLowerCase()]) turn(OVERLAY_KEYS[key.toLowerCase()]);
        else if (key.toLowerCase() === 'l') setLoupe((v) => !v);
        else if (key === '?') setKeys((v) => !v);
        else return false;
        return true;
      },
      [frame, go, count, lock.peak_frame, turn],
    ),
  );

  const bands = useMemo(() => takeBands(report), [report]);
  return (
    <View>
      <View style={{ marginHorizontal: -bleed }}>
        <FramePicture
          takeId={takeId}
          frame={frame}
          frameCount={count}
          width={media.width}
          height={media.height}
          maxHeight={maxHeight}
          loupe={loupe}
          onLoupe={setLoupe}
          over={(w, h) => (
            <Overlays
              choice={choice}
              frame={frame}
              width={w}
              height={h}
              sourceWidth={media.width}
              patches={lock.patches}
              outlines={outlines.data ?? null}
              restless={presence.restless}
            />
          )}
        />
      </View>
      <View style={styles.line}>
        <Mono>{`frame ${frame} of ${count - 1}`}</Mono>
        <Mono>{frameTime(frame, media.measured_fps ?? 25)}</Mono>
      </View>
      <View style={styles.line} testID="at-frame">
        {atFrame(report, frame).map((t) => (
          <Mono key={t}>{t}</Mono>
        ))}
      </View>
      <Ribbon bands={bands} frame={frame} onFrame={go} />
      <View style={styles.tools}>
        <ToolButton icon="chevron-double-left" label="Ten frames back" onPress={() => go(frame - 10)} />
        <ToolButton icon="chevron-left" label="One frame back" onPress={() => go(frame - 1)} testID="step-back" />
        <ToolButton icon="chevron-right" label="One frame on" onPress={() => go(frame + 1)} testID="step-on" />
        <ToolButton icon="chevron-double-right" label="Ten frames on" onPress={() => go(frame + 10)} />
        <View style={styles.gap} />
        <ToolButton icon="magnify" label="Loupe" on={loupe} onPress={() => setLoupe(!loupe)} testID="loupe-tool" />
        <ToolButton icon="keyboard-outline" label="Keys" on={keys} onPress={() => setKeys(true)} />
      </View>
      <View style={styles.overlays}>
        {OVERLAYS.map(([key, icon, name]) => (
          <Chip
            key={key}
            mode="outlined"
            icon={wide ? hiddenIcon(choice[key] ? 'check' : icon) : undefined}
            selected={choice[key]}
            showSelectedOverlay
            showSelectedCheck={false}
            onPress={() => turn(key)}
            style={styles.chip}
            testID={`over-${key}`}
            accessibilityLabel={`${name} over the picture`}
          >
            {name}
          </Chip>
        ))}
      </View>
      {choice.patches && (
        <Mono style={styles.caption}>
          white: still patches the lock rests on, as they lie in frame {lock.reference_frame ?? 0}; dotted: moving or
          hidden, left out
        </Mono>
      )}
      {choice.restless && (
        <Mono style={styles.caption}>
          {presence.restless.length
            ? `hatched: moves by itself (${(100 * presence.restless_share).toFixed(1)} % of the picture), not taken for somebody`
            : 'nothing here moves by itself'}
        </Mono>
      )}
      {choice.light && (
        <Mono style={styles.caption}>tinted: zones brighter or darker than the whole picture’s change, in stops</Mono>
      )}
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
  gap: { flex: 1 },
  overlays: { flexDirection: 'row', flexWrap: 'wrap', gap: 4, paddingBottom: 6 },
  chip: { minHeight: 40, justifyContent: 'center' },
  caption: { paddingBottom: 8 },
  dialog: { maxWidth: 420, alignSelf: 'center', width: '90%' },
  key: { flexDirection: 'row', gap: 14, paddingVertical: 6 },
  keyName: { width: 96, fontSize: 13 },
});
