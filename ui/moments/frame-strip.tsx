import { Image, Pressable, StyleSheet, View } from 'react-native';
import type { Box } from '../../core/report/types';
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
  /** The part of the picture to show, its own pixels; all of it when null. */
  part: Box | null;
}

const AROUND = [-2, -1, 0, 1, 2];

/** The five frames around one, side by side, where it happens: what is seen on which of them needs no stepping. */
export function FrameStrip({ takeId, frame, frameCount, width, height, onFrame, part }: Props) {
  const p = usePalette();
  const shown = part ? around(part, width, height) : { x: 0, y: 0, width, height };
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
                <Image
                  source={{ uri: framePicture(takeId, f) }}
                  style={{
                    position: 'absolute',
                    width: `${(100 * width) / shown.width}%`,
                    height: `${(100 * height) / shown.height}%`,
                    left: `${(-100 * shown.x) / shown.width}%`,
                    top: `${(-100 * shown.y) / shown.height}%`,
                  }}
                  resizeMode="stretch"
                />
              )}
            </View>
            <Mono style={styles.number}>{there ? String(f) : ''}</Mono>
          </Pressable>
        );
      })}
    </View>
  );
}

/** Of the picture's width is shown at least so much, and of what is looked at so many times its size. */
const LEAST = 0.18;
const ROOM = 1.5;

/** The part of the picture, of its own shape, around a box. */
function around(box: Box, width: number, height: number): Box {
  const share = Math.min(1, Math.max(LEAST, (ROOM * box.width) / width, (ROOM * box.height) / height));
  const [w, h] = [share * width, share * height];
  const kept = (at: number, room: number) => Math.max(0, Math.min(room, at));
  return {
    x: kept(box.x + box.width / 2 - w / 2, width - w),
    y: kept(box.y + box.height / 2 - h / 2, height - h),
    width: w,
    height: h,
  };
}

const styles = StyleSheet.create({
  strip: { flexDirection: 'row', gap: 4 },
  one: { flex: 1, minWidth: 0 },
  picture: { width: '100%', borderWidth: 2, overflow: 'hidden' },
  number: { textAlign: 'center' },
});
