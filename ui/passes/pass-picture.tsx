import { useEffect, useMemo, useRef, useState } from 'react';
import { Image, StyleSheet, View, type GestureResponderEvent, type LayoutChangeEvent } from 'react-native';
import Svg, { Defs, Line, Path, Pattern, Polygon, Rect } from 'react-native-svg';
import type { DrawnLine, LineAgainst } from '../../core/measures/joined/drawn';
import type { Box } from '../../core/report/types';
import { Layers } from '../compare/layers';
import { SeamLines } from '../compare/seam-lines';
import { framePicture } from '../viewer/frame-picture';
import { handlesOf, pathOf, pointMoved } from './line-by-hand';

/** One frame of a take. */
export interface Shown {
  id: string;
  frame: number;
  count: number;
}

/** How both are seen: mixed half and half or otherwise, as they are joined, as their difference, or one alone. */
export type Seen = 'mixed' | 'joined' | 'difference' | 'first' | 'second';

/** What is laid together where both are joined, in pixels of the picture. */
export interface JoinedParts {
  /** The part in which the second stands; null where it shows everywhere, as strongly as `share` says. */
  part: [number, number][] | null;
  feather: number;
  share: number;
  secondLift: number;
}

interface Props {
  first: Shown;
  second: Shown;
  width: number;
  height: number;
  seen: Seen;
  share: number;
  lift: number;
  joined: JoinedParts;
  /** The line drawn over it, with the feather it has; null where none is. */
  line: DrawnLine | null;
  feather: number;
  /** Whether its points can be moved. */
  held: boolean;
  /** What it cuts, on a grid so many pixels wide. */
  against: LineAgainst | null;
  grid: { width: number; factor: number } | null;
  /** Where the measured split would cut the performer in this frame, or leave something of them. */
  spill: readonly Box[];
  zone: [number, number][] | null;
  picked: number | null;
  onPick: (index: number) => void;
  onLine: (line: DrawnLine) => void;
  /** A point was let go of. */
  onSettle: (line: DrawnLine, index: number) => void;
}

const AHEAD = [1, -1, 2, -2];
/** A point is taken hold of within so many screen pixels. */
const HOLD = 44;
/** Less than this, screen pixels, is a tap and not a drag. */
const TAP = 3;

/** Two takes in one picture, with the line between them and what it cuts; its points are moved by a finger. */
export function PassPicture(props: Props) {
  const { first, second, width, height, seen, line, against, grid, zone } = props;
  const [space, setSpace] = useState(0);
  const scale = space / width,
    tall = space * (height / width);
  useEffect(() => {
    for (const step of AHEAD)
      for (const { id, frame, count } of [first, second]) {
        const near = frame + step;
        if (near >= 0 && near < count) Image.prefetch(framePicture(id, near)).catch(() => undefined);
      }
  }, [first, second]);
  const hatched = useMemo(
    () =>
      against && grid && scale > 0
        ? [against.a.mask, against.b.mask].map((m) => pathOf(m, grid.width, grid.factor * scale))
        : ['', ''],
    [against, grid, scale],
  );
  const { joined, share, lift } = props;
  const mixing = seen === 'joined' && !joined.part;
  return (
    <View
      style={{ height: space > 0 ? tall : undefined, aspectRatio: space > 0 ? undefined : width / height }}
      onLayout={(e: LayoutChangeEvent) => setSpace(e.nativeEvent.layout.width)}
      testID="pass-picture"
      role="group"
      aria-label={`Frame ${first.frame} of the first and ${second.frame} of the second, ${seen}`}
    >
      {space > 0 && (
        <Layers
          way={seen === 'first' || seen === 'second' ? 'flick' : mixing ? 'mixed' : seen}
          first={framePicture(first.id, first.frame)}
          second={framePicture(second.id, second.frame)}
          width={space}
          height={tall}
          lift={lift}
          showSecond={seen === 'second'}
          split={0}
          layOn={null}
          share={mixing ? joined.share : share}
          part={joined.part ?? undefined}
          feather={joined.feather}
          secondLift={seen === 'joined' ? joined.secondLift : 0}
          sourceWidth={width}
        />
      )}
      {space > 0 && (
        <Svg width={space} height={tall} style={styles.over}>
          <Defs>
            <Pattern id="cut-first" width={7} height={7} patternUnits="userSpaceOnUse">
              <Line x1={0} y1={7} x2={7} y2={0} stroke="#FF9A7A" strokeWidth={2} />
            </Pattern>
            <Pattern id="cut-second" width={7} height={7} patternUnits="userSpaceOnUse">
              <Line x1={0} y1={0} x2={7} y2={7} stroke="#FFD27A" strokeWidth={2} />
            </Pattern>
          </Defs>
          {hatched[0] !== '' && <Path d={hatched[0]} fill="url(#cut-first)" testID="cut-first" />}
          {hatched[1] !== '' && <Path d={hatched[1]} fill="url(#cut-second)" testID="cut-second" />}
          {props.spill.map((b, i) => (
            <Rect
              key={i}
              x={b.x * scale}
              y={b.y * scale}
              width={b.width * scale}
              height={b.height * scale}
              fill="url(#cut-first)"
              stroke="#FF9A7A"
              testID="split-spill"
            />
          ))}
          {zone && (
            <Polygon
              points={zone.map(([x, y]) => `${(x * scale).toFixed(1)},${(y * scale).toFixed(1)}`).join(' ')}
              fill="none"
              stroke="#FFF"
              strokeWidth={1.6}
              strokeDasharray="3 4"
              testID="pass-zone"
            />
          )}
        </Svg>
      )}
      {space > 0 && line && (
        <SeamLines
          seam={{ points: line.points, feather: props.feather, second: [] }}
          room={seen !== 'joined'}
          width={space}
          height={tall}
          scale={scale}
        />
      )}
      {space > 0 &&
        !props.held &&
        line &&
        handlesOf(line.points, scale, props.picked).map((i) => (
          <Handle key={i} {...props} line={line} index={i} scale={scale} space={space} />
        ))}
    </View>
  );
}

