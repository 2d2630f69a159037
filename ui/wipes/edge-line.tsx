import { useRef, useState } from 'react';
import { Image, StyleSheet, View, type GestureResponderEvent, type LayoutChangeEvent } from 'react-native';
import Svg, { Circle, Line } from 'react-native-svg';
import { usePalette } from '../theme/theme';
import { framePicture } from '../viewer/frame-picture';

/** A straight edge: where it meets the picture's two sides, shares of the picture's length across it. */
export interface EdgeLineAt {
  from: number;
  to: number;
}
/** What of the line is moved. */
export type Grip = 'from' | 'both' | 'to';

interface Props {
  takeId: string;
  frame: number;
  width: number;
  height: number;
  /** Whether the line's place is a share of the width. */
  across: boolean;
  line: EdgeLineAt;
  grip: Grip;
  onLine: (line: EdgeLineAt) => void;
  onGrip: (grip: Grip) => void;
}

const LOUPE = 150;
const ENLARGE = 5;
/** Where along the breadth the line is held. */
const HOLD = { from: 0.15, both: 0.5, to: 0.85 };
/** Less than this, pixels, is a tap and not a drag. */
const TAP = 5;

/** The line moved by a share, held at one of its places. */
export function moved(line: EdgeLineAt, grip: Grip, by: number): EdgeLineAt {
  if (grip === 'both') return { from: line.from + by, to: line.to + by };
  // Held at 0.15 or 0.85 of its length, it turns about the other.
  const far = HOLD.to - HOLD.from,
    slope = by / far;
  const near =
    grip === 'from'
      ? { from: slope * HOLD.to, to: slope * (HOLD.to - 1) }
      : { from: -slope * HOLD.from, to: slope * (1 - HOLD.from) };
  return { from: line.from + near.from, to: line.to + near.to };
}

/** Sets one edge in one frame: dragged with a finger, with a loupe that the finger does not hide. */
export function EdgeLine({ takeId, frame, width, height, across, line, grip, onLine, onGrip }: Props) {
  const p = usePalette();
  const [box, setBox] = useState({ width: 0, height: 0 });
  const start = useRef<{ x: number; y: number; line: EdgeLineAt; grip: Grip; moved: boolean } | null>(null);
  const uri = framePicture(takeId, frame);
  const long = across ? box.width : box.height,
    broad = across ? box.height : box.width;
  const place = (share: number) => (line.from + share * (line.to - line.from)) * long;
  const point = (share: number) =>
    across ? { x: place(share), y: share * broad } : { x: share * broad, y: place(share) };
  const grant = (e: GestureResponderEvent) => {
    const { locationX: x, locationY: y } = e.nativeEvent;
    const at = (across ? y : x) / Math.max(1, broad);
    const next: Grip = at < 0.33 ? 'from' : at > 0.67 ? 'to' : 'both';
    start.current = { x, y, line, grip: next, moved: false };
    onGrip(next);
  };
  const move = (e: GestureResponderEvent) => {
    const s = start.current;
    if (!s || long <= 0) return;
    const by = across ? e.nativeEvent.locationX - s.x : e.nativeEvent.locationY - s.y;
    if (!s.moved && Math.abs(by) < TAP) return;
    s.moved = true;
    onLine(moved(s.line, s.grip, by / long));
  };
  const release = (e: GestureResponderEvent) => {
    const s = start.current;
    start.current = null;
    if (!s || s.moved || long <= 0) return;
    // A tap brings the line there.
    const tapped = across ? e.nativeEvent.locationX : e.nativeEvent.locationY,
      at = (across ? e.nativeEvent.locationY : e.nativeEvent.locationX) / broad;
    const now = (s.line.from + at * (s.line.to - s.line.from)) * long;
    onLine(moved(s.line, 'both', (tapped - now) / long));
  };
  const held = point(HOLD[grip]);
  const [a, b] = [point(0), point(1)];
  // In the corner away from what is held.
  const glass = {
    left: held.x > box.width / 2 ? 6 : box.width - LOUPE - 6,
    top: held.y > box.height / 2 ? 6 : Math.max(6, box.height - LOUPE - 6),
  };
  const big = { width: box.width * ENLARGE, height: box.height * ENLARGE };
  const inGlass = (q: { x: number; y: number }) => ({
    x: LOUPE / 2 + (q.x - held.x) * ENLARGE,
    y: LOUPE / 2 + (q.y - held.y) * ENLARGE,
  });
  const [ga, gb] = [inGlass(a), inGlass(b)];
  return (
    <View
      style={[styles.frame, { aspectRatio: width / height }]}
      onLayout={(e: LayoutChangeEvent) => setBox(e.nativeEvent.layout)}
      testID="edge-line"
      role="slider"
      tabIndex={0}
      aria-label={
        `The edge in frame ${frame}, held ` +
        `${grip === 'both' ? 'in the middle' : grip === 'from' ? 'at its first end' : 'at its second end'}`
      }
      aria-valuenow={Math.round(100 * (line.from + HOLD[grip] * (line.to - line.from)))}
      aria-valuemin={0}
      aria-valuemax={100}
      onStartShouldSetResponder={() => true}
      onMoveShouldSetResponder={() => true}
      onResponderTerminationRequest={() => false}
      onResponderGrant={grant}
      onResponderMove={move}
      onResponderRelease={release}
    >
      <Image
        source={{ uri }}
        style={[StyleSheet.absoluteFill, styles.through]}
        resizeMode="stretch"
        testID="edge-picture"
        accessibilityLabel={`Frame ${frame}`}
      />
      {box.width > 0 && (
        <Svg width={box.width} height={box.height} style={styles.over}>
          <Line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="#000" strokeOpacity={0.65} strokeWidth={5} />
          <Line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="#FFF6E0" strokeWidth={2} />
          {(['from', 'both', 'to'] as const).map((g) => {
            const q = point(HOLD[g]);
            return (
              <Circle
                key={g}
                cx={q.x}
                cy={q.y}
                r={g === grip ? 11 : 7}
                fill={g === grip ? '#FFD27A' : '#FFF6E0'}
                stroke="#000"
                strokeWidth={1.6}
              />
            );
          })}
        </Svg>
      )}
      {box.width > 0 && (
        <View style={[styles.loupe, glass, { borderColor: p.action }]} testID="edge-loupe">
          <Image
            source={{ uri }}
            style={[big, styles.enlarged, { left: LOUPE / 2 - held.x * ENLARGE, top: LOUPE / 2 - held.y * ENLARGE }]}
            resizeMode="stretch"
          />
          <Svg width={LOUPE} height={LOUPE} style={styles.over}>
            <Line x1={ga.x} y1={ga.y} x2={gb.x} y2={gb.y} stroke="#FFD27A" strokeWidth={1.4} />
          </Svg>
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  frame: { width: '100%', overflow: 'hidden', backgroundColor: '#000', touchAction: 'none', cursor: 'grab' } as object,
  through: { pointerEvents: 'none' } as object,
  over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
  loupe: {
    position: 'absolute',
    width: LOUPE,
    height: LOUPE,
    borderRadius: LOUPE / 2,
    borderWidth: 3,
    overflow: 'hidden',
    pointerEvents: 'none',
    backgroundColor: '#000',
  },
  enlarged: { position: 'absolute' },
});
