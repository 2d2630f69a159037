import { StyleSheet, View } from 'react-native';
import { FactLines } from '../components/fact-lines';
import { Soft } from '../components/words';
import type { Plate } from '../../api/plates';

/** With its sign, unless it rounds to nothing. */
function signed(v: number | null, digits = 2): string {
  if (v === null) return 'not known';
  const size = Math.abs(v).toFixed(digits);
  return Number(size) === 0 ? size : `${v > 0 ? '+' : '−'}${size}`;
}

/** What a plate was made of, and how it lies to the take, number by number. */
export function PlateFacts({ plate }: { plate: Plate }) {
  if (!plate.result) return null;
  const { source, comparison: c } = plate.result;
  const { offset, light } = c;
  const lines: [string, string][] = [
    [
      'Made of',
      source.source === 'stitched'
        ? `${source.frames_used.length} frames, stitched`
        : `${source.frames_used.length} of frames ${source.run?.start} to ${source.run?.end}`,
    ],
    [
      'Never seen free',
      source.unseen_share === 0 ? 'nothing' : `${(100 * source.unseen_share).toFixed(2)} % of the picture, hatched`,
    ],
    ['Shift', offset ? `${signed(offset.dx_px)} px right, ${signed(offset.dy_px)} px down` : 'not known'],
    [
      'Turn and size',
      offset ? `${signed(offset.rotation_deg, 3)}°, ${(100 * offset.scale).toFixed(3)} %` : 'not known',
    ],
    ['Known to', offset ? `${offset.uncertainty_px.toFixed(3)} px` : 'not known'],
    ['Light, take less plate', light ? `${signed(light.gap_stops)} stop` : 'not known'],
    ['Red, blue', light ? `${signed(light.red_stops)}, ${signed(light.blue_stops)} stop` : 'not known'],
    ['Farthest off in one region', light?.worst_region ? `${signed(light.worst_region.stops)} stop` : 'not known'],
    ['Bring it in over', light ? (light.fade_in_frames ? `${light.fade_in_frames} frames` : 'one cut') : 'not known'],
    [
      'Focus',
      !c.focus
        ? 'not known'
        : c.focus.loss_pct < 2
          ? 'agrees'
          : `${c.focus.softer} ${c.focus.loss_pct.toFixed(0)} % softer`,
    ],
    ['Grain, take over plate', c.grain ? `${c.grain.ratio.toFixed(1)} times` : 'not known'],
    ...c.settings.map((s): [string, string] => [s.field, `take ${s.take}, plate ${s.plate}`]),
  ];
  return (
    <View testID="plate-facts" style={styles.all}>
      <FactLines lines={lines} />
      {c.grain && c.grain.ratio > 1.6 && (
        <Soft>
          The plate is smoother than the take: add grain over it in the edit, or make it with one frame’s own.
        </Soft>
      )}
    </View>
  );
}

const styles = StyleSheet.create({ all: { gap: 6 } });
