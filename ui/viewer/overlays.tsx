import { useMemo } from 'react';
import { StyleSheet } from 'react-native';
import Svg, { G, Path, Pattern, Rect, Text as SvgText, Defs, Line } from 'react-native-svg';
import type { Box, LockMeasure } from '../../core/report/types';
import type { Outlines } from '../../api/takes';
import { FONT } from '../theme/palette';

/** What may be drawn over the picture. */
export interface OverlayChoice {
  patches: boolean;
  people: boolean;
  restless: boolean;
  light: boolean;
}
export const NO_OVERLAYS: OverlayChoice = { patches: false, people: true, restless: false, light: false };

interface Props {
  choice: OverlayChoice;
  frame: number;
  /** Size on screen and in source pixels. */
  width: number;
  height: number;
  sourceWidth: number;
  patches: LockMeasure['patches'];
  outlines: Outlines | null;
  restless: Box[];
}

/** From this trust on, the lock rests on a patch. */
export const TRUSTED = 0.2;
const ACROSS = 16;
const DOWN = 9;
/** Light of a zone that differs by less than this, hundredths of a stop, is left blank. */
const SLIGHT = 3;

/** Drawings over one frame: patches of the lock, who stands where, what moves by itself, light by zone. */
export function Overlays({ choice, frame, width, height, sourceWidth, patches, outlines, restless }: Props) {
  const k = width / sourceWidth;
  const shapes = useMemo(() => (outlines ? rowsToPaths(outlines.frames[frame] ?? []) : null), [outlines, frame]);
  const zones = outlines?.zones[Math.min(outlines.zones.length - 1, Math.floor(frame / outlines.zone_step))];
  const words = [
    choice.patches && `${patches.filter((q) => q.trust >= TRUSTED).length} patches the lock rests on`,
    choice.people && 'performers and shadows outlined',
    choice.restless && `${restless.length} restless regions`,
    choice.light && 'light by zone',
  ]
    .filter(Boolean)
    .join('; ');
  return (
    <Svg width={width} height={height} style={styles.over} role="img" aria-label={words}>
      <Defs>
        <Pattern id="restless" width={8} height={8} patternUnits="userSpaceOnUse">
          <Line x1={0} y1={8} x2={8} y2={0} stroke="#FFF" strokeOpacity={0.75} strokeWidth={1.2} />
        </Pattern>
      </Defs>
      {choice.light &&
        zones?.map((v, z) =>
          Math.abs(v) < SLIGHT ? null : (
            <G key={z}>
              <Rect
                x={((z % ACROSS) * width) / ACROSS}
                y={(Math.floor(z / ACROSS) * height) / DOWN}
                width={width / ACROSS}
                height={height / DOWN}
                fill={v > 0 ? '#FFE9B0' : '#0A1A33'}
                fillOpacity={Math.min(0.65, Math.abs(v) / 60)}
              />
              {width > 700 && Math.abs(v) >= 5 && (
                <SvgText
                  x={(((z % ACROSS) + 0.5) * width) / ACROSS}
                  y={((Math.floor(z / ACROSS) + 0.6) * height) / DOWN}
                  fontFamily={FONT.mono}
                  fontSize={10}
                  fill="#FFF"
                  textAnchor="middle"
                >{`${v > 0 ? '+' : '−'}${(Math.abs(v) / 100).toFixed(2)}`}</SvgText>
              )}
            </G>
          ),
        )}
      {choice.restless &&
        restless.map((b, i) => (
          <Rect
            key={i}
            x={b.x * k}
            y={b.y * k}
            width={b.width * k}
            height={b.height * k}
            fill="url(#restless)"
            stroke="#FFF"
            strokeOpacity={0.5}
          />
        ))}
      {choice.people && shapes && outlines && (
        <G scale={`${width / outlines.width}, ${height / outlines.height}`}>
          <Path d={shapes.shadow} fill="#000" fillOpacity={0.45} />
          <Path d={shapes.body} fill="#FFF" fillOpacity={0.38} />
        </G>
      )}
      {choice.patches &&
        patches.map((q, i) => (
          <Rect
            key={i}
            x={(q.x_px - q.size_px / 2) * k}
            y={(q.y_px - q.size_px / 2) * k}
            width={q.size_px * k}
            height={q.size_px * k}
            fill="none"
            stroke={q.trust >= TRUSTED ? '#FFFFFF' : '#FF9A7A'}
            strokeWidth={1.1}
            strokeOpacity={q.trust >= TRUSTED ? 0.4 + 0.6 * q.trust : 0.6}
            strokeDasharray={q.trust >= TRUSTED ? undefined : '2 3'}
          />
        ))}
    </Svg>
  );
}

/** Rows of a mask (y, first x, last x, kind) as two paths of rectangles. */
export function rowsToPaths(rows: readonly number[]): { body: string; shadow: string } {
  const out = { body: '', shadow: '' };
  for (let k = 0; k + 3 < rows.length; k += 4)
    out[rows[k + 3] === 1 ? 'body' : 'shadow'] +=
      `M${rows[k + 1]} ${rows[k]}H${rows[k + 2] + 1}V${rows[k] + 1}H${rows[k + 1]}Z`;
  return out;
}

const styles = StyleSheet.create({ over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' } });
