import { OPPOSITE } from '../../core/base/geometry/sides';
import type { Side } from '../../core/report/types';
import { StyleSheet } from 'react-native';
import Svg, { Polyline } from 'react-native-svg';
import type { PairFound } from '../../core/report/pair-types';

/** A line that joins two pictures, pixels of the picture: the line, how wide its feather may be, where the second stands. */
export interface DrawnSeam {
  points: readonly (readonly [number, number])[];
  feather: number;
  second: [number, number][];
}

/** The outline of what lies on one side of a line from edge to edge of a picture. */
export function partBeside(
  points: readonly (readonly [number, number])[],
  side: Side,
  width: number,
  height: number,
): [number, number][] {
  const line = points.map(([x, y]): [number, number] => [x, y]);
  const [from, to] = [line[0], line[line.length - 1]];
  const far: [number, number][] = {
    left: (): [number, number][] => [
      [0, to[1]],
      [0, from[1]],
    ],
    right: (): [number, number][] => [
      [width, to[1]],
      [width, from[1]],
    ],
    top: (): [number, number][] => [
      [to[0], 0],
      [from[0], 0],
    ],
    bottom: (): [number, number][] => [
      [to[0], height],
      [from[0], height],
    ],
  }[side]();
  return [...line, ...far];
}

/** What is drawn of the line between two passes. @param isFirst whether the first picture is the pair's first pass */
export function drawSeam(seam: PairFound['seam'], isFirst: boolean, width: number, height: number): DrawnSeam | null {
  if (!seam) return null;
  const second = isFirst ? OPPOSITE[seam.first_side] : seam.first_side;
  return { points: seam.points, feather: seam.feather_px, second: partBeside(seam.points, second, width, height) };
}

interface SeamLinesProps {
  seam: DrawnSeam;
  /** Whether the room for a feather is shown too. */
  room: boolean;
  width: number;
  height: number;
  scale: number;
}

/** The line, with the room it has for a feather. */
export function SeamLines({ seam, room, width, height, scale }: SeamLinesProps) {
  const points = seam.points.map(([x, y]) => `${(x * scale).toFixed(1)},${(y * scale).toFixed(1)}`).join(' ');
  return (
    <Svg
      width={width}
      height={height}
      style={styles.over}
      role="img"
      aria-label={`A line from edge to edge with room for a feather of ${seam.feather.toFixed(0)} px`}
      testID="seam-line"
    >
      {room && (
        <Polyline points={points} fill="none" stroke="#FFF" strokeOpacity={0.22} strokeWidth={seam.feather * scale} />
      )}
      <Polyline points={points} fill="none" stroke="#000" strokeOpacity={0.7} strokeWidth={3.4} />
      <Polyline points={points} fill="none" stroke="#FFF" strokeWidth={1.6} strokeDasharray="10 5" />
    </Svg>
  );
}

const styles = StyleSheet.create({ over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' } });
