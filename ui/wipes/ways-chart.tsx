import { StyleSheet, View } from 'react-native';
import Svg, { Circle, G, Line, Path, Text as SvgText } from 'react-native-svg';
import type { CutMeasure } from '../../core/report/wipe-types';
import { FONT } from '../theme/palette';
import { usePalette } from '../theme/theme';

/** A way with its speed, widths a second. */
export interface Movement {
  angle: number;
  speed: number;
}

interface ArrowProps {
  x: number;
  y: number;
  angle: number;
  length: number;
  color: string;
  dashed?: boolean;
  width?: number;
}

/** An arrow from a point along a way, degrees. */
export function Arrow({ x, y, angle, length, color, dashed, width = 4 }: ArrowProps) {
  const head = Math.min(16, 0.45 * length) + 2;
  return (
    <G transform={`translate(${x.toFixed(1)} ${y.toFixed(1)}) rotate(${angle.toFixed(1)})`}>
      <Line
        x1={0}
        y1={0}
        x2={Math.max(0, length - head)}
        y2={0}
        stroke={color}
        strokeWidth={width}
        strokeDasharray={dashed ? '9 6' : undefined}
      />
      <Path d={`M${length} 0L${length - head} ${-0.55 * head}V${0.55 * head}Z`} fill={color} />
    </G>
  );
}

const SIZE = 168;
const REACH = 68;

/** Both sides' movement from one point: the out side drawn through, the in side dashed; length is speed. */
export function WaysChart({ cut }: { cut: CutMeasure }) {
  const p = usePalette();
  const sides = [
    ['out', cut.out],
    ['in', cut.in],
  ] as const;
  const most = Math.max(0.05, ...sides.map(([, s]) => s.speed_widths_per_s ?? 0));
  const words = sides.map(([name, s]) => `${name} side ${sideWords(s)}`).join('; ');
  const c = SIZE / 2;
  return (
    <View style={styles.box} role="img" aria-label={`Ways and speeds: ${words}`} testID="ways-chart">
      <Svg width={SIZE} height={SIZE}>
        {[0.5, 1].map((r) => (
          <Circle key={r} cx={c} cy={c} r={r * REACH} stroke={p.line} fill="none" strokeWidth={1} />
        ))}
        <Line x1={c - REACH - 8} x2={c + REACH + 8} y1={c} y2={c} stroke={p.line} />
        <Line y1={c - REACH - 8} y2={c + REACH + 8} x1={c} x2={c} stroke={p.line} />
        {sides.map(([name, s]) =>
          s.angle_deg === null || s.speed_widths_per_s === null ? (
            <Circle
              key={name}
              cx={c}
              cy={c}
              r={name === 'out' ? 7 : 11}
              fill="none"
              stroke={p.ink}
              strokeWidth={name === 'out' ? 4 : 2}
              strokeDasharray={name === 'out' ? undefined : '4 3'}
            />
          ) : (
            <Arrow
              key={name}
              x={c}
              y={c}
              angle={s.angle_deg}
              length={Math.max(18, (REACH * s.speed_widths_per_s) / most)}
              color={name === 'out' ? p.ink : p.workable}
              dashed={name === 'in'}
              width={name === 'out' ? 7 : 3}
            />
          ),
        )}
        <SvgText
          x={4}
          y={SIZE - 4}
          fontFamily={FONT.mono}
          fontSize={10}
          fill={p.soft}
        >{`ring: ${most.toFixed(2)} w/s`}</SvgText>
      </Svg>
    </View>
  );
}

/** A side's movement in a few words. */
export function sideWords(s: CutMeasure['out']): string {
  if (s.speed_widths_per_s === null) return 'could not be followed';
  return s.angle_deg === null
    ? 'stands still'
    : `moves at ${(Math.round(s.angle_deg) % 360).toFixed(0)}°, ${s.speed_widths_per_s.toFixed(2)} widths/s`;
}

const styles = StyleSheet.create({ box: { width: SIZE, height: SIZE } });
