import { measuresOf, type TakeAnalysis } from './analysis';
import { askedByPurpose } from '../gate/asked';
import { judgeTake, reportTake } from '../gate/judged-take';
import type { Outcome } from '../judge/measure';
import type { TakeReport } from '../report/types';
import type { Purpose } from '../tricks/types';

/** What a take that is measured by itself is called where it is one of several. */
export const TAKE_ID = 'take';

/** What was found in a take, judged for what it is for. */
export function reportAnalysed(
  a: TakeAnalysis,
  name: string,
  purpose: Purpose,
  delivery: TakeReport['delivery'],
  outcomes: readonly Outcome[] = [],
): TakeReport {
  const found = measuresOf(a);
  const fps = a.media.measured_fps;
  const asked = askedByPurpose(purpose);
  const take = { id: TAKE_ID, number: 1, name: '', isPlate: asked.isPlate, facts: found };
  const edit = { ...delivery, fps: delivery.fps ?? fps ?? 25 };
  const judged = judgeTake(take, asked, { delivery: edit, among: [take], outcomes });
  return reportTake(name, found, delivery, asked, judged);
}
