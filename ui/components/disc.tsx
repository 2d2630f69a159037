import { VERDICT_WORDS } from '../../core/judge/verdicts';
import Svg, { Circle, Path } from 'react-native-svg';
import type { VerdictWord } from '../../core/report/types';
import { usePalette } from '../theme/theme';

/** A verdict as the phase of a disc: full holds, half workable, thick hollow ring reshoot, thin dotted ring unjudged. */
export function Disc({ verdict, size = 30 }: { verdict: VerdictWord; size?: number }) {
  const p = usePalette();
  const m = size / 2;
  const r = m - 1.5;
  return (
    <Svg width={size} height={size} viewBox={`0 0 ${size} ${size}`} role="img" aria-label={verdict}>
      {verdict === 'holds' && <Circle cx={m} cy={m} r={r} fill={p.holds} />}
      {verdict === 'workable' && (
        <>
          <Circle cx={m} cy={m} r={r - 0.5} fill="none" stroke={p.workable} strokeWidth={2.5} />
          <Path d={`M${m} ${m - r}A${r} ${r} 0 0 1 ${m} ${m + r}Z`} fill={p.workable} />
        </>
      )}
      {verdict === 'reshoot' && (
        <Circle cx={m} cy={m} r={r * 0.82} fill="none" stroke={p.reshoot} strokeWidth={r * 0.36} />
      )}
      {verdict === 'unjudged' && (
        <Circle cx={m} cy={m} r={r - 0.5} fill="none" stroke={p.unjudged} strokeWidth={2.2} strokeDasharray="2.2 3.6" />
      )}
    </Svg>
  );
}

export { VERDICT_WORDS };

export function verdictColor(p: ReturnType<typeof usePalette>, verdict: VerdictWord): string {
  return p[verdict];
}
