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
  /** For mixed: how strongly the second shows, 0 to 1. */
  share?: number;
  /** For joined: the outline of the part in which the second stands, and its soft edge, pixels of the picture. */
  part?: readonly (readonly [number, number])[];
  feather?: number;
  /** By how many stops the second alone is lifted. */
  secondLift?: number;
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
  share = 0.5,
  part,
  feather = 0,
  secondLift = 0,
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
            way === 'mixed' && { opacity: share },
            way === 'difference' && styles.difference,
            way === 'joined' && part && (feather > 0 ? fadeTo(part, feather, k, width, height) : clipTo(part, k)),
          ]}
        >
          <Image
            source={{ uri: second }}
            style={[
              styles.layer,
              whole,
              { left: -cut.left },
              placed,
              secondLift !== 0 && ({ filter: `brightness(${(2 ** (secondLift / CODE_STOPS)).toFixed(3)})` } as object),
            ]}
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

/** A Gaussian's 0 to 100 % step, about, for one of its sigma. */
const STEP = 4;

/** Cuts a layer to an outline whose edge is soft. */
function fadeTo(
  part: readonly (readonly [number, number])[],
  feather: number,
  k: number,
  width: number,
  height: number,
): object {
  // What touches the picture's edge is drawn beyond it: only the line itself is soft.
  const reach = feather * k;
  const place = (v: number, most: number) => (v <= 0 ? -2 * reach : v >= most - 0.5 ? most + 2 * reach : v);
  const points = part.map(([x, y]) => `${place(x * k, width).toFixed(1)},${place(y * k, height).toFixed(1)}`).join(' ');
  const picture =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><filter id="f" x="-50%" y="-50%" ` +
    `width="200%" height="200%"><feGaussianBlur stdDeviation="${(reach / STEP).toFixed(2)}"/></filter>` +
    `<polygon points="${points}" filter="url(#f)"/></svg>`;
  return { maskImage: `url('data:image/svg+xml,${encodeURIComponent(picture)}')`, maskSize: '100% 100%' };
}

const styles = StyleSheet.create({
  isolate: { isolation: 'isolate', overflow: 'hidden', backgroundColor: '#000' } as object,
  layer: { position: 'absolute', left: 0, top: 0 },
  cut: { overflow: 'hidden' },
  difference: { mixBlendMode: 'difference' } as object,
});
