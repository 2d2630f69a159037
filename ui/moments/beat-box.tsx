import { StyleSheet } from 'react-native';
import Svg, { Rect } from 'react-native-svg';
import type { Beat } from '../../core/report/moment-types';
import { beatName } from './moment-words';

interface Props {
  beat: Beat;
  /** Size on screen, and the take's width. */
  width: number;
  height: number;
  sourceWidth: number;
}

/** Where a beat happens, drawn over its frame. */
export function BeatBox({ beat, width, height, sourceWidth }: Props) {
  const { x, y, width: w, height: h } = beat;
  if (x === null || y === null || w === null || h === null) return null;
  const k = width / sourceWidth;
  const box = { x: x * k, y: y * k, width: w * k, height: h * k };
  return (
    <Svg
      width={width}
      height={height}
      style={styles.over}
      role="img"
      aria-label={`${beatName(beat)}, where it happens`}
    >
      <Rect {...box} fill="none" stroke="#000" strokeOpacity={0.6} strokeWidth={4} />
      <Rect {...box} fill="none" stroke="#FFF" strokeWidth={1.6} strokeDasharray="6 5" />
    </Svg>
  );
}

const styles = StyleSheet.create({ over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' } });
