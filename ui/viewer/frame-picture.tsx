import { useEffect, useState, type ReactNode } from 'react';
import { Image, Pressable, StyleSheet, View, type GestureResponderEvent, type LayoutChangeEvent } from 'react-native';
import { usePalette } from '../theme/theme';

/** Where one frame of a take is served as a picture. */
export function framePicture(takeId: string, frame: number): string {
  return `/api/takes/${takeId}/frames/${frame}`;
}

interface Props {
  takeId: string;
  frame: number;
  frameCount: number;
  /** Size of the take's picture, for its shape and for overlays. */
  width: number;
  height: number;
  /** Drawn over the picture, given its size on screen. */
  over?: (width: number, height: number) => ReactNode;
  loupe: boolean;
  onLoupe: (open: boolean) => void;
  maxHeight?: number;
}

const LOUPE = 168;
const ENLARGE = 4;
/** Neighbouring frames are fetched ahead, so that a step shows at once. */
const AHEAD = [1, -1, 2, -2, 3, 10, -10];

/** One frame, with what is drawn over it and a loupe when wished. */
export function FramePicture({ takeId, frame, frameCount, width, height, over, loupe, onLoupe, maxHeight }: Props) {
  const p = usePalette();
  const [box, setBox] = useState({ width: 0, height: 0 });
  const [spot, setSpot] = useState({ x: 0.5, y: 0.5 });
  useEffect(() => {
    for (const step of AHEAD) {
      const near = frame + step;
      if (near >= 0 && near < frameCount) Image.prefetch(framePicture(takeId, near)).catch(() => undefined);
    }
  }, [takeId, frame, frameCount]);
  const uri = framePicture(takeId, frame);
  const place = (e: GestureResponderEvent) => {
    if (box.width > 0)
      setSpot({ x: clamp01(e.nativeEvent.locationX / box.width), y: clamp01(e.nativeEvent.locationY / box.height) });
  };
  const size = { width: box.width * ENLARGE, height: box.height * ENLARGE };
  return (
    <Pressable
      style={[styles.frame, { aspectRatio: width / height, maxHeight, backgroundColor: '#000' }]}
      onLayout={(e: LayoutChangeEvent) => setBox(e.nativeEvent.layout)}
      onLongPress={(e) => {
        place(e);
        onLoupe(true);
      }}
      delayLongPress={350}
      onPress={(e) => {
        if (loupe) place(e);
      }}
      accessibilityLabel={`Frame ${frame} of the take. Hold to open the loupe.`}
    >
      <Image
        source={{ uri }}
        style={StyleSheet.absoluteFill}
        resizeMode="contain"
        testID="frame-picture"
        accessibilityLabel={`Frame ${frame}`}
      />
      {over && box.width > 0 && over(box.width, box.height)}
      {loupe && box.width > 0 && (
        <View
          testID="loupe"
          style={[
            styles.loupe,
            {
              borderColor: p.action,
              left: clamp(spot.x * box.width - LOUPE / 2, 4, box.width - LOUPE - 4),
              top: clamp(spot.y * box.height - LOUPE / 2, 4, Math.max(4, box.height - LOUPE - 4)),
            },
          ]}
        >
          <Image
            source={{ uri }}
            style={[
              size,
              styles.enlarged,
              { left: LOUPE / 2 - spot.x * size.width, top: LOUPE / 2 - spot.y * size.height },
            ]}
            resizeMode="stretch"
          />
        </View>
      )}
    </Pressable>
  );
}

function clamp(v: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, v));
}

function clamp01(v: number): number {
  return clamp(v, 0, 1);
}

const styles = StyleSheet.create({
  frame: { width: '100%', overflow: 'hidden' },
  loupe: {
    position: 'absolute',
    width: LOUPE,
    height: LOUPE,
    borderRadius: LOUPE / 2,
    borderWidth: 3,
    overflow: 'hidden',
    pointerEvents: 'none',
  },
  enlarged: { position: 'absolute' },
});
