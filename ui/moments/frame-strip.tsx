import { Image, Pressable, StyleSheet, View } from 'react-native';
import { Mono } from '../components/words';
import { usePalette } from '../theme/theme';
import { framePicture } from '../viewer/frame-picture';

interface Props {
  takeId: string;
  frame: number;
  frameCount: number;
  width: number;
  height: number;
  onFrame: (frame: number) => void;
}

const AROUND = [-2, -1, 0, 1, 2];

/** The five frames around one, side by side: what happens on which of them is seen without stepping. */
export function FrameStrip({ takeId, frame, frameCount, width, height, onFrame }: Props) {
  const p = usePalette();
  return (
    <View style={styles.strip} testID="frame-strip">
      {AROUND.map((by) => {
        const f = frame + by;
        const there = f >= 0 && f < frameCount;
        return (
          <Pressable
            key={by}
            role="button"
            disabled={!there || by === 0}
            onPress={() => onFrame(f)}
            accessibilityLabel={there ? `Frame ${f}${by === 0 ? ', shown' : ''}` : 'No frame'}
            style={styles.one}
            testID={`strip-${by}`}
          >
            <View
              style={[
                styles.picture,
                { aspectRatio: width / height, borderColor: by === 0 ? p.action : p.line, backgroundColor: p.card },
              ]}
            >
              {there && (
                <Image source={{ uri: framePicture(takeId, f) }} style={StyleSheet.absoluteFill} resizeMode="cover" />
              )}
            </View>
            <Mono style={styles.number}>{there ? String(f) : ''}</Mono>
          </Pressable>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  strip: { flexDirection: 'row', gap: 4 },
  one: { flex: 1, minWidth: 0 },
  picture: { width: '100%', borderWidth: 2, overflow: 'hidden' },
  number: { textAlign: 'center' },
});
