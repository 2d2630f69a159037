import type { Said, TakeReport } from '../report/types';
import { worstOf } from './verdicts';

/** What is worst of a take by itself, and the frame that shows it; null where nothing is wrong. */
export function worstFrame({ lock, light, focus }: TakeReport): { frame: number; text: string } | null {
  const all: { of: Said; frame: number | null }[] = [
    { of: lock, frame: lock.peak_frame },
    { of: light, frame: light.reasons[0]?.frames[0]?.start ?? null },
    { of: focus, frame: focus.worst_frame },
  ];
  const bad = all.flatMap(({ of: { verdict, reasons }, frame }) =>
    (verdict === 'workable' || verdict === 'reshoot') && frame !== null
      ? [{ verdict, frame, text: reasons[0]?.text ?? '' }]
      : [],
  );
  const worst = worstOf(bad);
  return worst && { frame: worst.frame, text: worst.text };
}
