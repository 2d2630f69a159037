import { View } from 'react-native';
import type { CoverMeasure, CutMeasure } from '../../core/report/wipe-types';
import { maskWork, SHAPES } from '../../core/calculators/mask-work';
import { FactLines } from '../components/fact-lines';
import { sideWords } from './ways-chart';

const px = (v: number | null, digits = 1) => (v === null ? 'not known' : `${v.toFixed(digits)} px`);
const frame = (v: number | null, never: string) => (v === null ? never : String(v));
/** An edge softer than this asks for more care than a hard one; seconds to look over a frame; the range of the estimate. */
const SOFT_PX = 24;
const LOOK_S = 6;
const SPREAD = 1.8;
const KINDS = { passing: 'passes', panning: 'camera pans past', approaching: 'camera walks up', closing: 'closes' };

/** Every number of a cover, for whoever draws the masks. */
export function CoverFacts({ measure: m }: { measure: CoverMeasure }) {
  const reached = Object.entries(m.reaches)
    .filter(([, on]) => !on)
    .map(([name]) => name);
  const lines: [string, string][] = [
    ['Kind', KINDS[m.kind]],
    ['In from frame', frame(m.enter_frame, 'never')],
    ['Full', m.first_full_frame === null ? 'never' : `${m.first_full_frame} to ${m.last_full_frame ?? 'not known'}`],
    ['Last seen in frame', frame(m.leave_frame, 'stays in')],
    [
      'Does not reach',
      m.first_full_frame !== null || reached.length === 0 ? 'nothing: all four sides covered' : reached.join(', '),
    ],
    [
      'Edge’s speed',
      m.edge.speed_px_per_frame === null
        ? 'not known'
        : `${m.edge.speed_px_per_frame.toFixed(1)} px a ` +
          `frame${m.edge.speed_spread === null ? '' : `, ± ${(100 * m.edge.speed_spread).toFixed(0)} %`}`,
    ],
    ['Edge’s softness, 10 to 90 %', px(m.edge.softness_px)],
    ...(m.edge.blur_by_motion_px === null
      ? []
      : [
          ['By movement, by defocus', `${px(m.edge.blur_by_motion_px)}, ${px(m.edge.blur_by_defocus_px)}`] as [
            string,
            string,
          ],
        ]),
    ...(m.edge.bend_px === null
      ? []
      : [
          [
            'Edge bends by',
            `${px(m.edge.bend_px)}, known to ` +
              `${px(m.edge.bend_error_px)}${m.edge.lens_k1 === null ? '' : `, lens k1 ${m.edge.lens_k1.toFixed(3)}`}`,
          ] as [string, string],
        ]),
    ...(m.punch_in
      ? [
          [
            'Punch-in that hides the rest',
            `${(100 * m.punch_in.scale).toFixed(0)} % about ${m.punch_in.centre_x_px.toFixed(0)}, ${m.punch_in.centre_y_px.toFixed(0)} px`,
          ] as [string, string],
        ]
      : []),
    ...(m.approach
      ? [
          [
            'Off centre, sway, roll',
            `${px(m.approach.off_centre_px, 0)}, ${px(m.approach.sway_px, 0)}, ${m.approach.roll_deg.toFixed(1)}°`,
          ] as [string, string],
        ]
      : []),
    ['Frames to mask', String(m.mask_frames)],
    ...work(m),
    ['Set first', m.key_frames.length ? m.key_frames.join(', ') : 'none'],
    ...(m.by_hand
      ? [
          [
            'Set by hand',
            `${m.by_hand.keys} edges; the picture confirms ${(100 * m.by_hand.confirmed_share).toFixed(0)} %`,
          ] as [string, string],
        ]
      : []),
  ];
  return (
    <View testID="cover-facts">
      <FactLines lines={lines} />
    </View>
  );
}

/** Time that masking will take, by the sum of the plan: a straight edge keyed where halving asks. */
function work({ mask_frames: frames, key_frames: keys, edge }: CoverMeasure): [string, string][] {
  if (frames === 0 || keys.length < 2) return [];
  const { low_h, high_h } = maskWork(
    frames,
    frames / (keys.length - 1),
    SHAPES[edge.softness_px !== null && edge.softness_px > SOFT_PX ? 'solid' : 'line'].minutes,
    LOOK_S,
    SPREAD,
  );
  return [['Work of masking', `${Math.max(1, Math.round(60 * low_h))} to ${Math.max(1, Math.round(60 * high_h))} min`]];
}

/** Every number of a cut. */
export function CutFacts({ measure: m, shutters }: { measure: CutMeasure; shutters: [number | null, number | null] }) {
  const { rate } = m;
  const fps = (v: number | null) => (v === null ? 'not known' : `${Math.round(v * 1000) / 1000} fps`);
  const lines: [string, string][] = [
    ['Out side', sideWords(m.out)],
    ['In side', sideWords(m.in)],
    ['Angle between', m.angle_gap_deg === null ? 'none' : `${m.angle_gap_deg.toFixed(0)}°`],
    ['Speed, in over out', m.speed_ratio === null ? 'none' : m.speed_ratio.toFixed(2)],
    ['Play the in side at', m.retime_pct === null ? '100 %' : `${m.retime_pct.toFixed(0)} %`],
    ['Out side’s rate', `${fps(rate.out_fps)}${rate.out_pattern ? `, ${rate.out_pattern}` : ''}`],
    ['In side’s rate', `${fps(rate.in_fps)}${rate.in_pattern ? `, ${rate.in_pattern}` : ''}`],
    [
      'Shutter as noted, out and in',
      shutters.map((s) => (s === null ? 'not noted' : `1/${Math.round(1 / s)} s`)).join(', '),
    ],
    [
      'Steady frames, out and in',
      `${(100 * m.out.steady_share).toFixed(0)} %, ${(100 * m.in.steady_share).toFixed(0)} %`,
    ],
  ];
  return (
    <View testID="cut-facts">
      <FactLines lines={lines} />
    </View>
  );
}
