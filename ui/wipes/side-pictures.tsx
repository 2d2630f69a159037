import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Circle, Polyline } from 'react-native-svg';
import type { CoverEdges, CutSide } from '../../core/report/wipe-types';
import { ToolButton } from '../components/tool-button';
import { Mono, Strong } from '../components/words';
import type { WipeSide } from '../../api/wipes';
import { FramePicture } from '../viewer/frame-picture';
import { Arrow } from './ways-chart';

const LIGHT = '#FFF6E0';
const SHADE = '#000';
/** Places along the breadth at which edges are known. */
const AT = [0.25, 0.5, 0.75];
/** An arrow this share of the picture's width stands for the faster side's speed. */
const LONGEST = 0.32;

interface Props {
  side: WipeSide;
  name: string;
  frame: number;
  onFrame: (frame: number) => void;
  edges: CoverEdges | null;
  movement: CutSide | null;
  /** Speed of the faster side, widths a second. */
  fastest: number;
  /** Way of what crosses, degrees, where the camera stands. */
  crossing: number | null;
  note: string;
  testID: string;
  /** Narrow: with room for the picture and two steps only. */
  slim?: boolean;
  /** By how much the picture goes beyond the text at each side. */
  bleed: number;
}

/** One side of the wipe at one frame, with the object's edges and the way the picture moves. */
export function SidePicture({
  side,
  name,
  frame,
  onFrame,
  edges,
  movement,
  fastest,
  crossing,
  note,
  testID,
  slim,
  bleed,
}: Props) {
  const [loupe, setLoupe] = useState(false);
  const most = side.frame_count - 1;
  const go = (to: number) => onFrame(Math.max(0, Math.min(most, to)));
  return (
    <View style={styles.side} testID={testID}>
      <FramePicture
        takeId={side.id}
        frame={Math.min(frame, most)}
        frameCount={side.frame_count}
        width={side.width}
        height={side.height}
        loupe={loupe}
        onLoupe={setLoupe}
        over={(w, h) => (
          <SideLines
            width={w}
            height={h}
            source={side}
            frame={frame}
            edges={edges}
            movement={movement}
            fastest={fastest}
            crossing={crossing}
          />
        )}
      />
      <View style={[styles.line, { marginHorizontal: bleed }]}>
        <View style={styles.words}>
          <Strong lines={1}>{`${name}: ${side.label}`}</Strong>
          <Mono>{note}</Mono>
        </View>
      </View>
      <View style={[styles.steps, { marginHorizontal: bleed && bleed - 12 }]}>
        {!slim && (
          <ToolButton icon="chevron-double-left" label={`${name}, ten frames back`} onPress={() => go(frame - 10)} />
        )}
        <ToolButton
          icon="chevron-left"
          label={`${name}, one frame back`}
          onPress={() => go(frame - 1)}
          testID={`${testID}-back`}
        />
        <Mono style={styles.frame}>{`frame ${frame} of ${most}`}</Mono>
        <ToolButton
          icon="chevron-right"
          label={`${name}, one frame on`}
          onPress={() => go(frame + 1)}
          testID={`${testID}-on`}
        />
        {!slim && (
          <ToolButton icon="chevron-double-right" label={`${name}, ten frames on`} onPress={() => go(frame + 10)} />
        )}
        <ToolButton icon="magnify" label={`${name}, loupe`} on={loupe} onPress={() => setLoupe(!loupe)} />
      </View>
    </View>
  );
}

interface LineProps {
  width: number;
  height: number;
  source: WipeSide;
  frame: number;
  edges: CoverEdges | null;
  movement: CutSide | null;
  fastest: number;
  crossing: number | null;
}

function SideLines({ width, height, source, frame, edges, movement, fastest, crossing }: LineProps) {
  const vertical = edges?.way === 90 || edges?.way === 270;
  const scale = width / source.width;
  const points = (lines: (number | null)[][]) =>
    lines.flatMap((line, k) => {
      const v = line[frame];
      return v === null || v === undefined ? [] : [vertical ? [AT[k] * width, v * scale] : [v * scale, AT[k] * height]];
    });
  const drawn = edges
    ? (
        [
          ['leading', points(edges.lead), undefined],
          ['trailing', points(edges.trail), '7 5'],
        ] as const
      ).filter(([, q]) => q.length > 0)
    : [];
  const moves = movement?.angle_deg ?? null,
    speed = movement?.speed_widths_per_s ?? 0;
  const words = [
    ...drawn.map(([name]) => `${name} edge`),
    moves !== null ? `picture moves at ${moves.toFixed(0)} degrees` : '',
  ]
    .filter(Boolean)
    .join(', ');
  const angle = moves ?? crossing;
  const length =
    angle === null
      ? 0
      : moves === null
        ? 0.2 * width
        : Math.max(26, (LONGEST * width * speed) / Math.max(0.01, fastest));
  const turn = ((angle ?? 0) * Math.PI) / 180;
  const from = { x: width / 2 - (length / 2) * Math.cos(turn), y: 0.84 * height - (length / 2) * Math.sin(turn) };
  return (
    <Svg width={width} height={height} style={styles.over} role="img" aria-label={words || 'nothing drawn'}>
      {drawn.map(([name, q, dash]) => {
        // The outer lines go on to the frame's edges.
        const ends = q.length > 1 ? extended(q, vertical, width, height) : q;
        const text = ends.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ');
        return ends.length > 1 ? (
          [
            <Polyline key={`${name}s`} points={text} fill="none" stroke={SHADE} strokeOpacity={0.6} strokeWidth={5} />,
            <Polyline key={name} points={text} fill="none" stroke={LIGHT} strokeWidth={2.4} strokeDasharray={dash} />,
          ]
        ) : (
          <Circle key={name} cx={ends[0][0]} cy={ends[0][1]} r={5} fill={LIGHT} stroke={SHADE} />
        );
      })}
      {angle !== null && [
        <Arrow key="s" {...from} angle={angle} length={length + 3} color="rgba(0,0,0,0.65)" width={9} />,
        <Arrow key="a" {...from} angle={angle} length={length} color={LIGHT} dashed={moves === null} />,
      ]}
    </Svg>
  );
}

function extended(q: number[][], vertical: boolean, width: number, height: number): number[][] {
  const on = (a: number[], b: number[], to: number) => {
    const [u, v] = vertical ? [0, 1] : [1, 0];
    const t = (to - a[u]) / (b[u] - a[u] || 1);
    const out = [0, 0];
    out[u] = to;
    out[v] = a[v] + t * (b[v] - a[v]);
    return out;
  };
  return [on(q[0], q[1], 0), ...q, on(q[q.length - 2], q[q.length - 1], vertical ? width : height)];
}

const styles = StyleSheet.create({
  side: { flex: 1, minWidth: 0 },
  over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
  line: { flexDirection: 'row', alignItems: 'center', paddingTop: 6 },
  words: { flex: 1, minWidth: 0 },
  steps: { flexDirection: 'row', alignItems: 'center' },
  frame: { minWidth: 104, textAlign: 'center' },
});
