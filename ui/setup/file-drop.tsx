import { MaterialCommunityIcons } from '@expo/vector-icons';
import { useEffect, useRef, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Progress } from '../components/states';
import { Body, Mono, Strong } from '../components/words';
import type { UploadState } from '../data/upload';
import { usePalette } from '../theme/theme';

interface Props {
  state: UploadState | null;
  onFile: (file: File) => void;
  onClear: () => void;
}

const MB = 1e6;

/** Takes the camera's file: chosen, or dropped anywhere on the page. */
export function FileDrop({ state, onFile, onClear }: Props) {
  const p = usePalette();
  const input = useRef<HTMLInputElement | null>(null);
  const [over, setOver] = useState(false);
  const busy = state !== null && state.error === null;
  useEffect(() => {
    const enter = (e: DragEvent) => {
      e.preventDefault();
      setOver(true);
    };
    const leave = (e: DragEvent) => {
      if (e.relatedTarget === null) setOver(false);
    };
    const drop = (e: DragEvent) => {
      e.preventDefault();
      setOver(false);
      const file = e.dataTransfer?.files[0];
      if (file && !busy) onFile(file);
    };
    window.addEventListener('dragover', enter);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', enter);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, [onFile, busy]);

  if (state) {
    return (
      <View
        style={[styles.box, { borderColor: state.error ? p.reshoot : p.line, backgroundColor: p.card }]}
        role={state.error ? 'alert' : 'status'}
        testID="upload"
      >
        <Strong lines={2}>{state.name}</Strong>
        {state.error ? (
          <Body>{state.error}</Body>
        ) : (
          <>
            <Progress
              what={state.sent >= state.total && state.total > 0 ? 'taking it in' : 'sending'}
              done={Math.round(state.sent / MB)}
              total={Math.max(1, Math.round(state.total / MB))}
              unit="MB"
            />
            {state.paused && <Mono>the connection dropped; trying again, it goes on where it stopped</Mono>}
          </>
        )}
        {state.again && <Action label="Try again" onPress={state.again} />}
        <Action quiet label={state.error ? 'Choose another file' : 'Stop'} onPress={onClear} />
      </View>
    );
  }
  return (
    <Pressable
      role="button"
      onPress={() => input.current?.click()}
      testID="choose-file"
      style={[styles.box, styles.drop, { borderColor: over ? p.ink : p.soft, backgroundColor: over ? p.line : p.card }]}
    >
      <MaterialCommunityIcons name="tray-arrow-up" size={28} color={p.ink} />
      <View style={styles.words}>
        <Strong>Add the camera’s file</Strong>
        <Mono>drop it here or tap to choose: MP4, MOV, WebM, MKV</Mono>
      </View>
      <input
        ref={input}
        type="file"
        accept="video/*,.mkv,.mov,.mxf,.mts"
        style={{ display: 'none' }}
        data-testid="file-input"
        onChange={(e) => {
          const file = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (file) onFile(file);
        }}
      />
    </Pressable>
  );
}

const styles = StyleSheet.create({
  box: { borderWidth: 1.5, borderRadius: 4, padding: 16, gap: 10, marginTop: 14 },
  drop: { borderStyle: 'dashed', flexDirection: 'row', alignItems: 'center', gap: 14, minHeight: 84 },
  words: { flex: 1, minWidth: 0 },
});
