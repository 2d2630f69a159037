import { Image, StyleSheet, View, type StyleProp, type ViewStyle } from 'react-native';

/** Ways of looking at two pictures at once. */
export type Way = 'beside' | 'mixed' | 'flick' | 'difference' | 'swipe' | 'joined';

/** Where the second picture must be laid to lie on the first: pixels of the picture, degrees. */
export interface LayOn {
  dx_px: number;
  dy_px: number;
  rotation_deg: number;
  scale: number;
}

interface Props {
  way: Exclude<Way, 'beside'>;
  first: string;
  second: string;
  width: number;
  height: number;
  /** Exposure lifted by so many stops; in the difference, two to its power is what it is multiplied by. */
  lift: number;
  /** For flick: whether the second is shown. For swipe: where the second begins, as a share of the width. */
  showSecond: boolean;
  split: number;
  layOn: LayOn | null;
  /** For joined: the outline of the part in which the second stands, pixels of the picture. */
  part?: readonly (readonly [number, number])[];
  /** Width of the picture in its own pixels, for `layOn`. */
  sourceWidth: number;
  style?: StyleProp<ViewStyle>;
}

/** A stop is about this power of two in a picture's own code values. */
const CODE_STOPS = 2.2;

/** How a lift is written: "+2 stop", or in the difference "8 times". */
export function liftWords(way: Way, lift: number): string {
  return way === 'difference' ? `${2 ** lift} times` : `${lift > 0 ? '+' : ''}${lift} stop`;
}

/** Two pictures on one another. */
export function Layers({
  way,
  first,
  second,
  width,
  height,
  lift,
  showSecond,
  split,
  layOn,
  part,
  sourceWidth,
  style,
}: Props) {
  const gain = way === 'difference' ? 2 ** lift : 2 ** (lift / CODE_STOPS);
  const k = width / sourceWidth;
  const placed = layOn
    ? {
        transform: [
          { translateX: layOn.dx_px * k },
          { translateY: layOn.dy_px * k },
          { rotate: `${layOn.rotation_deg}deg` },
          { scale: layOn.scale },
        ],
      }
    : null;
  const whole = { width, height };
  const upper = way === 'flick' ? showSecond : true;
  const cut = way === 'swipe' ? { left: split * width, width: width - split * width } : { left: 0, width };
  return (
    <View style={[whole, styles.isolate, { filter: `brightness(${gain.toFixed(3)})` } as object, style]}>
      <Image source={{ uri: first }} style={[styles.layer, whole]} resizeMode="stretch" />
      {upper && (
        <View
          style={[
            styles.layer,
            styles.cut,
            cut,
            { height },
            way === 'mixed' && styles.half,
            way === 'difference' && styles.difference,
            way === 'joined' && part && clipTo(part, k),
          ]}
        >
          <Image
            source={{ uri: second }}
            style={[styles.layer, whole, { left: -cut.left }, placed]}
            resizeMode="stretch"
          />
        </View>
      )}
    </View>
  );
}

/** Cuts a layer to an outline. @param k screen pixels for one of the picture */
function clipTo(part: readonly (readonly [number, number])[], k: number): object {
  return { clipPath: `polygon(${part.map(([x, y]) => `${(x * k).toFixed(1)}px ${(y * k).toFixed(1)}px`).join(', ')})` };
}

const styles = StyleSheet.create({
  isolate: { isolation: 'isolate', overflow: 'hidden', backgroundColor: '#000' } as object,
  layer: { position: 'absolute', left: 0, top: 0 },
  cut: { overflow: 'hidden' },
  half: { opacity: 0.5 },
  difference: { mixBlendMode: 'difference' } as object,
});
