import { View } from 'react-native';
import { featherFor, type ProofWish } from '../../core/measures/cut/proof-plan';
import type { CoverMeasure, CutMeasure } from '../../core/report/wipe-types';
import type { WipeSide } from '../../api/wipes';
import type { Laying } from '../../core/plan/marks';
import { LayByMarks } from '../compare/lay-by-marks';
import { Action } from '../components/action';
import { Heading, Soft } from '../components/words';
import { ChoiceField, FieldGrid, NumberField } from '../forms/fields';

interface Props {
  out: WipeSide;
  into: WipeSide;
  /** Frames of the in side for one of the out side. */
  pace: number;
  wish: ProofWish;
  at: number | null;
  frame: number;
  measure: CoverMeasure;
  cut: CutMeasure | null;
  onWish: (wish: ProofWish) => void;
}

/** Where the cut lies and how the in side is played under it; everything begins at what was measured. */
export function CutChoices({ out, into, pace, wish, at, frame, measure, cut, onWish }: Props) {
  // The in side's marked frame lies under the out side's.
  const startFor = (by: Laying) => Math.round(by.second - (by.first - (at ?? 0)) * pace);
  const fits = (by: Laying) => startFor(by) >= 0 && startFor(by) < into.frame_count;
  const soft = measure.edge.softness_px;
  const retime = cut?.retime_pct ?? null;
  const advised =
    retime !== null && Math.abs(retime - 100) > 5 && retime >= 10 && retime <= 1000 ? Math.round(retime) : null;
  return (
    <View testID="cut-choices">
      <Heading>The cut</Heading>
      <Soft>
        {at === null
          ? 'Nothing covers the picture whole: step to the fullest frame and cut there.'
          : `The in side begins under out frame ${at}${(wish.at ?? null) === null ? ', as measured' : ''}; ` +
            `slide it with the arrows under its picture.`}
      </Soft>
      <FieldGrid>
        <NumberField
          label="In side begins with frame"
          value={wish.in_start}
          onChange={(v) => onWish({ ...wish, in_start: Math.max(0, Math.round(v ?? 0)) })}
          least={0}
          testID="in-start"
        />
        <NumberField
          label="Feather"
          unit="px"
          value={wish.feather_px ?? (soft === null ? null : Math.round(featherFor(soft)))}
          onChange={(v) => onWish({ ...wish, feather_px: v })}
          least={0}
          most={2000}
          testID="feather"
        />
        <NumberField
          label={advised ? `Speed (${advised} % matches)` : 'Speed of the in side'}
          unit="%"
          value={wish.speed_pct}
          onChange={(v) => onWish({ ...wish, speed_pct: v ?? 100 })}
          least={10}
          most={1000}
          testID="speed"
        />
        <ChoiceField
          name={cut?.mirror_helps ? 'In side is shown (mirroring helps)' : 'In side is shown'}
          value={wish.mirror ? 'mirrored' : 'shot'}
          onChange={(v) => onWish({ ...wish, mirror: v === 'mirrored' })}
          options={[
            { value: 'shot', label: 'As shot' },
            { value: 'mirrored', label: 'Mirrored' },
          ]}
          testID="mirror"
        />
      </FieldGrid>
      <FieldGrid>
        <Action
          quiet
          label={`Cut at frame ${frame}`}
          onPress={() => onWish({ ...wish, at: frame })}
          testID="cut-here"
        />
        {at !== null && (
          <LayByMarks
            first={out.marks}
            second={into.marks}
            isLaid={(by) => !fits(by) || startFor(by) === wish.in_start}
            said={(by) => `in frame ${startFor(by)} at the cut`}
            onLay={(by) => onWish({ ...wish, in_start: startFor(by) })}
          />
        )}
        {(wish.at ?? null) !== null && (
          <Action quiet label="Cut as measured" onPress={() => onWish({ ...wish, at: null })} testID="cut-measured" />
        )}
      </FieldGrid>
      {wish.mirror && <Soft>Look for writing, faces and hands in the in side: mirrored, they give the cut away.</Soft>}
    </View>
  );
}
