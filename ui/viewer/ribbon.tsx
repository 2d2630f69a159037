import { useMemo, useState } from 'react';
import { StyleSheet, View, type GestureResponderEvent, type LayoutChangeEvent } from 'react-native';
import Svg, { Circle, G, Line, Path, Polyline, Rect, Text as SvgText } from 'react-native-svg';
import type { Run } from '../../core/report/types';
import { FONT } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { roundTop, tracePoints } from './trace';

/** One band of the ribbon: a trace over the take's frames. */
export interface Band {
  name: string;
  unit: string;
  values: readonly (number | null)[];
  limit: number | null;
  /** The strip shows at least up to here. */
  least?: number;
  /** Faults of this band, as notches at its foot. */
  faults: Run[];
  /** Frames to be found again, as ticks at its foot. */
  marks?: number[];
  /** Frames that are offered and not kept, as rings at its foot. */
  rings?: number[];
  /** A sentence for those who do not see the trace. */
  sentence: string;
}

interface Props {
  bands: Band[];
  frame: number;
  onFrame: (frame: number) => void;
}

const BAND = 46;
const FOOT = 4;
/** Room above a trace for its name, and below for the notches. */
const HEAD = 10;
const NOTCH = 7;
const TRACE = BAND - HEAD - NOTCH - 2;

/** One strip for the whole take: traces on one frame axis, faults as notches; a finger moves by frames. */
export function Ribbon({ bands, frame, onFrame }: Props) {
  const p = usePalette();
  const [width, setWidth] = useState(0);
  const count = bands[0]?.values.length ?? 0;
  const height = bands.length * BAND + FOOT;
  const x = (f: number) => (count > 1 ? (f * width) / (count - 1) : width / 2);
  const drawn = useMemo(
    () =>
      bands.map((band) => {
        const most = band.values.reduce<number>((m, v) => (v !== null && v > m ? v : m), 0);
        const top = roundTop(Math.max(most, band.limit === null ? 0 : band.limit * 2, band.least ?? 0));
        return { ...band, top, runs: tracePoints(band.values, width, TRACE, top) };
      }),
    [bands, width],
  );
  const touch = (e: GestureResponderEvent) => {
    if (count < 1 || width <= 0) return;
    const at = Math.round((e.nativeEvent.locationX / width) * (count - 1));
    onFrame(Math.max(0, Math.min(count - 1, at)));
  };
  return (
    <View
      style={[styles.strip, { height, backgroundColor: p.card, borderColor: p.line }]}
      onLayout={(e: LayoutChangeEvent) => setWidth(e.nativeEvent.layout.width)}
      role="slider"
      tabIndex={0}
      aria-label={`Frame. ${bands.map((b) => b.sentence).join(' ')}`}
      aria-valuemin={0}
      aria-valuemax={Math.max(0, count - 1)}
      aria-valuenow={frame}
      testID="ribbon"
      onStartShouldSetResponder={() => true}
      onMoveShouldSetResponder={() => true}
      onResponderTerminationRequest={() => false}
      onResponderGrant={touch}
      onResponderMove={touch}
    >
      {width > 0 && (
        <Svg width={width} height={height} style={styles.ink}>
          {drawn.map((band, i) => (
            <G key={band.name} y={i * BAND + HEAD}>
              {i > 0 && <Line x1={0} x2={width} y1={-HEAD} y2={-HEAD} stroke={p.line} strokeWidth={1} />}
              {band.limit !== null && band.limit <= band.top && (
                <Line
                  x1={0}
                  x2={width}
                  y1={(1 - band.limit / band.top) * TRACE}
                  y2={(1 - band.limit / band.top) * TRACE}
                  stroke={p.soft}
                  strokeWidth={1}
                  strokeDasharray="3 4"
                />
              )}
              {band.runs.map((run, k) => (
                <Polyline
                  key={k}
                  points={run.map((q) => `${q.x.toFixed(1)},${q.y.toFixed(1)}`).join(' ')}
                  fill="none"
                  stroke={p.ink}
                  strokeWidth={1.8}
                  strokeLinejoin="round"
                />
              ))}
              {band.faults.map((run) => (
                <Rect
                  key={`${run.start}-${run.end}`}
                  x={x(run.start) - 2}
                  y={TRACE + 2}
                  width={Math.max(4, x(run.end) - x(run.start) + 4)}
                  height={NOTCH}
                  fill={p.reshoot}
                />
              ))}
              {band.marks?.map((f) => (
                <Rect key={`m${f}`} x={x(f) - 1} y={TRACE - 3} width={2} height={NOTCH + 5} fill={p.ink} />
              ))}
              {band.rings?.map((f, k) => (
                <Circle
                  key={`r${f} ${k}`}
                  cx={x(f)}
                  cy={TRACE + 2}
                  r={3}
                  fill={p.card}
                  stroke={p.ink}
                  strokeWidth={1.4}
                />
              ))}
              <SvgText
                x={6}
                y={1}
                fontFamily={FONT.mono}
                fontSize={10}
                fill={p.soft}
              >{`${band.name}, to ${band.top} ${band.unit}`}</SvgText>
            </G>
          ))}
          <Line x1={x(frame)} x2={x(frame)} y1={0} y2={height} stroke={p.ink} strokeWidth={2} />
          <Path d={`M${x(frame) - 6} 0h12l-6 8z`} fill={p.ink} />
        </Svg>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  strip: { borderWidth: 1, cursor: 'pointer', touchAction: 'pan-y', overflow: 'hidden' } as object,
  ink: { pointerEvents: 'none' },
});
