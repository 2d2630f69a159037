import { layingSlides, type Laying, type Mark } from '../../core/plan/marks';
import { Action } from '../components/action';

interface Props {
  first: readonly Mark[];
  second: readonly Mark[];
  /** Whether the two lie so already. */
  isLaid: (by: Laying) => boolean;
  /** What laying them so does, in words: "12 frames later (0.48 s)". */
  said: (by: Laying) => string;
  onLay: (by: Laying) => void;
}

/** So many ways to lay two takes are offered. */
const MOST = 4;

/** Two takes laid on each other by what is marked in both. */
export function LayByMarks({ first, second, isLaid, said, onLay }: Props) {
  return layingSlides(first, second)
    .filter((by) => !isLaid(by))
    .slice(0, MOST)
    .map((by) => (
      <Action
        key={`${by.name} ${by.first} ${by.second}`}
        quiet
        label={`Lay ${by.name}: ${said(by)}`}
        onPress={() => onLay(by)}
        testID={`lay-${by.name}`}
      />
    ));
}

/** A slide in words: "12 frames later (0.48 s)". */
export function slideWords(slide: number, fps: number): string {
  if (slide === 0) return 'as shot';
  const n = Math.abs(slide);
  return `${n} ${n === 1 ? 'frame' : 'frames'} ${slide > 0 ? 'later' : 'earlier'} (${(n / fps).toFixed(2)} s)`;
}
