import { useRef, useState } from 'react';
import { Image, StyleSheet, View, type GestureResponderEvent, type LayoutChangeEvent } from 'react-native';
import Svg, { Polygon } from 'react-native-svg';
import type { Zone } from '../../core/tricks/zones';
import { framePicture } from '../viewer/frame-picture';
import { boxBetween, outlined } from './zone-by-hand';

export type ZoneShape = 'outline' | 'box';

interface Props {
  takeId: string;
  frame: number;
  width: number;
  height: number;
  /** Exposure lifted by so many stops. */
  lift: number;
  shape: ZoneShape;
  zone: Zone | null;
  onZone: (zone: Zone) => void;
}

/** A stop is about this power of two in a picture's own code values. */
const CODE_STOPS = 2.2;

/** A frame of a take on which a zone is drawn with a finger: a free outline, or a box from corner to corner. */
export function ZoneDrawing({ takeId, frame, width, height, lift, shape, zone, onZone }: Props) {
  const [box, setBox] = useState({ width: 0, height: 0 });
  const way = useRef<[number, number][]>([]);
  const [drawn, setDrawn] = useState<Zone | null>(null);
  const at = (e: GestureResponderEvent): [number, number] => [
    Math.max(0, Math.min(1, e.nativeEvent.locationX / box.width)),
    Math.max(0, Math.min(1, e.nativeEvent.locationY / box.height)),
  ];
  const move = (e: GestureResponderEvent) => {
    if (box.width <= 0 || way.current.length === 0) return;
    way.current.push(at(e));
    setDrawn(shape === 'box' ? boxBetween(way.current[0], at(e)) : [...way.current]);
  };
  const release = () => {
    const made = shape === 'box' ? drawn : outlined(way.current);
    way.current = [];
    setDrawn(null);
    // A tap draws nothing.
    if (made && made.length > 2) onZone(made);
  };
  const shown = drawn ?? zone;
  return (
    <View
      style={[styles.frame, { aspectRatio: width / height }]}
      onLayout={(e: LayoutChangeEvent) => setBox(e.nativeEvent.layout)}
      testID="zone-drawing"
      role="img"
      aria-label={`Frame ${frame}, ${zone ? `with a zone of ${zone.length} corners` : 'without a zone'}`}
      onStartShouldSetResponder={() => true}
      onMoveShouldSetResponder={() => true}
      onResponderTerminationRequest={() => false}
      onResponderGrant={(e) => {
        way.current = [at(e)];
      }}
      onResponderMove={move}
      onResponderRelease={release}
    >
      <Image
        source={{ uri: framePicture(takeId, frame) }}
        style={[
          StyleSheet.absoluteFill,
          styles.through,
          { filter: `brightness(${(2 ** (lift / CODE_STOPS)).toFixed(3)})` } as object,
        ]}
        resizeMode="stretch"
      />
      {shown && box.width > 0 && (
        <Svg width={box.width} height={box.height} style={styles.over}>
          {[
            { stroke: '#000', strokeWidth: 4, strokeOpacity: 0.6 },
            { stroke: '#FFD27A', strokeWidth: 2, strokeOpacity: 1 },
          ].map((ink) => (
            <Polygon
              key={ink.stroke}
              points={shown.map(([x, y]) => `${(x * box.width).toFixed(1)},${(y * box.height).toFixed(1)}`).join(' ')}
              fill="#FFD27A"
              fillOpacity={0.1}
              strokeLinejoin="round"
              {...ink}
            />
          ))}
        </Svg>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  frame: {
    width: '100%',
    overflow: 'hidden',
    backgroundColor: '#000',
    touchAction: 'none',
    cursor: 'crosshair',
  } as object,
  through: { pointerEvents: 'none' } as object,
  over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
});
