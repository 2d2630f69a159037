import { useState } from 'react';
import { View } from 'react-native';
import { LineChart } from 'react-native-chart-kit';
import { tidy, type SumCurve } from '../../core/calculators/kinds';
import { Mono } from '../components/words';
import { FONT } from '../theme/palette';
import { usePalette } from '../theme/theme';

/** A sum's answer over one of its values, with the present one marked. */
export function SumCurveChart({ curve }: { curve: SumCurve }) {
  const p = usePalette();
  const [width, setWidth] = useState(0);
  const every = Math.ceil(curve.points.length / 6);
  const { at } = curve;
  const nearest = at
    ? curve.points.reduce((best, q, i) => (Math.abs(q.x - at.x) < Math.abs(curve.points[best].x - at.x) ? i : best), 0)
    : -1;
  const sentence = at
    ? `${curve.yLabel} against ${curve.xLabel}; now ${tidy(at.y)} at ${tidy(at.x)}.`
    : `${curve.yLabel} against ${curve.xLabel}.`;
  return (
    <View onLayout={(e) => setWidth(e.nativeEvent.layout.width)} role="img" aria-label={sentence} testID="curve">
      <Mono>{`${curve.yLabel}, over ${curve.xLabel}`}</Mono>
      {width > 0 && (
        <LineChart
          width={width}
          height={190}
          withInnerLines={false}
          fromZero={curve.points.every((q) => q.y >= 0)}
          bezier={false}
          withShadow={false}
          data={{
            labels: curve.points.map((q, i) => (i % every === 0 ? tidy(q.x, 2) : '')),
            datasets: [{ data: curve.points.map((q) => q.y) }],
          }}
          getDotColor={(_, i) => (i === nearest ? p.reshoot : 'transparent')}
          formatYLabel={(v) => tidy(Number(v), 3)}
          chartConfig={{
            backgroundGradientFrom: p.background,
            backgroundGradientTo: p.background,
            decimalPlaces: 2,
            color: () => p.ink,
            labelColor: () => p.soft,
            propsForDots: { r: '5', strokeWidth: '0' },
            propsForLabels: { fontFamily: FONT.mono, fontSize: 10 },
            strokeWidth: 2,
          }}
        />
      )}
    </View>
  );
}