type HandleProps = Pick<Props, 'width' | 'height' | 'picked' | 'onPick' | 'onLine' | 'onSettle'> & {
  line: DrawnLine;
  index: number;
  scale: number;
  space: number;
};

/** A point of the line. */
function Handle({ line, index, scale, space, width, height, picked, onPick, onLine, onSettle }: HandleProps) {
  const start = useRef<{ x: number; y: number; from: readonly [number, number]; moved: boolean } | null>(null);
  const latest = useRef(line);
  const [x, y] = line.points[index];
  const on = picked === index;
  const moved = (e: GestureResponderEvent) => {
    const s = start.current;
    if (!s) return;
    const { pageX, pageY } = e.nativeEvent;
    if (!s.moved && Math.hypot(pageX - s.x, pageY - s.y) < TAP) return;
    s.moved = true;
    const to = [s.from[0] + (pageX - s.x) / scale, s.from[1] + (pageY - s.y) / scale] as const;
    latest.current = pointMoved(line, index, to, { width, height });
    onLine(latest.current);
  };
  // At the picture's edges the whole of it can still be touched.
  const within = (v: number, most: number) => Math.max(0, Math.min(most - HOLD, v - HOLD / 2));
  const left = within(x * scale, space),
    top = within(y * scale, height * scale);
  return (
    <View
      style={[styles.hold, { left, top, zIndex: on ? 2 : 1 }]}
      testID={`line-point-${index}`}
      role="button"
      tabIndex={0}
      aria-pressed={on}
      aria-label={`Point ${index + 1} of the line, at ${x.toFixed(0)}, ${y.toFixed(0)} px`}
      onFocus={() => onPick(index)}
      onStartShouldSetResponder={() => true}
      onMoveShouldSetResponder={() => true}
      onResponderTerminationRequest={() => false}
      onResponderGrant={(e) => {
        start.current = { x: e.nativeEvent.pageX, y: e.nativeEvent.pageY, from: [x, y], moved: false };
        latest.current = line;
        onPick(index);
      }}
      onResponderMove={moved}
      onResponderRelease={() => {
        if (start.current?.moved) onSettle(latest.current, index);
        start.current = null;
      }}
    >
      <View
        style={[
          styles.dot,
          on && styles.picked,
          { left: x * scale - left - (on ? 11 : 7), top: y * scale - top - (on ? 11 : 7) },
        ]}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
  hold: { position: 'absolute', width: HOLD, height: HOLD, touchAction: 'none', cursor: 'grab' } as object,
  dot: {
    position: 'absolute',
    width: 14,
    height: 14,
    borderRadius: 7,
    backgroundColor: '#FFF6E0',
    borderWidth: 1.6,
    borderColor: '#000',
    pointerEvents: 'none',
  },
  picked: { width: 22, height: 22, borderRadius: 11, backgroundColor: '#FFD27A' },
});
