import type { Asked, Decide, Finding, JudgedTake, Outcome } from '../../judge/measure';
import { sharedOf } from '../../base/geometry/boxes';
import type { Box } from '../../report/types';
import type { RequirementKind } from '../../tricks/types';
import type { Zone } from '../../tricks/zones';
import { isInside } from '../../base/geometry/outline';
import { LIMITS } from '../../judge/limits';
import {
  judgeContents,
  judgeOneRoll,
  judgeSameLight,
  judgeSamePosition,
  pairOf,
  type PairSide,
  type TakePair,
  type TakesGap,
} from './takes-apart';
import { worstOf } from '../../judge/verdicts';

/** The measure that holds two takes against each other. */
export const COMPARE_KEY = 'compare';

/** The comparisons among what is known of some takes. */
export function pairsAmong(outcomes: readonly Outcome[]): TakePair[] {
  return outcomes.flatMap(({ measure, takes: [takeId, againstId], state, failure, result }) =>
    measure === COMPARE_KEY ? [{ takeId, againstId, state, failure, gap: result as TakesGap | null }] : [],
  );
}

const sideOf = ({ id, name, number, facts }: JudgedTake): PairSide => ({ id, name, number, media: facts.media });

/** What a plate shows beside each other take of its trick that it should not. */
export function contentsBeside({ among, outcomes, requirement }: Asked, plate: JudgedTake): Finding[] {
  const pairs = pairsAmong(outcomes);
  const { zone } = requirement;
  return among.flatMap((other) => {
    const gap = other.id === plate.id ? null : pairOf(pairs, other.id, plate.id)?.gap;
    if (!gap) return [];
    // In its zone a plate of afterwards lacks what the pass is about.
    const beside = (b: Box) => !zone || !liesIn(b, zone, other.facts.media);
    const rest = { ...gap, moved: gap.moved.filter(beside), intruders: gap.intruders.filter(beside) };
    return judgeContents(sideOf(other), sideOf(plate), rest) ?? [];
  });
}

/** Whether a box shares anything with a zone. */
function liesIn(box: Box, zone: Zone, { width, height }: { width: number; height: number }): boolean {
  const [xs, ys] = [0, 1].map((axis) => zone.map((corner) => corner[axis]));
  const [x, y] = [Math.min(...xs) * width, Math.min(...ys) * height];
  const drawn = { x, y, width: Math.max(...xs) * width - x, height: Math.max(...ys) * height - y };
  return sharedOf(box, drawn) > 0;
}

/** What to do where a zone is missing. */
export const DRAW_IT = 'Draw the zone on the reference picture: then every take is judged by it.';

type JudgePair = (asked: Asked, a: PairSide, b: PairSide, gap: TakesGap) => Finding;

/** Decides what two or more takes must have in common, by the worst of their pairs. */
const byPairs =
  (judge: JudgePair): Decide =>
  (asked) => {
    const { requirement: r, takes, outcomes } = asked;
    const pairs = pairsAmong(outcomes);
    const found: Finding[] = [];
    let pending = false;
    takes.forEach((first, i) =>
      takes.slice(i + 1).forEach((second) => {
        if (first.id === second.id) return;
        const [a, b] = [sideOf(first), sideOf(second)];
        const pair = pairOf(pairs, a.id, b.id);
        if (!pair || pair.state === 'waiting' || pair.state === 'working') pending = true;
        else if (pair.gap) found.push(judge(asked, a, b, pair.gap));
        else {
          const why = pair.failure ?? 'the reason is not known';
          const text = `${a.name} and ${b.name} could not be compared: ${why}`;
          found.push({ verdict: 'unjudged', text, fix: r.remedySet });
        }
      }),
    );
    // What already says reshoot need not wait for the rest.
    const worst = worstOf(found);
    if (pending && worst?.verdict !== 'reshoot') return 'pending';
    return worst ?? { verdict: 'holds', text: 'one recording', fix: null };
  };

/** Requirements that holding takes against each other decides. */
export const PAIR_REQUIREMENTS: Partial<Record<RequirementKind, Decide>> = {
  'same-position': byPairs(({ requirement: r, delivery }, a, b, gap) =>
    judgeSamePosition(a, b, gap, r.tolerance ?? LIMITS.plate.offset_px, delivery),
  ),
  'same-light': byPairs(({ requirement: r }, a, b, gap) =>
    judgeSameLight(a, b, gap, r.tolerance ?? LIMITS.plate.light_stops),
  ),
  'same-outside': byPairs(({ requirement: { zone } }, a, b, gap) => {
    if (!zone) return { verdict: 'unjudged', text: 'the opening is not drawn yet', fix: DRAW_IT };
    const { media } = a;
    const outside = (box: Box) => {
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
      return !media || !isInside(zone, x / media.width, y / media.height);
    };
    // Whoever stands in the first alone plays there; what the second has besides is too much.
    const beside = { ...gap, intruders: gap.intruders.filter(outside), moved: gap.moved.filter(outside) };
    const found = judgeContents(a, b, beside);
    if (!found)
      return { verdict: 'holds', text: `${a.name} and ${b.name} are the same outside the opening`, fix: null };
    return {
      ...found,
      text: `outside the opening ${found.text}`,
      fix: 'Put it back as it was, and roll the later one again.',
    };
  }),
  'one-roll': byPairs(({ delivery }, a, b, gap) => judgeOneRoll(a, b, gap, delivery)),
};
